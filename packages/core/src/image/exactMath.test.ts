import fc from 'fast-check';
import * as m from './exactMath';

const near = (a: number, b: number, scale = Math.max(1, Math.abs(b))) =>
  expect(Math.abs(a - b)).toBeLessThanOrEqual(4e-15 * scale + 1e-300);

test('agrees with the engine to the last bits over the ranges that pictures use', () => {
  fc.assert(fc.property(fc.double({ min: 1e-12, max: 1e6, noNaN: true }), (x) => near(m.log(x), Math.log(x))));
  fc.assert(fc.property(fc.double({ min: -60, max: 60, noNaN: true }), (x) => near(m.exp(x), Math.exp(x))));
  fc.assert(
    fc.property(fc.double({ min: 1e-6, max: 40, noNaN: true }), fc.double({ min: 0.2, max: 3, noNaN: true }), (x, y) =>
      near(m.pow(x, y), Math.pow(x, y), Math.pow(x, y) * 8),
    ),
  );
  fc.assert(
    fc.property(fc.double({ min: -5000, max: 5000, noNaN: true }), (x) => {
      near(m.sin(x), Math.sin(x), 200);
      near(m.cos(x), Math.cos(x), 200);
    }),
  );
  fc.assert(
    fc.property(
      fc.double({ min: -9, max: 9, noNaN: true }),
      fc.double({ min: -9, max: 9, noNaN: true }).filter((x) => x !== 0),
      (y, x) => near(m.atan2(y, x), Math.atan2(y, x), 8),
    ),
  );
});

test('says what it means at the edges', () => {
  expect([m.log(0), m.exp(-1000), m.pow(0, 2), m.pow(5, 0), m.exp(1000)]).toEqual([-Infinity, 0, 0, 1, Infinity]);
  expect(m.log(-1)).toBeNaN();
  expect([m.smoothstep(2, 1, 1), m.smoothstep(2, 1, 2), m.smoothstep(0, 1, 0.5)]).toEqual([1, 0, 0.5]);
});
