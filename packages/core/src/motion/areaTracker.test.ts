import { drawFacade, FACADE } from '../../test/facade';
import { drawScene, type SceneMotion, type SceneOptions } from '../../test/texturedScene';
import { newPlane, type Plane } from '../image/picture';
import { AreaTracker } from './areaTracker';
import { agreedSimilarity, moved, movedBack, similarityOf, sizeOf, turnOf } from './similarity';

describe('the motion that most agree with', () => {
  const map = { a: 1.1, b: 0.3, x: 20, y: -7 },
    from = Array.from({ length: 20 }, (_, i): [number, number] => [13 * (i % 5) - 20, 17 * Math.floor(i / 5) - 30]);
  test('is found exactly through all that is right, and back', () => {
    const found = similarityOf(from.map((p) => [p, moved(map, p)] as const))!;
    for (const key of ['a', 'b', 'x', 'y'] as const) expect(found[key]).toBeCloseTo(map[key], 10);
    expect(movedBack(map, moved(map, [5, 9]))).toEqual([expect.closeTo(5, 10), expect.closeTo(9, 10)]);
    expect([sizeOf({ a: 0, b: 2, x: 0, y: 0 }), turnOf({ a: 0, b: 2, x: 0, y: 0 })]).toEqual([2, expect.closeTo(Math.PI / 2, 10)]);
  });
  test('whatever nearly half of them say, and none where there is but one place', () => {
    const pairs = from.map((p, i) => [p, i % 9 < 5 ? moved(map, p) : ([p[0] * 3 + 40, 7 * i] as [number, number])] as const),
      { map: found, agrees } = agreedSimilarity(pairs, 1, 1)!;
    expect(found.x).toBeCloseTo(20, 6);
    expect(agrees).toEqual(from.map((_, i) => i % 9 < 5));
    expect(
      agreedSimilarity(
        [
          [
            [1, 1],
            [2, 2],
          ],
        ],
        1,
        1,
      ),
    ).toBeNull();
    expect(
      similarityOf([
        [
          [1, 1],
          [2, 2],
        ],
        [
          [1, 1],
          [3, 2],
        ],
      ]),
    ).toBeNull();
  });
});

const size = { width: 400, height: 260 };
function run(
  motion: SceneMotion,
  frames: number,
  options: Partial<SceneOptions> = {},
  change = (plane: Plane, _: number) => plane,
  area = 121,
) {
  const all = { ...size, ...options },
    draw = (f: number) => change(drawScene(motion, f, all), f),
    begin = motion.at(0),
    tracker = new AreaTracker(draw(0), 0, [begin.x, begin.y], { area });
  const off: number[] = [],
    turns: number[] = [],
    sizes: number[] = [];
  let states = '';
  for (let f = 1; f < frames; f++) {
    const s = tracker.step(draw(f), f),
      truth = motion.at(f);
    states += s.state[0];
    if (s.state !== 'good') continue;
    off.push(Math.hypot(s.x! - truth.x, s.y! - truth.y));
    turns.push(Math.abs(s.rotation - truth.degrees));
    sizes.push(Math.abs(s.scale / truth.scale - 1));
  }
  const most = (list: number[]) => Math.max(0, ...list);
  console.info(
    `${states}: off by ${most(off).toFixed(2)} px, ${most(turns).toFixed(2)} degrees, ${(100 * most(sizes)).toFixed(2)} % at the most`,
  );
  return { states, good: off.length, off: most(off), turn: most(turns), size: most(sizes) };
}
const turning: SceneMotion = {
  at: (f) => ({ x: 150 + 2.4 * f, y: 130 + 9 * Math.sin(f * 0.21), degrees: 1.1 * f, scale: 1.008 ** f }),
};

test('follows motion, turn and growth through grain and flicker', () => {
  const { good, off, turn, size: grown } = run(turning, 40, { grain: 0.02, flicker: 0.08 });
  expect(good).toBe(39);
  expect(off).toBeLessThan(0.5);
  expect(turn).toBeLessThan(0.5);
  expect(grown).toBeLessThan(0.01);
});
test('holds on while a part of it is covered, is lost while all of it is, and found again', () => {
  const past: SceneMotion = { at: (f) => ({ x: 90 + 5 * f, y: 130, degrees: 0, scale: 1 }) },
    { states, off } = run(past, 44, { grain: 0.015, pole: () => [190, 260] }, undefined, 61);
  expect(off).toBeLessThan(1);
  expect(states).toContain('l');
  expect(states.slice(-6)).toBe('gggggg');
  expect(states.indexOf('l')).toBeGreaterThan(12);
});
test('cloth that folds is followed by its mean, where each of its places goes a way of its own', () => {
  // Waves run over it: places move by up to 3 px for themselves, and by next to nothing on the mean.
  const waves = (plane: Plane, f: number) => {
      const out = newPlane(plane.width, plane.height);
      for (let y = 0; y < plane.height; y++)
        for (let x = 0; x < plane.width; x++) {
          const u = Math.round(x + 1.5 * Math.sin((y * Math.PI) / 35 + f * 0.5) - 1.5 * Math.sin((y * Math.PI) / 35)),
            p = Math.max(0, Math.min(plane.width - 1, u));
          out.data[y * plane.width + x] = plane.data[y * plane.width + p]!;
        }
      return out;
    },
    { good, off } = run({ at: (f) => ({ x: 150 + 2 * f, y: 130, degrees: 0, scale: 1 }) }, 30, { grain: 0.01 }, waves, 141);
  expect(good).toBeGreaterThanOrEqual(27);
  expect(off).toBeLessThan(1.5);
});
test('a front whose windows are alike keeps its place', () => {
  const options = { at: (f: number) => ({ x: 1.7 * f, y: 0.6 * f }), grain: 6 / 255, flicker: 0.08 },
    tracker = new AreaTracker(drawFacade(0, options), 0, [160, 140], { area: 101 });
  for (let f = 1; f < 30; f++) {
    const s = tracker.step(drawFacade(f, options), f);
    expect([s.state, Math.hypot(s.x! - 160 - 1.7 * f, s.y! - 140 - 0.6 * f) < 0.5]).toEqual(['good', true]);
  }
  expect(FACADE.width).toBeGreaterThan(300);
});
test('nothing is claimed where there is nothing to hold on to, and bad places are refused', () => {
  const plane = newPlane(300, 200);
  plane.data.fill(0.4);
  expect(new AreaTracker(plane, 0, [150, 100], { area: 81 }).step(plane, 1).state).toBe('lost');
  expect(() => new AreaTracker(plane, 0, [400, 100], { area: 81 })).toThrow('outside the picture');
  expect(() => new AreaTracker(plane, 0, [150, 100], { area: 10 })).toThrow('at least');
});
