import { at, samples } from '../../test/samples';
import { correctedSamples, mergeSamples, placeAt } from './layers';

test('a place is measured where it was, straight between where it is lost, held beyond the ends', () => {
  expect(placeAt(samples, 1)).toMatchObject({ x: 11, y: 22, state: 'good' });
  expect(placeAt(samples, 2)).toMatchObject({ x: 13, y: 26, state: 'lost' });
  expect(placeAt(samples, 3)).toMatchObject({ x: 15, y: 30, state: 'lost' });
  expect(placeAt(samples, -4)).toMatchObject({ x: 10, state: 'lost' });
  expect(placeAt(samples, 40)).toMatchObject({ x: 18, state: 'lost' });
  expect(placeAt([], 0)).toBeNull();
});

test('corrections win over what was measured, mend what was lost, and are kept when tracking again', () => {
  const corrected = correctedSamples(samples, { 3: { at: [15.5, 31] } });
  expect(corrected.map((s) => [s.frame, s.x, s.state])).toEqual([
    [0, 10, 'keyed'],
    [1, 11, 'good'],
    [2, null, 'lost'],
    [3, 15.5, 'keyed'],
    [4, 17, 'good'],
    [5, 18, 'weak'],
  ]);
  expect(placeAt(corrected, 2)).toMatchObject({ x: 13.25 });
  const again = correctedSamples(mergeSamples(samples, [at(3, 99), at(6, 20)]), { 3: { at: [15.5, 31] } });
  expect(again.map((s) => s.x)).toEqual([10, 11, null, 15.5, 17, 18, 20]);
});

test('a correction pulls its neighbours along as far as it reaches, but one that mends a jump pulls nothing', () => {
  const even = Array.from({ length: 9 }, (_, f) => at(f, 10 + f)),
    set = { 4: { at: [20, 20 + 8] as [number, number] } },
    pulled = correctedSamples(even, set, 2),
    by = pulled.map((s, f) => s.x! - 10 - f);
  expect(by[4]).toBeCloseTo(6, 9);
  expect([by[1], by[7]]).toEqual([0, 0]);
  expect(by[3]).toBeCloseTo(by[5]!, 9);
  expect([by[3]! > by[2]!, by[2]! > 0]).toEqual([true, true]);
  expect(pulled[3]!.state).toBe('good');
  const jumped = even.map((s) => (s.frame === 4 ? at(4, 40) : s)),
    mended = correctedSamples(jumped, { 4: { at: [14, 28] } }, 2);
  expect(mended.map((s) => s.x)).toEqual([10, 11, 12, 13, 14, 15, 16, 17, 18]);
  // As far as the next one that was set.
  expect(correctedSamples(even, { ...set, 5: { at: [15, 30] } }, 4)[6]!.x).toBe(16);
});

test('a plane that is set as a whole keeps its shape, and one whose corners are set moves its place with them', () => {
  const corners: [number, number][] = [
      [0, 0],
      [10, 0],
      [10, 10],
      [0, 10],
    ],
    plane = [0, 1].map((f) => ({ ...at(f, 5), y: 5, corners })),
    [, whole] = correctedSamples(plane, { 1: { at: [7, 5] } }),
    [, stretched] = correctedSamples(plane, { 1: { at: [5, 5], corners: corners.map(([x, y]): [number, number] => [2 * x, y]) } });
  expect(whole!.corners).toEqual(corners.map(([x, y]) => [x + 2, y]));
  expect([stretched!.x, stretched!.y]).toEqual([expect.closeTo(10, 6), expect.closeTo(5, 6)]);
});
