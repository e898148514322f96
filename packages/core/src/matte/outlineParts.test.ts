import { Arena } from '../image';
import { outlineCoverage } from './outline';
import { shapeAt, type OutlineKey } from './outlineKeys';
import { brokenKeys, joinedKeys, simplifiedKeys } from './outlineParts';
import { corner, splitCurve, type Vertex } from './vertex';

const arena = new Arena(16 * 2 ** 20),
  key = (frame: number, vertices: Vertex[]): OutlineKey => ({ frame, ease: 'linear', sure: null, vertices }),
  square = (x: number, y: number, side: number) => [corner(x, y), corner(x + side, y), corner(x + side, y + side), corner(x, y + side)];
/** The area of a shape, square pixels. */
function area(vertices: Vertex[]): number {
  const p = outlineCoverage(vertices, { feather: 0, grow: 0 }, 1, 120, 100, arena),
    sum = p.data.reduce((n, v) => n + v, 0);
  arena.give(p);
  return sum;
}
/** A circle of four vertices, with each of its ways split in two so often. */
function circle(x: number, y: number, r: number, splits: number): Vertex[] {
  const k = 0.5522847498 * r,
    v = (px: number, py: number, tx: number, ty: number): Vertex => ({ ...corner(px, py), in: [-tx * k, -ty * k], out: [tx * k, ty * k] });
  let shape = [v(x, y - r, 1, 0), v(x + r, y, 0, 1), v(x, y + r, -1, 0), v(x - r, y, 0, -1)];
  for (let s = 0; s < splits; s++) {
    const more: Vertex[] = [];
    let now = [...shape];
    shape.forEach((_, i) => {
      const next = (i + 1) % now.length,
        [a, middle, b] = splitCurve(now[i]!, now[next]!, 0.5);
      now = now.map((w, at) => (at === i ? a : at === next ? b : w));
      more.push(middle);
    });
    shape = now.flatMap((w, i) => [w, more[i]!]);
  }
  return shape;
}

test('an outline is made simpler on all of its keys at once, and its line stays within what it may move', () => {
  const keys = [key(0, circle(50, 50, 30, 2)), key(10, circle(64, 46, 24, 2))],
    simple = simplifiedKeys(keys, 0.5);
  expect(keys[0]!.vertices).toHaveLength(16);
  expect(simple[0]!.vertices.length).toBeLessThanOrEqual(5);
  for (const [i, r] of [30, 24].entries()) expect(Math.abs(area(shapeAt(simple, 10 * i)) / (Math.PI * r * r) - 1)).toBeLessThan(0.02);
  // Corners that make the shape stay; a vertex on a straight line goes.
  const box = square(20, 20, 40);
  box.splice(1, 0, corner(35, 20));
  expect(simplifiedKeys([key(0, box)], 0.5)[0]!.vertices.map((v) => [v!.x, v!.y])).toEqual(square(20, 20, 40).map((v) => [v.x, v.y]));
  // One that only another key needs stays too.
  const bent = [...box];
  bent[1] = corner(35, 8);
  expect(simplifiedKeys([key(0, box), key(5, bent)], 0.5)[0]!.vertices).toHaveLength(5);
});
test('broken at two points, both halves together have the area of the whole on every key', () => {
  const keys = [key(0, circle(50, 50, 30, 1)), key(8, circle(60, 45, 20, 1))],
    [a, b] = brokenKeys(keys, 5, 1)!;
  for (const frame of [0, 8]) expect(area(shapeAt(a, frame)) + area(shapeAt(b, frame))).toBeCloseTo(area(shapeAt(keys, frame)), 0);
  expect(brokenKeys(keys, 2, 3)).toBeNull();
  expect(brokenKeys(keys, 0, 7)).toBeNull();
});
test('two outlines that are joined have the area of both, whichever way round they run, and the keys of both', () => {
  const left = [key(0, square(10, 10, 30)), key(6, square(14, 10, 30))],
    right = [key(3, [...square(60, 20, 25)].reverse())],
    joined = joinedKeys(left, right);
  expect(joined.map((k) => k.frame)).toEqual([0, 3, 6]);
  for (const k of joined) expect(area(shapeAt(joined, k.frame))).toBeCloseTo(30 * 30 + 25 * 25, 0);
});
