import { newPicture, type Codes, type Picture } from '../image';
import { decodeValue, encodeValue } from '../image/transfer';
import * as s from '../shot';
import type { Shot } from '../shot';
import { FrameRenderer } from './renderFrame';
import type { Sources } from './sources';

/* A wall that becomes brighter from left to right; its clean plate has a stain, and was filmed in other light; somebody walks before the wall. */
const W = 128,
  H = 96,
  STAIN = [60, 40, 12] as const,
  LIGHT = [1.25, 1, 0.8] as const;
const wallAt = (x: number) => 0.1 + (0.3 * x) / W;

function frameOf(name: string, frame: number): Codes {
  const data = new Uint16Array(W * H * 3);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const stain = name === 'clean' && Math.hypot(x - STAIN[0], y - STAIN[1]) < STAIN[2] - 4,
        walker = name === 'walk' && Math.abs(x - 10 - 10 * frame) < 8 && y > 20;
      for (let c = 0; c < 3; c++) {
        const light =
          (stain ? 0.02 : walker ? 0.6 : wallAt(x)) *
          (name === 'other light' ? 1 / LIGHT[c]! : 1) *
          (name === 'walk' ? 1 + 0.02 * frame : 1);
        data[(y * W + x) * 3 + c] = Math.round(65535 * encodeValue(light));
      }
    }
  return { width: W, height: H, channels: 3, bits: 16, data };
}
const sources: Sources = { frame: (clip, frame) => Promise.resolve(frameOf(clip.name, frame)), samples: () => Promise.resolve([]) };
const clip = (name: string, role: s.Clip['role'], frames: number): s.NewClip => ({
  ...{ name, role, media: { path: name }, width: W, height: H, frames, rate: { num: 24, den: 1 } },
  ...{ alpha: false, bits: 16, transfer: 'srgb', start: 1001 },
});
const apply = (shot: Shot, ...edits: s.Edit[]) => edits.reduce((now, edit) => s.applyEdit(now, edit).shot, shot);
const shotWith = (clean: string) =>
  apply(
    s.newShot({ code: 'wall', width: W, height: H, rate: { num: 24, den: 1 }, frames: 12 }),
    s.addClip(clip('walk', 'performance', 12), 'c1'),
    s.addClip(clip(clean, 'clean', 1), 'c2'),
  );
const renderer = new FrameRenderer(sources, { width: W, height: H }, 64 * 2 ** 20);
const seen = (shot: Shot, what: string, frame = 1001, factor: 1 | 2 = 1) =>
  renderer.renderFrame({ shot, frame, plain: what, factor }, (p: Picture) => ({
    ...newPicture(p.width, p.height),
    data: Float32Array.from(p.data),
  }));
const at = (p: Picture, x: number, y: number, c = 0) => p.data[(y * p.width + x) * 4 + c]!;
const stroke = (change: Partial<s.Repair> = {}): Omit<s.Repair, 'id'> => ({
  ...{ points: [[STAIN[0], STAIN[1]]], radius: STAIN[2] + 6, softness: 40, clip: 'c1', frame: 11, offset: [0, 0], matched: true },
  ...change,
});

describe('a repair', () => {
  const light = (frame: number) => 1 + 0.02 * frame;
  test('lays the pixels of another clip’s frame over a place, matched in light, and changes nothing elsewhere', async () => {
    const before = shotWith('clean'),
      after = apply(before, s.addRepair('c2', stroke())),
      [dirty, mended] = [await seen(before, 'c2'), await seen(after, 'c2')];
    expect(at(dirty, STAIN[0], STAIN[1])).toBeLessThan(0.03);
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const far = Math.hypot(x + 0.5 - STAIN[0], y + 0.5 - STAIN[1]) >= STAIN[2] + 6;
        if (far) expect(at(mended, x, y)).toBe(at(dirty, x, y));
        // Frame 11 is 22 % brighter, which matching takes out again.
        else expect(Math.abs(at(mended, x, y) - wallAt(x))).toBeLessThan(0.006);
      }
    const unmatched = await seen(apply(before, s.addRepair('c2', stroke({ matched: false }))), 'c2');
    expect(at(unmatched, STAIN[0], STAIN[1]) / wallAt(STAIN[0])).toBeCloseTo(light(11), 2);
  });
  test('takes its pixels from beside the place, and from the same clip', async () => {
    const mended = await seen(
      apply(shotWith('clean'), s.addRepair('c2', stroke({ clip: null, frame: 0, offset: [40, 0], matched: false, softness: 0 }))),
      'c2',
    );
    expect(at(mended, STAIN[0], STAIN[1])).toBeCloseTo(wallAt(STAIN[0] + 40), 3);
  });
  test('of a moving clip takes another time of it', async () => {
    const mended = apply(
      shotWith('clean'),
      s.addRepair('c1', {
        ...stroke({ clip: null, frame: 5, matched: false, softness: 0 }),
        points: [
          [10, 30],
          [10, 90],
        ],
      }),
    );
    // At 1001 the walker stands at 10; five frames later there is wall.
    expect(at(await seen(mended, 'c1'), 10, 60)).toBeCloseTo(wallAt(10) * light(5), 3);
    expect(at(await seen(shotWith('clean'), 'c1'), 10, 60)).toBeCloseTo(0.6, 2);
  });
  test('looks the same in a draft, and is taken back by its edit', async () => {
    const after = apply(shotWith('clean'), s.addRepair('c2', stroke())),
      half = await seen(after, 'c2', 1001, 2);
    expect(Math.abs(at(half, STAIN[0] / 2, STAIN[1] / 2) - wallAt(STAIN[0]))).toBeLessThan(0.01);
    const back = await seen(apply(after, s.removeRepair('c2', 'p1')), 'c2');
    expect(at(back, STAIN[0], STAIN[1])).toBeLessThan(0.03);
    expect(s.readShot(after)).toEqual(after);
    // A source that was removed takes its strokes along.
    expect(apply(after, s.remove('clip', 'c1')).clips.c2!.repairs).toEqual([]);
  });
});

test('a clean plate in other light follows the performance frame by frame, whoever stands in it', async () => {
  const shot = shotWith('other light'),
    plain = await seen(shot, 'c2', 1006),
    matched = apply(shot, s.changeClip('c2', { matchLight: true }));
  expect(at(plain, 100, 50)).toBeCloseTo(decodeValue(encodeValue(wallAt(100) / LIGHT[0])), 2);
  for (const frame of [1001, 1006, 1012]) {
    const filmed = await seen(matched, 'c1', frame),
      clean = await seen(matched, 'c2', frame);
    for (const [x, y] of [
      [30, 10],
      [100, 10],
      [120, 5],
    ] as const)
      for (let c = 0; c < 3; c++) expect(Math.abs(at(clean, x, y, c) / at(filmed, x, y, c) - 1)).toBeLessThan(0.01);
  }
  // A plate that becomes the clean plate follows the light by itself; one that was built has it already.
  expect(
    apply(shotWith('clean'), s.changeClip('c2', { role: 'element' }), s.changeClip('c2', { role: 'clean' })).clips.c2!.matchLight,
  ).toBe(true);
});
