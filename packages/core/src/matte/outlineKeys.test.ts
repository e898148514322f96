import fc from 'fast-check';
import { flatten } from './outline';
import {
  keyEasings,
  mirroredKeys,
  shapeAt,
  withKey,
  withKeyAt,
  withoutKey,
  withoutVertices,
  withVertex,
  type OutlineKey,
} from './outlineKeys';
import { corner, splitCurve, type Vertex } from './vertex';

const square = (x: number, y = 0, side = 10): Vertex[] => [
  corner(x, y),
  corner(x + side, y),
  corner(x + side, y + side),
  corner(x, y + side),
];
const key = (frame: number, vertices: (Vertex | null)[], ease: OutlineKey['ease'] = 'flows'): OutlineKey => ({
  frame,
  ease,
  vertices,
  sure: null,
});
const xs = (keys: readonly OutlineKey[], frame: number) => shapeAt(keys, frame).map((v) => v.x);

describe('an outline between its keys', () => {
  test('stands as drawn on each key, before the first and after the last', () => {
    const keys = [key(4, square(0)), key(10, square(30)), key(14, square(10))];
    expect([0, 4, 10, 14, 99].map((f) => xs(keys, f)[0])).toEqual([0, 0, 30, 10, 10]);
  });
  test('flows along a straight way at an even speed, and never beyond a key where it turns back', () => {
    const even = [key(0, square(0)), key(5, square(10)), key(15, square(30)), key(20, square(40))];
    for (let f = 0; f <= 20; f++) expect(xs(even, f)[0]).toBeCloseTo(2 * f, 9);
    const back = [key(0, square(0)), key(5, square(10)), key(10, square(10)), key(15, square(0))];
    for (let f = 0; f <= 15; f += 0.25) expect(xs(back, f)[0]).toBeLessThanOrEqual(10 + 1e-9);
  });
  test.each(keyEasings)('%s: both ends are met', (ease) => {
    const keys = [key(0, square(0), ease), key(8, square(16, 4), ease)];
    expect(xs(keys, 0)[0]).toBe(0);
    expect(xs(keys, 8)[0]).toBe(16);
    expect(xs(keys, 4)[0]).toBeCloseTo({ hold: 0, 'ease in': 5.05, 'ease out': 10.95 }[ease as string] ?? 8, 1);
  });
  test('a vertex that a key does not set goes from its key before to its key after', () => {
    const keys = [key(0, square(0), 'linear'), key(5, [corner(100, 0), null, null, null], 'linear'), key(10, square(20), 'linear')];
    expect(xs(keys, 5)).toEqual([100, 20, 20, 10]);
    expect(xs(keys, 10)[0]).toBe(20);
  });
});

describe('changes of keys', () => {
  test('a change on a frame without a key makes one; of some vertices it sets these alone', () => {
    const one = [key(0, square(0))],
      all = withKey(one, 8, square(8)),
      some = withKey(all, 4, square(50), new Set([1]));
    expect(all.map((k) => k.frame)).toEqual([0, 8]);
    expect(some[1]!.vertices.map((v) => v && v.x)).toEqual([null, 60, null, null]);
    // Setting another one there keeps the first.
    expect(withKey(some, 4, square(70), new Set([2]))[1]!.vertices.map((v) => v && v.x)).toEqual([null, 60, 80, null]);
  });
  test('a key that goes leaves what was set on it alone on the nearest key', () => {
    const keys = [
        key(0, [corner(0, 0), corner(10, 0), null, corner(0, 10)]),
        key(6, [null, null, corner(44, 44), null]),
        key(9, square(9)),
      ],
      two = keys.map((k) => (k.frame === 9 ? key(9, [corner(1, 1), corner(1, 1), null, corner(1, 1)]) : k)),
      left = withoutKey(two, 6);
    expect(left.map((k) => k.frame)).toEqual([0, 9]);
    expect(left[1]!.vertices[2]).toEqual(corner(44, 44));
    expect(withoutKey([key(0, square(0))], 0)).toHaveLength(1);
  });
  test('a key is moved; the one that stands there goes', () => {
    const keys = [key(0, square(0)), key(5, square(5)), key(9, square(9))];
    expect(withKeyAt(keys, 0, 7).map((k) => [k.frame, k.vertices[0]!.x])).toEqual([
      [5, 5],
      [7, 0],
      [9, 9],
    ]);
    expect(withKeyAt(keys, 5, 9).map((k) => [k.frame, k.vertices[0]!.x])).toEqual([
      [0, 0],
      [9, 5],
    ]);
  });
  test('a vertex that is added changes the line on no frame', () => {
    const bent = (x: number): Vertex[] => square(x).map((v, i) => ({ ...v, in: [-2, i], out: [3, -i], outer: i })),
      keys = [
        key(0, bent(0), 'linear'),
        key(
          10,
          bent(30).map((v) => ({ ...v, y: v.y * 1.3 })),
          'linear',
        ),
      ];
    for (const share of [0.25, 0.6])
      for (const frame of [0, 5, 10]) {
        const more = shapeAt(withVertex(keys, 1, share), frame),
          before = shapeAt(keys, frame);
        expect(more).toHaveLength(5);
        // Points of the new line lie on the old one: its fine pieces are near enough.
        const line = flatten(before, 40),
          fine = flatten(more, 40);
        for (let i = 0; i < fine.length; i += 6) {
          let least = Infinity;
          for (let k = 0; k < line.length; k += 2) least = Math.min(least, Math.hypot(fine[i]! - line[k]!, fine[i + 1]! - line[k + 1]!));
          expect(least / 40).toBeLessThan(0.08);
        }
        expect(more[2]!.outer).toBeCloseTo(1 + share, 9);
      }
  });
  test('vertices are removed on every key; a key that sets nothing any more goes; three stay', () => {
    const keys = [key(0, square(0)), key(5, [corner(9, 9), null, null, null]), key(9, square(9))];
    const left = withoutVertices(keys, new Set([0]));
    expect(left.map((k) => [k.frame, k.vertices.length])).toEqual([
      [0, 3],
      [9, 3],
    ]);
    expect(withoutVertices(keys, new Set([0, 1]))).toEqual(keys);
  });
  test('mirrored twice about the same line it is where it was', () => {
    const keys = [
        key(
          0,
          square(3).map((v) => ({ ...v, out: [1, 2] as [number, number], in: [-4, 1] as [number, number] })),
        ),
      ],
      once = mirroredKeys(keys, 20);
    expect(once[0]!.vertices.map((v) => v!.x).sort((a, b) => a - b)).toEqual([27, 27, 37, 37]);
    expect(mirroredKeys(once, 20)).toEqual(keys);
  });
});

test('a split curve runs where the whole one did', () => {
  const value = fc.double({ min: -50, max: 50, noNaN: true }),
    pair = fc.tuple(value, value);
  fc.assert(
    fc.property(pair, pair, pair, pair, fc.double({ min: 0.05, max: 0.95, noNaN: true }), ([ax, ay], [bx, by], out, into, t) => {
      const a = { ...corner(ax, ay), out },
        b = { ...corner(bx, by), in: into },
        [, middle] = splitCurve(a, b, t),
        w = 1 - t,
        on = (p0: number, p1: number, p2: number, p3: number) => w * w * w * p0 + 3 * w * w * t * p1 + 3 * w * t * t * p2 + t * t * t * p3;
      const straight = out.every((v) => v === 0) && into.every((v) => v === 0);
      if (straight) return;
      expect(middle.x).toBeCloseTo(on(ax, ax + out[0], bx + into[0], bx), 6);
      expect(middle.y).toBeCloseTo(on(ay, ay + out[1], by + into[1], by), 6);
    }),
    { numRuns: 60 },
  );
});
