import { smallShot } from '../../test/smallShot';
import {
  addOutline,
  addTrack,
  applyEdit,
  readShot,
  replaceMedium,
  replaceProblem,
  replaceWords,
  splitClip,
  type MediumFacts,
} from './index';

const facts = (change: Partial<MediumFacts> = {}): MediumFacts => {
  const { width, height, frames, rate } = smallShot().clips.c1!;
  return { width, height, frames, frameRate: rate, alpha: false, bitDepth: 8, transfer: 'srgb', ...change };
};
const media = { hash: 'a'.repeat(64) };

test('a newer version takes the place of a clip in all of its parts, and all that was measured and drawn stays', () => {
  const shot = [
      addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 20] as [number, number], frame: 0 }),
      addOutline('k1', 'add', [
        [0, 0],
        [9, 0],
        [9, 9],
      ]),
      splitClip(smallShot(), 'c1', 1004, 'c9'),
    ].reduce((s, e) => applyEdit(s, e).shot, smallShot()),
    after = applyEdit(shot, replaceMedium('c1', media, facts({ frames: 14 }))).shot;
  expect(after.clips.c1).toMatchObject({ media, frames: 14, name: shot.clips.c1!.name, placed: shot.clips.c1!.placed });
  expect(after.clips.c9).toMatchObject({ media, frames: 14, continues: 'c1' });
  expect(after.tracks).toEqual(shot.tracks);
  expect(after.mattes).toEqual(shot.mattes);
  expect(readShot(after)).toEqual(after);
});
test('how its codes are read is kept, and follows the file where that is of another depth', () => {
  const shot = smallShot(),
    own = { ...shot, clips: { ...shot.clips, c1: { ...shot.clips.c1!, transfer: 'rec709' as const } } };
  expect(applyEdit(own, replaceMedium('c1', media, facts())).shot.clips.c1!.transfer).toBe('rec709');
  const floats = applyEdit(own, replaceMedium('c1', media, facts({ bitDepth: 32, transfer: 'linear' }))).shot.clips.c1!;
  expect([floats.transfer, floats.bits]).toEqual(['linear', 32]);
});
test('what differs is told in words; another size is refused', () => {
  const clip = smallShot().clips.c1!;
  expect(replaceWords(clip, facts())).toBe('');
  expect(replaceWords(clip, facts({ frames: clip.frames + 1, bitDepth: 16, alpha: true }))).toBe(
    'It is 1 frame longer. It has 16 bit in place of 8 bit. It has alpha.',
  );
  expect(replaceWords(clip, facts({ frames: clip.frames - 2, frameRate: { num: 25, den: 1 } }))).toMatch(
    /2 frames shorter.+Its rate is 25 frames/,
  );
  expect(replaceProblem(clip, facts())).toBeNull();
  expect(replaceProblem(clip, facts({ width: 99 }))).toMatch(/It is 99 x 48 and .+ would stand elsewhere/);
  expect(applyEdit(smallShot(), replaceMedium('c1', media, facts({ width: 99 }))).shot).toEqual(smallShot());
});
