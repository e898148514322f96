import { AWAY, drawSlanted, WALL, wallCorners, type SlantedOptions } from '../../test/slantedPlane';
import { after, back, newPlane, seenAt, toCorners } from '../image';
import { agreedHomography, quadToQuad, type Pair, type Quad } from './fitHomography';
import { PlaneTracker } from './planeTracker';

const quad: Quad = [
  [0, 0],
  [100, 0],
  [100, 60],
  [0, 60],
];
/** What a corner says: the same in every direction; and what an upright edge says. */
const CORNER = [1, 0, 1] as const,
  EDGE = [1, 0, 0] as const;
describe('the map in perspective that most agree with', () => {
  const to: Quad = [
      [310, 202],
      [395, 190],
      [402, 260],
      [308, 249],
    ],
    truth = quadToQuad(quad, to)!,
    from = Array.from({ length: 40 }, (_, i): [number, number] => [5 + 10 * (i % 8) + (i % 3), 5 + 11 * Math.floor(i / 8)]);
  test('is found exactly, whatever two in five of the pairs say, and says how sure it is', () => {
    const pairs = from.map((p, i): Pair => [p, i % 5 < 3 ? seenAt(truth, p).at : [400 - 3 * p[1], 150 + 2 * i], CORNER]),
      found = agreedHomography(
        pairs,
        1,
        quadToQuad(quad, [
          [300, 200],
          [400, 200],
          [400, 260],
          [300, 260],
        ])!,
        quad,
      )!;
    quad.forEach((corner, i) => {
      const { at } = seenAt(found.map, corner);
      expect(Math.hypot(at[0] - to[i]![0], at[1] - to[i]![1])).toBeLessThan(0.02);
    });
    expect(found.agrees.filter(Boolean).length).toBeGreaterThanOrEqual(24);
    expect(found.spread).toBeLessThan(0.02);
  });
  test('an edge that slid along itself says nothing of it', () => {
    const pairs = from.map((p, i): Pair => {
        const { at } = seenAt(truth, p);
        return i % 2 ? [p, at, CORNER] : [p, [at[0], at[1] + 25], EDGE];
      }),
      { map } = agreedHomography(pairs, 1, truth, quad)!;
    for (const corner of quad)
      expect(Math.hypot(...seenAt(map, corner).at.map((v, k) => v - seenAt(truth, corner).at[k]!))).toBeLessThan(0.02);
  });
  test('pairs that all lie in one corner say little of the others', () => {
    const near = from.filter((p) => p[0] < 35 && p[1] < 30),
      unrest = near.map((p, i): Pair => {
        const { at } = seenAt(truth, p);
        return [p, [at[0] + 0.3 * Math.sin(9 * i), at[1] + 0.3 * Math.cos(7 * i)], CORNER];
      });
    expect(agreedHomography(unrest, 2, truth, quad)!.spread).toBeGreaterThan(0.5);
    expect(agreedHomography(unrest.slice(0, 3), 2, truth, quad)).toBeNull();
  });
});

/** Follows corners that lie a little within the wall; what is off is told for every frame that was called good. */
function run(options: SlantedOptions, frames: number) {
  const corners = wallCorners(options, 0).map(([x, y], i) => [x + (i === 0 || i === 3 ? 6 : -6), y + (i < 2 ? 6 : -6)]) as unknown as Quad,
    first = toCorners(WALL.width, WALL.height, wallCorners(options, 0))!,
    tracker = new PlaneTracker(drawSlanted(0, options), 0, [options.at(0).x, options.at(0).y], { corners });
  let states = '',
    squares = 0,
    worst = 0,
    good = 0;
  for (let f = 1; f < frames; f++) {
    const s = tracker.step(drawSlanted(f, options), f),
      now = after(toCorners(WALL.width, WALL.height, wallCorners(options, f))!, back(first)!);
    states += s.state[0];
    expect(s.corners === undefined).toBe(s.state === 'lost');
    if (s.state !== 'good') continue;
    good++;
    corners.forEach((c, i) => {
      const { at } = seenAt(now, c),
        off = Math.hypot(at[0] - s.corners![i]![0], at[1] - s.corners![i]![1]);
      squares += off * off;
      worst = Math.max(worst, off);
    });
  }
  const rms = Math.sqrt(squares / (4 * Math.max(1, good)));
  console.info(`${states}: corners off by ${rms.toFixed(2)} px RMS, ${worst.toFixed(2)} px at the most`);
  return { states, rms, worst, good };
}
const size = { width: 420, height: 280 };

test('80 frames with 40 degrees of perspective change, grain and flicker: corners within half a pixel', () => {
  const { good, rms } = run(
    { ...size, at: (f) => ({ degrees: -10 + f / 2, x: 200 + 0.4 * f, y: 140 + 5 * Math.sin(f / 9) }), grain: 6 / 255, flicker: 0.08 },
    81,
  );
  expect(good).toBe(80);
  expect(rms).toBeLessThan(0.25);
  expect(AWAY).toBeGreaterThan(500);
});
test('it holds while a ball hides part of it, and is lost and found again where all of it is hidden', () => {
  const { states, rms } = run(
    { ...size, at: (f) => ({ degrees: f / 3, x: 205 + f / 2, y: 140 }), grain: 0.02, ball: (f) => [-180 + 14 * f, 140, 145] },
    46,
  );
  expect(states).toContain('l');
  expect(states.slice(-4)).toBe('gggg');
  expect(rms).toBeLessThan(0.5);
});
test('it grows to twice its size, by looks that are taken anew, and comes back', () => {
  const { good, rms } = run(
    { ...size, at: (f) => ({ degrees: 6, x: 210, y: 140, scale: 0.55 + 0.5 * Math.sin(f / 12.8) }), grain: 0.012 },
    40,
  );
  expect(good).toBeGreaterThanOrEqual(38);
  expect(rms).toBeLessThan(0.4);
});
test('nothing is claimed of a plain wall, and corners that cross or are too near are refused', () => {
  const plain = newPlane(300, 200);
  plain.data.fill(0.5);
  const corners: Quad = [
    [80, 60],
    [220, 60],
    [220, 140],
    [80, 140],
  ];
  expect(new PlaneTracker(plain, 0, [150, 100], { corners }).step(plain, 1).state).toBe('lost');
  expect(() => new PlaneTracker(plain, 0, [150, 100], { corners: [corners[0], corners[2], corners[1], corners[3]] })).toThrow('crossing');
  expect(() => new PlaneTracker(plain, 0, [150, 100], { corners: corners.map(([x, y]) => [x / 9, y / 9]) as never })).toThrow('at least');
});
