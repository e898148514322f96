import { drawScene } from '../../test/texturedScene';
import { Arena, meanHalf, type Picture, type Plane } from '../image';
import { motionBetween, motionField, pictureBetween } from './between';

const W = 480,
  H = 300,
  arena = new Arena(64 * 2 ** 20);
/** A textured disc that moves, turns and grows before a still surface, as it stands at a time. */
const at = (time: number): Plane =>
  drawScene({ at: (t) => ({ x: 190 + 18 * t, y: 150 - 7 * t, degrees: 9 * t, scale: 1 + 0.03 * t }) }, time, { width: W, height: H });
function asPicture(plane: Plane): Picture {
  const out = arena.takePicture(W, H);
  plane.data.forEach((v, p) => out.data.set([v * v, v * v, v * v, 1], 4 * p));
  return out;
}
function error(a: Picture, b: Picture): number {
  let sum = 0;
  for (let i = 0; i < a.data.length; i += 4) {
    const d = Math.sqrt(Math.max(0, a.data[i]!)) - Math.sqrt(b.data[i]!);
    sum += d * d;
  }
  return Math.sqrt(sum / (a.data.length / 4));
}
const between = (a: Picture, b: Picture, part: number): Picture => {
  const [x, y] = [meanHalf(a, arena), meanHalf(b, arena)];
  return pictureBetween(a, b, motionBetween(x, y, arena), part, arena);
};

test('the motion of every part is found: the disc as it moved, turned and grew, and the rest still', () => {
  const field = motionField(at(0), at(1), arena);
  let worst = 0;
  for (let r = 0; r < field.rows; r++)
    for (let c = 0; c < field.columns; c++) {
      const x = (c + 0.5) * field.step - 190,
        y = (r + 0.5) * field.step - 150,
        far = Math.sqrt(x * x + y * y),
        // What the disc will cover goes nowhere that could be seen.
        covered = Math.sqrt((x - 18) * (x - 18) + (y + 7) * (y + 7)) < 125;
      if (far > 98 && (far < 125 || covered)) continue;
      const [a, s] = [(9 * Math.PI) / 180, 1.03],
        wanted = far > 98 ? [0, 0] : [18 + s * (x * Math.cos(a) - y * Math.sin(a)) - x, -7 + s * (x * Math.sin(a) + y * Math.cos(a)) - y],
        i = (r * field.columns + c) * 2;
      worst = Math.max(worst, Math.hypot(field.shift[i]! - wanted[0]!, field.shift[i + 1]! - wanted[1]!));
    }
  expect(worst).toBeLessThan(0.8);
});

test.each([0.25, 0.5, 0.8])('a picture at %d of the way is less than half as wrong as one that is only mixed', (part) => {
  const [a, b, truth] = [asPicture(at(0)), asPicture(at(1)), asPicture(at(part))],
    moved = between(a, b, part),
    mixed = arena.takePicture(W, H);
  for (let i = 0; i < mixed.data.length; i++) mixed.data[i] = a.data[i]! * (1 - part) + b.data[i]! * part;
  const [e, m] = [error(moved, truth), error(mixed, truth)];
  expect(e).toBeLessThan(m / 2.2);
  expect(e).toBeLessThan(0.02);
  for (const picture of [a, b, truth, moved, mixed]) arena.give(picture);
});

test('a still picture stays what it is, and all memory comes back', () => {
  const own = new Arena(64 * 2 ** 20),
    still = own.takePicture(W, H);
  at(0).data.forEach((v, p) => still.data.set([v, v, v, 1], 4 * p));
  const before = own.inUse,
    half = meanHalf(still, own),
    out = pictureBetween(still, still, motionBetween(half, half, own), 0.4, own);
  expect(error(out, still)).toBeLessThan(1e-5);
  own.give(half);
  own.give(out);
  expect(own.inUse).toBe(before);
});
