import { shownThrough, trailOf, withLost } from './lost';
import { placeAt } from './layers';
import type { TrackSample } from './pointTracker';

const at = (frame: number, x: number | null): TrackSample => ({
  ...{ frame, x, y: x === null ? null : 10, rotation: 0, scale: 1, confidence: x === null ? 0 : 1, state: x === null ? 'lost' : 'good' },
});
const samples = [at(0, 0), at(1, 4), at(2, 8), at(3, 12), at(4, null), at(5, null), at(6, null), at(7, 60), at(8, 64)];
const placeOn = (way: Parameters<typeof withLost>[1]) => (frame: number) => placeAt(withLost(samples, way), frame)!;

test('while it is lost a mount goes between, stays, or goes on ever slower', () => {
  expect([4, 5, 6].map((f) => placeOn('goes between')(f).x)).toEqual([24, 36, 48]);
  expect([4, 5, 6].map((f) => placeOn('stays')(f).x)).toEqual([12, 12, 12]);
  const on = [4, 5, 6].map((f) => placeOn('goes on')(f).x);
  expect(on[0]).toBeCloseTo(16, 6);
  expect(on[1]! - on[0]!).toBeLessThan(4);
  expect(on[2]! - on[1]!).toBeLessThan(on[1]! - on[0]!);
  for (const way of ['stays', 'goes on'] as const)
    expect([placeOn(way)(5).state, placeOn(way)(7)]).toEqual(['lost', expect.objectContaining({ x: 60, state: 'good' })]);
  // Before it was ever seen there is nothing to go on from.
  expect(withLost([at(0, null), at(1, 5)], 'stays')[0]!.x).toBeNull();
});
test('what fades goes out over its frames from the loss on, and comes back as slowly', () => {
  const shown = (frame: number) => shownThrough(samples, frame, 4);
  expect([0, 3, 4, 5, 6, 7, 8].map(shown)).toEqual([1, 1, 0.75, 0.5, 0.25, 0.25, 0.5]);
  expect(shownThrough(samples, 5, 0)).toBe(1);
  expect(shownThrough([at(0, null)], 0, 4)).toBe(0);
});
test('what trails comes after by its frames on the mean, and never swings over', () => {
  for (const lag of [1, 4, 12.5]) {
    const weights = trailOf(lag);
    expect(weights.reduce((sum, w) => sum + w, 0)).toBeCloseTo(1, 9);
    expect(Math.min(...weights)).toBeGreaterThanOrEqual(0);
    expect(weights.reduce((sum, w, k) => sum + w * k, 0)).toBeGreaterThan(0.55 * lag - 0.5);
    expect(weights.reduce((sum, w, k) => sum + w * k, 0)).toBeLessThan(1.05 * lag);
  }
});
