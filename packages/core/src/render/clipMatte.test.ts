import { apply, smallShot, smallSources } from '../../test/smallShot';
import { MatteMeter } from '../motion';
import * as s from '../shot';
import { FrameRenderer } from './renderFrame';

const rendererOf = (shot: s.Shot) => new FrameRenderer(smallSources(), shot, 64 * 2 ** 20, undefined, false);

test("a matte in its clip's own picture is where the body is in the clip, wherever that was moved; a track on it follows the clip", async () => {
  const shot = smallShot(),
    clip = s.matteClip(shot, shot.mattes.k1!)!,
    moved = apply(shot, s.setPlaced({ kind: 'clip', id: clip.id }, 'place', [9, 4])),
    middle = (of: s.Shot) =>
      rendererOf(of).renderClipMatte(of, 'k1', 3, 1, (plane) => {
        const { x, y } = new MatteMeter('in its middle').at(plane, 3);
        return [x!, y!] as const;
      }),
    [x, y] = await middle(shot),
    inShot = await rendererOf(moved).renderMatte(moved, 'k1', s.shotFrame(moved, clip, 3)!, 1, (plane) => {
      const there = new MatteMeter('in its middle').at(plane, 3);
      return [there.x!, there.y!] as const;
    });
  expect(await middle(moved)).toEqual([x, y]);
  expect(inShot[0] - x).toBeCloseTo(9, 0);
  expect(inShot[1] - y).toBeCloseTo(4, 0);
});
test('a matte that is not there is told', async () => {
  const shot = smallShot();
  await expect(rendererOf(shot).renderClipMatte(shot, 'k9', 0, 1, () => 0)).rejects.toThrow('There is no matte "k9"');
});
