import { Arena, newPicture, type Picture } from '../image';
import type { Homography } from '../image/warp';
import { drawPlaced } from './draw';
import { drawMoving, shutterMaps } from './moving';

const arena = new Arena(64 * 2 ** 20),
  [W, H] = [120, 40];
afterEach(() => arena.reset());
const to = (x: number, y = 10): Homography => [1, 0, x, 0, 1, y, 0, 0, 1],
  white = (): Picture => {
    const out = newPicture(30, 12);
    out.data.fill(1);
    return out;
  },
  row = (p: Picture, y = 16) => Array.from({ length: W }, (_, x) => p.data[4 * (y * W + x) + 3]!);

test('what stands still, has no shutter, or moves by less than half a pixel is drawn as it is, to the bit', () => {
  const plain = drawPlaced(white(), to(40), W, H, arena);
  for (const moving of [
    { before: to(40), after: to(40), open: 1 },
    { before: to(20), after: to(60), open: 0 },
    { before: to(39.8), after: to(40.2), open: 0.5 },
    { before: null, after: null, open: 1 },
  ])
    expect([...drawMoving(white(), to(40), moving, W, H, arena).data]).toEqual([...plain.data]);
});
test('an even move is the mean over the open shutter: edges are ramps as long as it goes, the middle and the total stay', () => {
  const blurred = drawMoving(white(), to(40), { before: to(20), after: to(60), open: 0.5 }, W, H, arena),
    cover = row(blurred);
  // 20 px a frame at 180 degrees: 10 px, half of them before the frame.
  for (let x = 0; x < W; x++) {
    const ramp = (edge: number) => Math.min(1, Math.max(0, (x + 0.5 - edge) / 10 + 0.5));
    expect(Math.abs(cover[x]! - (ramp(40) - ramp(70)))).toBeLessThan(0.11);
  }
  const sum = cover.reduce((a, b) => a + b, 0);
  expect(sum).toBeCloseTo(30, 2);
  expect(cover.reduce((a, v, x) => a + v * (x + 0.5), 0) / sum).toBeCloseTo(55, 2);
  // Against a mean of many more moments.
  let off = 0;
  const fine = new Float32Array(W);
  for (let k = 0; k < 200; k++)
    row(drawPlaced(white(), to(40 + 10 * ((k + 0.5) / 200 - 0.5)), W, H, arena)).forEach((v, x) => (fine[x]! += v / 200));
  for (let x = 0; x < W; x++) off = Math.max(off, Math.abs(fine[x]! - cover[x]!));
  expect(off).toBeLessThan(0.06);
});
test('a turn is blurred too: a bar is sharp at its middle and soft at its ends', () => {
  const turned = (degrees: number): Homography => {
      const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
      return [c, -s, 60 - 15 * c + 6 * s, s, c, 20 - 15 * s - 6 * c, 0, 0, 1];
    },
    blurred = drawMoving(white(), turned(0), { before: turned(-20), after: turned(20), open: 1 }, W, H, arena),
    column = (x: number) =>
      Array.from({ length: H }, (_, y) => blurred.data[4 * (y * W + x) + 3]!).filter((v) => v > 0.02 && v < 0.98).length;
  expect(column(60)).toBeLessThanOrEqual(4);
  expect(column(73)).toBeGreaterThanOrEqual(5);
});
test('a jump is not smeared: the side on which it is a leap counts as still', () => {
  const size = { width: W, height: H };
  expect(shutterMaps(to(40), { before: to(-60), after: to(40), open: 1 }, 30, 12, size)).toHaveLength(1);
  expect(shutterMaps(to(40), { before: to(-60), after: to(46), open: 1 }, 30, 12, size).every((m) => m[2] > 39.9)).toBe(true);
  // A fast move that goes on is none.
  expect(Math.min(...shutterMaps(to(40), { before: to(0), after: to(80), open: 1 }, 30, 12, size).map((m) => m[2]))).toBeLessThan(25);
});
