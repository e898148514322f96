import { Arena, newPicture } from '../image';
import { colourArea } from './colourArea';

/** Two eyes of one colour, one of another, on a transparent ground; their edges half covered. */
function drawing() {
  const p = newPicture(30, 12),
    put = (x: number, y: number, [r, g, b]: readonly [number, number, number], a: number) =>
      p.data.set([r * r * a, g * g * a, b * b * a, a], (y * 30 + x) * 4);
  const eye = [0.85, 0.94, 0.42] as const,
    coat = [0.8, 0.5, 0.2] as const;
  for (let y = 0; y < 12; y++) for (let x = 0; x < 30; x++) put(x, y, coat, y < 10 ? 1 : 0);
  for (const [left, colour] of [
    [3, eye],
    [20, eye],
    [12, [0.85, 0.94, 0.8]],
  ] as const)
    for (let y = 3; y < 7; y++) for (let x = left; x < left + 4; x++) put(x, y, colour, 1);
  // An edge pixel between eye and coat.
  put(7, 4, [0.825, 0.72, 0.31], 1);
  return p;
}
const colour = [0.85, 0.94, 0.42] as const;

test('a flat colour everywhere, with its soft edge, and nothing that only looks near', () => {
  const arena = new Arena(2 ** 20),
    m = colourArea(drawing(), { colour, similarity: 8, connected: null }, arena),
    at = (x: number, y: number) => m.data[y * 30 + x]!;
  // The square root is near to the display curve, not the same.
  expect([at(4, 4), at(21, 5)]).toEqual([1, 1]);
  expect(at(13, 4)).toBe(0);
  expect(at(10, 8)).toBe(0);
  expect(at(4, 11)).toBe(0);
  expect(at(7, 4)).toBeLessThan(1);
  expect(colourArea(drawing(), { colour, similarity: 60, connected: null }, arena).data[4 * 30 + 13]).toBe(1);
});
test('connected takes the one that is pointed at, and none where nothing is', () => {
  const arena = new Arena(2 ** 20),
    sum = (connected: [number, number]) =>
      colourArea(drawing(), { colour, similarity: 8, connected }, arena).data.reduce((n, v) => n + v, 0);
  expect(sum([4.5, 4.5])).toBeGreaterThanOrEqual(16);
  expect(sum([4.5, 4.5])).toBeLessThan(18);
  expect(sum([21, 5])).toBeCloseTo(16, 3);
  expect(sum([10, 8])).toBe(0);
  expect(sum([-5, 900])).toBe(0);
});
