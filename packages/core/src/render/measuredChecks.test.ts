import { fractal2 } from '../image';
import * as s from '../shot';
import { apply } from '../../test/smallShot';
import { measuredChecks, touches } from './measuredChecks';
import { FrameRenderer } from './renderFrame';
import type { Sources } from './sources';

const W = 192,
  H = 144;
/** A street with a figure before it, and the street alone: moved, and in another light. The green stage has a figure that is cut off below. */
function sources(beside = 0, light = 1): Sources {
  return {
    samples: () => Promise.resolve([]),
    frame(clip) {
      const data = new Uint8Array(W * H * 3),
        shift = clip.name === 'clean' ? beside : 0,
        gain = clip.name === 'clean' ? 1 : light;
      for (let y = 0; y < H; y++)
        for (let x = 0; x < W; x++) {
          const inside = clip.name !== 'clean' && x > 80 && x < 112 && y > 40,
            soft = Math.min(1, Math.max(0, Math.min(x - 79, 113 - x, y - 39) / 3)),
            wall = 60 + 120 * fractal2((x + shift) / 14, y / 14, 4, 3);
          for (let c = 0; c < 3; c++) {
            const street = inside ? [190, 120, 90][c]! : wall * (1 - 0.1 * c),
              // The stage lights the edges of who stands on it.
              lit = Math.min(x - 79, 113 - x, y - 39) < 9 ? [110, 190, 100][c]! : [170, 140, 120][c]!,
              green = [20, 170, 40][c]! * (1 - soft) + lit * soft;
            data[(y * W + x) * 3 + c] = Math.min(255, clip.name === 'stage' ? green : street * gain);
          }
        }
      return Promise.resolve({ width: W, height: H, channels: 3, bits: 8, data });
    },
  };
}
const clip = (name: string, role: s.Clip['role']): s.NewClip => ({
  ...{ name, role, media: { path: name }, width: W, height: H, frames: 6, rate: { num: 24, den: 1 }, alpha: false, bits: 8 },
  ...{ transfer: 'srgb', start: 1001 },
});
const shot = (...edits: s.Edit[]) =>
    apply(
      s.newShot({ code: 'measured', width: W, height: H, rate: { num: 24, den: 1 }, frames: 6 }),
      s.addClip(clip('performance', 'performance'), 'c1'),
      s.addClip(clip('clean', 'clean'), 'c2'),
      s.addMatte({ id: 'k1', name: 'Body', source: 'difference', clip: null }),
      s.addSubject('s1', 'Ilse', 'c1'),
      s.changeSubject('s1', { matte: 'k1', pixels: 90 }),
      ...edits,
    ),
  stage = (...edits: s.Edit[]) =>
    apply(
      s.newShot({ code: 'measured', width: W, height: H, rate: { num: 24, den: 1 }, frames: 6 }),
      s.addClip(clip('stage', 'performance'), 'c1'),
      s.addMatte({ id: 'k1', name: 'Key', source: 'chroma', clip: null }),
      s.setSourceValues('k1', { backing: '#14aa28' }),
      s.addSubject('s1', 'Ilse', 'c1'),
      s.changeSubject('s1', { matte: 'k1', pixels: 90, detached: true }),
      ...edits,
    ),
  told = async (of: s.Shot, from: Sources) =>
    (await measuredChecks(new FrameRenderer(from, of, 128 * 2 ** 20, undefined, false), of)).map((c) => c.id);

test('a plate that lies on its performance, in its light, is not told of, nor one that nothing reads', async () => {
  expect(await told(shot(), sources())).toEqual([]);
  expect(await told(shot(s.changeSubject('s1', { matte: null })), sources(4, 1.4))).toEqual([]);
});
test('a plate that lies beside it is told with how far, and one in another light with how much; where its light follows it is not', async () => {
  const renderer = new FrameRenderer(sources(3, 1), shot(), 128 * 2 ** 20, undefined, false),
    [beside] = await measuredChecks(renderer, shot());
  expect(beside).toMatchObject({ id: 'plate-beside', clip: 'c2' });
  const px = Number(/up to ([\d.]+) px/.exec(beside!.text)![1]);
  expect(px).toBeGreaterThan(2.4);
  expect(px).toBeLessThan(4.5);
  expect(await told(shot(), sources(0, 1.3))).toEqual(['plate-light']);
  expect(await told(shot(s.changeClip('c2', { matchLight: true })), sources(0, 1.3))).toEqual([]);
});
test('a body that the frame cuts off is told where it is moved; spill that is left where it is laid elsewhere', async () => {
  const moved = s.setPlaced({ kind: 'subject', id: 's1' }, 'shift', [0, -30]);
  expect(await told(stage(), sources())).toEqual([]);
  expect(await told(stage(moved), sources())).toEqual(['matte-cut']);
  expect(await told(stage(moved, s.changeSubject('s1', { detached: false })), sources())).toEqual([]);
  const kept = s.setSourceValues('k1', { spill: 0, keys: 'distance from the backing', tolerance: 20, softness: 25 });
  expect(await told(stage(kept), sources())).toEqual(['spill-left']);
  expect(await told(stage(kept, s.setSourceValues('k1', { spill: 100 })), sources())).toEqual([]);
});
test('light that runs along small holes of a matte is told where they are open, and not where they are closed or there are none', async () => {
  const aura = (holes: string, ...more: s.Edit[]) =>
      stage(
        s.changeSubject('s1', { detached: false }),
        s.refineMatte('k1', { 'fill holes': { area: 0 } }),
        s.addRow({ id: 'r1', effect: 'aura', lane: 'behind', subject: 's1', values: { holes } }),
        s.changeRow('r1', { start: 1001, length: 6 }),
        ...more,
      ),
    // A buckle of 5 px that is no body to the key.
    buckle = s.addOutline(
      'k1',
      'take away',
      [
        [92, 80],
        [97, 80],
        [97, 85],
        [92, 85],
      ],
      0,
    );
  expect(await told(aura('open'), sources())).toEqual([]);
  expect(await told(aura('open', buckle), sources())).toEqual(['veins']);
  expect(await told(aura('closed', buckle), sources())).toEqual([]);
});
test('the side that is touched is named', () => {
  const plane = { kind: 'plane' as const, width: 100, height: 60, data: new Float32Array(6000) };
  for (let y = 0; y < 60; y++) plane.data.fill(1, y * 100 + 90, y * 100 + 100);
  expect(touches(plane)).toEqual(['right', 'upper', 'lower']);
});
