import { fromBothSides } from './again';
import type { TrackSample } from './pointTracker';

const at = (frame: number, x: number | null, confidence = 1, state: TrackSample['state'] = x === null ? 'lost' : 'good'): TrackSample => ({
  ...{ frame, x, y: x === null ? null : 0, rotation: 0, scale: 1, confidence, state },
});
test('two ways to the same frames go over into each other where they agree, and the surer one counts, as weak, where they do not', () => {
  const forwards = [at(5, 10), at(6, 20, 0.9, 'weak'), at(7, 99, 0.4), at(8, null)],
    backwards = [at(8, 41), at(7, 30, 0.8), at(6, 21), at(5, 11)],
    joined = fromBothSides(forwards, backwards);
  expect(joined.map((s) => s.frame)).toEqual([5, 6, 7, 8]);
  expect(joined[0]).toMatchObject({ x: 10, state: 'good' });
  expect(joined[1]).toMatchObject({ x: expect.closeTo(20 + 1 / 3, 9), state: 'good' });
  expect(joined[2]).toMatchObject({ x: 30, state: 'weak' });
  expect(joined[3]).toMatchObject({ x: 41 });
});
