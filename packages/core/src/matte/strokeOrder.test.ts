import { newPlane, type Plane } from '../image';
import { cellAt } from './alongBody';
import { orderByStrokes, type OrderStroke } from './strokeOrder';

/** A bar with an arm that is bent back beside it: over the gap it is near, along the body far. */
function body(): Plane {
  const p = newPlane(400, 400),
    box = (x0: number, y0: number, x1: number, y1: number) => {
      for (let y = y0; y < y1; y++) p.data.fill(1, y * 400 + x0, y * 400 + x1);
    };
  box(100, 40, 160, 360);
  box(160, 40, 260, 80);
  box(220, 40, 260, 360);
  return p;
}
const across = (y: number, order: number, x0 = 100, x1 = 160): OrderStroke => ({
  order,
  points: [
    [x0, y],
    [x1, y],
  ],
});

test('between two lines across a bar the order runs evenly, and it goes on beyond them', () => {
  const field = orderByStrokes(body(), 1, [across(120, 0.2), across(300, 0.8)], 400),
    at = (y: number) => cellAt(field, 130, y);
  for (const y of [150, 180, 210, 240, 270]) expect(at(y)).toBeCloseTo(0.2 + (0.6 * (y - 120)) / 180, 1.6);
  // A pixel or two of half a cell: the lines are as wide as one.
  expect(Math.abs(at(120) - 0.2)).toBeLessThan(0.02);
  expect(at(350)).toBeGreaterThan(0.9);
  expect(at(60)).toBeLessThan(at(100) - 0.01);
  // The arm hangs on this end: its last part is not reached before the beginning.
  expect(cellAt(field, 240, 350)).toBeGreaterThan(-0.02);
  expect(cellAt(field, 240, 350)).toBeLessThan(0.03);
});
test('the arm beside it is reached along the body, not over the gap', () => {
  const field = orderByStrokes(body(), 1, [across(350, 0), across(60, 0.5)], 400),
    arm = [90, 160, 230, 300].map((y) => cellAt(field, 240, y));
  // At the same height as the first stroke, but behind the shoulder: the last of all to go, and it does go.
  expect(cellAt(field, 240, 340)).toBeGreaterThan(0.8);
  expect(cellAt(field, 240, 355)).toBeLessThan(1.02);
  for (let i = 1; i < arm.length; i++) expect(arm[i]!).toBeGreaterThan(arm[i - 1]! + 0.03);
  expect(cellAt(field, 130, 200)).toBeLessThan(0.35);
});
test('a stroke between two others bends the order: each is reached at its own', () => {
  const field = orderByStrokes(body(), 1, [across(60, 0), across(120, 0.8), across(340, 1)], 400);
  for (const [y, order] of [
    [60, 0],
    [120, 0.8],
    [340, 1],
  ] as const)
    expect(Math.abs(cellAt(field, 130, y) - order)).toBeLessThan(0.05);
  expect(cellAt(field, 130, 90)).toBeCloseTo(0.4, 1);
});
test('one stroke alone spreads at the pace of the extent; half the size gives the same', () => {
  const half = newPlane(200, 200),
    whole = body();
  for (let y = 0; y < 200; y++) for (let x = 0; x < 200; x++) half.data[y * 200 + x] = whole.data[2 * y * 400 + 2 * x]!;
  const a = orderByStrokes(whole, 1, [across(200, 0.1)], 900),
    b = orderByStrokes(half, 0.5, [across(200, 0.1)], 900);
  expect(cellAt(a, 130, 300)).toBeCloseTo(0.1 + 100 / 900, 1.5);
  expect(cellAt(a, 130, 100)).toBeCloseTo(0.1 + 100 / 900, 1.5);
  for (const y of [80, 150, 250, 330]) expect(Math.abs(cellAt(a, 130, y) - cellAt(b, 130, y))).toBeLessThan(0.02);
});
test('a stroke may be painted beyond the edges of the body, or just beside it', () => {
  const field = orderByStrokes(body(), 1, [across(32, 0, 60, 330), across(300, 0.8, 20, 200)], 400),
    at = (y: number) => cellAt(field, 130, y);
  expect(Math.abs(at(46))).toBeLessThan(0.06);
  expect(Math.abs(at(300) - 0.8)).toBeLessThan(0.02);
  expect(at(170)).toBeCloseTo(0.4, 1);
  expect(at(350)).toBeGreaterThan(0.83);
});
