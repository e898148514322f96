import { newPlane } from '../image';
import { paintedAt, paintOver, type PaintedStroke } from './painted';

const stroke = (over: Partial<PaintedStroke>): PaintedStroke => ({
  ...{ id: 'p1', mode: 'add', first: 3, last: 5, radius: 6, softness: 0 },
  ...{
    points: [
      [20, 20],
      [60, 20],
      [60, 50],
    ],
  },
  ...over,
});
const filled = (width: number, height: number) => {
  const plane = newPlane(width, height);
  plane.data.fill(0.8);
  return plane;
};
const distance = (x: number, y: number) =>
  Math.min(Math.hypot(x - Math.min(60, Math.max(20, x)), y - 20), Math.hypot(x - 60, y - Math.min(50, Math.max(20, y))));

test('a stroke counts from its first frame to its last', () => {
  const strokes = [stroke({}), stroke({ id: 'p2', first: 5, last: 9 })];
  expect([2, 3, 5, 6, 10].map((frame) => paintedAt(strokes, frame).map((s) => s.id))).toEqual([[], ['p1'], ['p1', 'p2'], ['p2'], []]);
});
test('every pixel within the brush is added and no other one; softly where it is soft', () => {
  const hard = newPlane(90, 70),
    soft = newPlane(90, 70);
  paintOver(hard, [stroke({})], 1);
  paintOver(soft, [stroke({ softness: 100 })], 1);
  for (let y = 0; y < 70; y++)
    for (let x = 0; x < 90; x++) {
      const d = distance(x + 0.5, y + 0.5);
      expect(hard.data[y * 90 + x]).toBe(d < 6 - 1e-5 ? 1 : 0);
      const t = Math.min(1, d / 6);
      expect(soft.data[y * 90 + x]).toBeCloseTo(1 - t * t * (3 - 2 * t), 3);
    }
});
test('what is taken away and painted in again is there; half the size is the same at half the size', () => {
  const whole = filled(90, 70),
    half = filled(45, 35),
    strokes = [stroke({ mode: 'take away' }), stroke({ points: [[60, 40]], radius: 3 })];
  paintOver(whole, strokes, 1);
  paintOver(half, strokes, 0.5);
  expect(whole.data[20 * 90 + 40]).toBe(0);
  expect(whole.data[40 * 90 + 60]).toBe(1);
  expect(whole.data[60 * 90 + 10]).toBeCloseTo(0.8, 6);
  expect(half.data[10 * 45 + 20]).toBe(0);
  expect(half.data[20 * 45 + 30]).toBe(1);
  // Beside the picture there is nothing to paint.
  const before = [...whole.data];
  paintOver(whole, [stroke({ points: [[-40, 900]] })], 1);
  expect([...whole.data]).toEqual(before);
});
