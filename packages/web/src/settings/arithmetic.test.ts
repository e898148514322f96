import { arithmetic } from './arithmetic';

test.each([
  ['12', 12],
  ['1280/2 - 3', 637],
  ['-(2 + 3) * 4', -20],
  ['2 - -3', 5],
  ['0,5 * 3', 1.5],
  ['.25', 0.25],
  ['8 / 4 / 2', 1],
])('%s is %d', (text, value) => expect(arithmetic(text)).toBeCloseTo(value, 12));

test.each(['', 'tallow', '3 +', '(4', '4)', '1 2', '5/0', '2^3'])('"%s" is no number', (text) => expect(arithmetic(text)).toBeNull());
