import { doubtfulKeys, drawnBeyond, fromBothEnds, sureAt, withCarried, withoutCarried } from './carriedKeys';
import type { CarriedShape } from './carryOn';
import { shapeAt, withKey, type OutlineKey } from './outlineKeys';
import { corner, type Vertex } from './vertex';

const square = (x: number, y = 0): Vertex[] => [corner(x, y), corner(x + 10, y), corner(x + 10, y + 10), corner(x, y + 10)];
const drawn = (frame: number, vertices: Vertex[]): OutlineKey => ({ frame, ease: 'flows', vertices, sure: null });
const shape = (frame: number, x: number, sure = 0.9): CarriedShape => ({ frame, vertices: square(x), sure: [sure, 1, 1, 1] });

test('what was carried becomes as few keys as keep every frame, and says how sure it is', () => {
  const way = (f: number) => (f < 10 ? 3 * f : 30 + 0.1 * (f - 10) * (f - 10)),
    shapes = Array.from({ length: 31 }, (_, f) => shape(f, way(f), f === 20 ? 0.1 : 0.9)),
    keys = withCarried([drawn(0, square(0))], shapes);
  expect(keys.length).toBeLessThan(14);
  // The way from the drawn key is as that one says; all others are even.
  const even = keys.map((k) => ({ ...k, ease: 'linear' as const }));
  for (let f = 0; f <= 30; f++) expect(Math.abs(shapeAt(even, f)[0]!.x - way(f))).toBeLessThan(0.31);
  expect(keys[0]!.sure).toBeNull();
  // A doubt on a frame that is no key shows on the nearest one that is.
  const [doubt, ...more] = doubtfulKeys(keys);
  expect(Math.abs(doubt!.frame - 20)).toBeLessThanOrEqual(3);
  expect(more.length).toBeLessThanOrEqual(1);
  expect(Math.min(...sureAt(keys, 20)!)).toBeCloseTo(0.1, 6);
  expect(sureAt([drawn(0, square(0))], 0)).toBeNull();
});

test('drawn keys stay; a doubtful one that is mended by hand is drawn, and is no doubt any more', () => {
  const shapes = Array.from({ length: 11 }, (_, f) => shape(f, f * f, 0.2)),
    keys = withCarried([drawn(0, square(0)), drawn(5, square(99))], shapes);
  expect(keys.find((k) => k.frame === 5)!.vertices).toEqual(square(99));
  const [first] = doubtfulKeys(keys),
    mended = withKey(keys, first!.frame, square(50));
  expect(doubtfulKeys(mended)).toHaveLength(doubtfulKeys(keys).length - 1);
  expect(drawnBeyond(mended, 0, 1)).toBe(Math.min(5, first!.frame));
  expect(drawnBeyond(mended, 99, 1)).toBeNull();
});

test('carried on again, what was carried before goes as far as the next drawn frame', () => {
  const keys = withCarried(
    [drawn(0, square(0)), drawn(20, square(20)), drawn(8, square(8))].sort((a, b) => a.frame - b.frame),
    Array.from({ length: 31 }, (_, f) => shape(f, f * f)),
  );
  const again = withoutCarried(keys, 8, 1);
  expect(again.filter((k) => k.sure && k.frame > 8 && k.frame < 20)).toEqual([]);
  expect(again.filter((k) => k.sure && (k.frame < 8 || k.frame > 20))).toEqual(keys.filter((k) => k.sure && (k.frame < 8 || k.frame > 20)));
  const back = withoutCarried(keys, 8, -1);
  expect(back.filter((k) => k.sure && k.frame < 8)).toEqual([]);
  expect(back.filter((k) => k.frame > 8)).toEqual(keys.filter((k) => k.frame > 8));
});

test('from both ends: each end is its own, the middle is both, and what they disagree on is doubtful', () => {
  const there = Array.from({ length: 11 }, (_, f) => shape(f, f, 1)),
    back = Array.from({ length: 11 }, (_, k) => shape(10 - k, 10 - k + 6, 1)),
    both = fromBothEnds(there, back);
  expect(both).toHaveLength(11);
  expect([0, 5, 10].map((f) => both[f]!.vertices[0]!.x)).toEqual([0, 8, 16]);
  expect(both[0]!.sure[1]).toBe(1);
  expect(both[5]!.sure[1]).toBeLessThan(0.4);
  // Where the way back ended early, the way there goes on alone.
  expect(fromBothEnds(there, back.slice(0, 3)).map((s) => s.frame)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
});
