import { newPlane } from './picture';
import { sampled } from './sampled';

test('a plane is read straight between its pixels, exact at them, and held at its borders', () => {
  const plane = newPlane(5, 4);
  for (let y = 0, p = 0; y < 4; y++) for (let x = 0; x < 5; x++, p++) plane.data[p] = 3 * x - 2 * y;
  for (let y = 0; y < 4; y++) for (let x = 0; x < 5; x++) expect(sampled(plane, x + 0.5, y + 0.5)).toBe(3 * x - 2 * y);
  expect(sampled(plane, 2.75, 1.9)).toBeCloseTo(3 * 2.25 - 2 * 1.4, 6);
  expect(sampled(plane, -9, -9)).toBe(0);
  expect(sampled(plane, 99, 99)).toBe(6);
});
test.each([
  [1, 1],
  [1, 3],
  [3, 1],
])('also a plane of %i x %i', (width, height) => {
  const plane = newPlane(width, height);
  plane.data.forEach((_, i) => (plane.data[i] = i));
  expect(sampled(plane, 0, 0)).toBe(0);
  expect(sampled(plane, width, height)).toBe(width * height - 1);
});
