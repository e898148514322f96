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
test('drawn lines around an area come along where they are wanted, no wider than they are, and none elsewhere', () => {
  const arena = new Arena(2 ** 20),
    p = newPicture(60, 40),
    ink = [0.05, 0.04, 0.06],
    fur = [0.85, 0.42, 0.2],
    paper = [0.9, 0.9, 0.86];
  // A box of fur with a line of 3 px around it, and another line apart from it.
  for (let y = 0; y < 40; y++)
    for (let x = 0; x < 60; x++) {
      const inside = x >= 20 && x < 40 && y >= 10 && y < 30,
        line = !inside && x >= 17 && x < 43 && y >= 7 && y < 33,
        colour = inside ? fur : line || x === 55 ? ink : paper;
      p.data.set([...colour.map((v) => v * v), 1], 4 * (y * 60 + x));
    }
  const of = (lines: { width: number; shade: number } | null) =>
      colourArea(p, { colour: [0.85, 0.42, 0.2], similarity: 6, connected: null, lines }, arena),
    row = (m: { data: Float32Array }) => [15, 17, 19, 25, 41, 43, 55].map((x) => Math.round(m.data[20 * 60 + x]!));
  expect(row(of(null))).toEqual([0, 0, 0, 1, 0, 0, 0]);
  expect(row(of({ width: 8, shade: 0.35 }))).toEqual([0, 1, 1, 1, 1, 0, 0]);
  expect(row(of({ width: 1, shade: 0.35 }))).toEqual([0, 0, 1, 1, 0, 0, 0]);
});
