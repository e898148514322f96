import fc from 'fast-check';
import { bendOf, easeAt, easings, valueAt, withPoint, type Curve } from './curve';
import { rateWords, secondsOf } from './rate';

const curve: Curve = {
  points: [
    { frame: 0, value: 10, ease: 'linear' },
    { frame: 10, value: 20, ease: 'hold' },
    { frame: 20, value: 0, ease: 'smooth' },
    { frame: 40, value: 8, ease: 'linear' },
  ],
};

test('passes through its points, holds, and stays beyond its ends', () => {
  expect([-5, 0, 5, 10, 19.9, 20, 40, 99].map((f) => valueAt(curve, f))).toEqual([10, 10, 15, 20, 20, 0, 8, 8]);
  expect(valueAt(curve, 30)).toBeCloseTo(4, 9);
});
test('easings begin and end where they should and never run back', () => {
  for (const ease of easings) {
    const bend = bendOf({ frame: 0, value: 0, ease });
    if (!bend) continue;
    expect(easeAt(bend, 0)).toBeCloseTo(0, 9);
    expect(easeAt(bend, 1)).toBeCloseTo(1, 9);
    for (let t = 0; t < 1; t += 0.05) expect(easeAt(bend, t + 0.05)).toBeGreaterThan(easeAt(bend, t));
  }
  // CSS's own "ease-in-out" at a quarter, from the standard's cubic.
  expect(easeAt([0.42, 0, 0.58, 1], 0.25)).toBeCloseTo(0.1292, 3);
});
test('a curve stays between the values of its points without overshoot', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 0, max: 90 }), fc.double({ min: -50, max: 50, noNaN: true })), { minLength: 1, maxLength: 6 }),
      fc.double({ min: -10, max: 110, noNaN: true }),
      (list, at) => {
        let c: Curve = { points: [{ frame: list[0]![0], value: list[0]![1], ease: 'smooth' }] };
        for (const [frame, value] of list) c = withPoint(c, { frame, value, ease: 'smooth' });
        const values = c.points.map((p) => p.value),
          v = valueAt(c, at);
        expect(v).toBeGreaterThanOrEqual(Math.min(...values) - 1e-6);
        expect(v).toBeLessThanOrEqual(Math.max(...values) + 1e-6);
      },
    ),
  );
});
test('frames are told in seconds, rates in frames per second', () => {
  expect(secondsOf(41, { num: 24, den: 1 })).toBeCloseTo(1.7083, 4);
  expect(secondsOf(30, { num: 30000, den: 1001 })).toBeCloseTo(1.001, 6);
  expect([rateWords({ num: 24, den: 1 }), rateWords({ num: 24000, den: 1001 })]).toEqual(['24', '23.976']);
});
