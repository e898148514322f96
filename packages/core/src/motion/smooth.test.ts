import { normal } from '../image/random';
import type { TrackSample } from './pointTracker';
import { smoothed } from './smooth';

const sample = (frame: number, x: number, y: number, state: TrackSample['state'] = 'good'): TrackSample => ({
  ...{ frame, x, y, rotation: 0, scale: 1, confidence: 1, state },
});
const rms = (a: readonly TrackSample[], way: (f: number) => number, from = 0, to = Infinity) => {
  const off = a.filter((s) => s.frame >= from && s.frame <= to).map((s) => s.x! - way(s.frame));
  return Math.sqrt(off.reduce((sum, d) => sum + d * d, 0) / off.length);
};

test('unrest goes, a swing stays', () => {
  const way = (f: number) => 200 + 80 * Math.sin(f / 11),
    shaky = Array.from({ length: 100 }, (_, f) => sample(f, way(f) + 0.6 * normal(f, 1, 2), 50)),
    calm = smoothed(shaky, 0.5);
  expect(rms(shaky, way)).toBeGreaterThan(0.5);
  expect(rms(calm, way)).toBeLessThan(0.35);
});
test('a blow stays as fast as it was', () => {
  const way = (f: number) => (f < 40 ? 100 : f < 43 ? 100 + 40 * (f - 39) : 260),
    shaky = Array.from({ length: 80 }, (_, f) => sample(f, way(f) + 0.3 * normal(f, 1, 2), 50)),
    calm = smoothed(shaky, 1);
  for (const s of calm) expect(Math.abs(s.x! - way(s.frame))).toBeLessThan(2.2);
  expect(rms(calm, way, 0, 34)).toBeLessThan(rms(shaky, way, 0, 34));
});
test('what is lost stays lost, what was set by hand stays where it was set, and corners are smoothed too', () => {
  const corners = (d: number): [number, number][] => [
      [d, 0],
      [10 + d, 0],
      [10 + d, 10],
      [d, 10],
    ],
    all = Array.from({ length: 40 }, (_, f) => {
      const d = 0.8 * normal(f, 1, 2);
      return { ...sample(f, 5 + d, 5, f === 20 ? 'keyed' : 'good'), corners: corners(d) };
    });
  const lost: TrackSample = { ...all[8]!, x: null, y: null, state: 'lost' },
    calm = smoothed(
      all.map((s, i) => (i === 8 ? lost : s)),
      0.6,
    );
  expect(calm[8]).toEqual(lost);
  expect(calm[20]).toEqual(all[20]);
  const spread = (list: readonly TrackSample[]) =>
    list
      .filter((s) => s.x !== null && s.state !== 'keyed')
      .reduce((sum, s) => sum + s.corners![2]![0] ** 2 - 20 * s.corners![2]![0] + 100, 0);
  expect(spread(calm)).toBeLessThan(0.5 * spread(all));
});
