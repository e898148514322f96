import { doubtsOf, placesBetween } from './doubts';
import type { SampleState, TrackSample } from './pointTracker';

const sample = (frame: number, x: number | null, y: number | null, state: SampleState = 'good'): TrackSample => ({
  ...{ frame, x, y, rotation: 0, scale: 1, confidence: 1, state },
});
/** A way that speeds up and turns, with a little noise. */
const way = (f: number): [number, number] => [3 * f + 0.06 * f * f, 40 * Math.sin(f * 0.12)],
  track = (change: (s: TrackSample) => TrackSample = (s) => s) =>
    Array.from({ length: 50 }, (_, f) => {
      const [x, y] = way(f);
      return change(sample(f, x + 0.1 * Math.sin(f * 7.1), y + 0.1 * Math.cos(f * 5.3)));
    });

test('a way that is smooth has no doubt, however fast it is', () => expect(doubtsOf(track())).toEqual([]));
test('one frame that jumps is told with its size, and not its neighbours; one that a person set is not', () => {
  const jumps = (state: SampleState) => track((s) => (s.frame === 20 ? { ...s, x: s.x! + 6, y: s.y! - 8, state } : s));
  expect(doubtsOf(jumps('good'))).toEqual([{ kind: 'jump', first: 20, last: 20, size: expect.closeTo(10, 0) }]);
  expect(doubtsOf(jumps('keyed'))).toEqual([]);
});
test('a slip to another place is told where it happens, once', () => {
  const found = doubtsOf(track((s) => (s.frame >= 30 ? { ...s, x: s.x! + 24 } : s)));
  expect(found).toHaveLength(1);
  expect([29, 30]).toContain(found[0]!.first);
});
test('frames that were lost or weak are told in runs, in order', () => {
  const found = doubtsOf(
    track((s) =>
      s.frame >= 10 && s.frame < 14 ? { ...s, x: null, y: null, state: 'lost' } : [14, 40].includes(s.frame) ? { ...s, state: 'weak' } : s,
    ),
  );
  expect(found.map(({ kind, first, last }) => [kind, first, last])).toEqual([
    ['lost', 10, 13],
    ['weak', 14, 14],
    ['weak', 40, 40],
  ]);
});
test('what is filled in goes on as the track does before and after: on a curve by less than a pixel', () => {
  const samples = track((s) => (s.frame >= 20 && s.frame <= 25 ? { ...s, x: null, y: null, state: 'lost' } : s)),
    filled = placesBetween(samples, 20, 25);
  expect([...filled.keys()]).toEqual([20, 21, 22, 23, 24, 25]);
  for (const [
    f,
    {
      at: [x, y],
    },
  ] of filled)
    expect(Math.hypot(x - way(f)[0], y - way(f)[1])).toBeLessThan(1);
});
test('at an end it goes straight on, and where nothing is known there is nothing', () => {
  const samples = [sample(3, 10, 10), sample(4, 13, 12), sample(5, null, null, 'lost')];
  expect(placesBetween(samples, 5, 6)).toEqual(
    new Map([
      [5, { at: [16, 14] }],
      [6, { at: [19, 16] }],
    ]),
  );
  expect(placesBetween(samples, 1, 2).get(1)).toEqual({ at: [4, 6] });
  expect(placesBetween([], 1, 2).size).toBe(0);
});
