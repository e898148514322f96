import { at, samples } from '../../test/samples';
import { correctedSamples, mergeSamples, placeAt } from './repair';

test('a place is measured where it was, straight between where it is lost, held beyond the ends', () => {
  expect(placeAt(samples, 1)).toMatchObject({ x: 11, y: 22, state: 'good' });
  expect(placeAt(samples, 2)).toMatchObject({ x: 13, y: 26, state: 'lost' });
  expect(placeAt(samples, 3)).toMatchObject({ x: 15, y: 30, state: 'lost' });
  expect(placeAt(samples, -4)).toMatchObject({ x: 10, state: 'lost' });
  expect(placeAt(samples, 40)).toMatchObject({ x: 18, state: 'lost' });
  expect(placeAt([], 0)).toBeNull();
});

test('corrections win over what was measured, mend what was lost, and are kept when tracking again', () => {
  const corrected = correctedSamples(samples, { 3: [15.5, 31] });
  expect(corrected.map((s) => [s.frame, s.x, s.state])).toEqual([
    [0, 10, 'keyed'],
    [1, 11, 'good'],
    [2, null, 'lost'],
    [3, 15.5, 'keyed'],
    [4, 17, 'good'],
    [5, 18, 'weak'],
  ]);
  expect(placeAt(corrected, 2)).toMatchObject({ x: 13.25 });
  const again = correctedSamples(mergeSamples(samples, [at(3, 99), at(6, 20)]), { 3: [15.5, 31] });
  expect(again.map((s) => s.x)).toEqual([10, 11, null, 15.5, 17, 18, 20]);
});
