import { Arena, exactMath, fractal2, normal, type Picture, type Plane } from '../image';
import { steadied } from './steadied';

const arena = new Arena(64 * 2 ** 20),
  W = 160,
  H = 120,
  { hypot } = exactMath;
/** Where the disc is on a frame: it moves over a still background. */
const place = (frame: number): [number, number] => [70 + 2.6 * frame, 60 - 1.4 * frame];
/** The disc's picture: its own texture moves with it. Of half the size, as it is measured. */
function picture(frame: number): Picture {
  const p = arena.takePicture(W / 2, H / 2),
    [mx, my] = place(frame);
  for (let y = 0, i = 0; y < H / 2; y++)
    for (let x = 0; x < W / 2; x++, i += 4) {
      const [px, py] = [2 * x + 1, 2 * y + 1],
        inside = hypot(px - mx, py - my) < 30,
        v = inside ? 0.35 + 0.4 * fractal2((px - mx) / 9, (py - my) / 9, 3, 5) : 0.08 + 0.25 * fractal2(px / 17, py / 17, 3, 9);
      p.data.fill(Math.max(0, v + 0.006 * normal(x + 211 * y, frame, 3)), i, i + 3);
      p.data[i + 3] = 1;
    }
  return p;
}
/** Its matte, with an edge that is off by some pixels. */
function matte(frame: number, off: number): Plane {
  const p = arena.takePlane(W, H),
    [mx, my] = place(frame);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) p.data[y * W + x] = Math.min(1, Math.max(0, 30.5 + off - hypot(x + 0.5 - mx, y + 0.5 - my)));
  return p;
}
const off = (a: Plane, b: Plane) => a.data.reduce((sum, v, i) => sum + Math.abs(v - b.data[i]!), 0);
/** The middle frame of five, whose edges jitter by these pixels. */
function held(jitter: readonly number[], strength = 1, change?: (m: Plane) => void): { error: number; before: number } {
  const mattes = jitter.map((by, i) => matte(i - 2, by)),
    own = mattes[2]!,
    truth = matte(0, 0);
  change?.(own);
  const before = off(own, truth),
    halves = jitter.map((_, i) => picture(i - 2)),
    near = [0, 1, 3, 4].map((i) => ({ matte: mattes[i]!, half: halves[i]! })),
    out = steadied(own, halves[2]!, near, strength, arena),
    error = off(out, truth);
  for (const p of [...mattes, ...halves, truth]) arena.give(p);
  return { error, before };
}
afterEach(() => expect(arena.inUse).toBe(0));

test('an edge that jitters is held where most frames have it, along the motion', () => {
  const { error, before } = held([0.4, -0.5, 1.6, 0.3, -0.2]);
  expect(before).toBeGreaterThan(280);
  expect(error).toBeLessThan(0.4 * before);
});
test('a hole of one frame is closed; with no strength nothing changes', () => {
  const hole = (m: Plane) => {
    for (let y = 50; y < 70; y++) m.data.fill(0, y * W + 60, y * W + 80);
  };
  expect(held([0, 0, 0, 0, 0], 1, hole).error).toBeLessThan(60);
  expect(held([0, 0, 0, 0, 0], 1e-9, hole).error).toBeCloseTo(held([0, 0, 0, 0, 0], 1e-9, hole).before, 2);
});
test('an edge that is right on every frame stays where it is', () => {
  // Of 190 px of edge, less than a tenth of a pixel.
  expect(held([0, 0, 0, 0, 0]).error).toBeLessThan(25);
});
