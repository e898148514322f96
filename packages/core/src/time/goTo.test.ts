import { typedMoment } from './goTo';

const at = { first: 1001, last: 1096, now: 1050, rate: { num: 24000, den: 1001 } };
test.each([
  ['1042', 1042],
  [' +10 ', 1060],
  ['-5', 1045],
  ['2s', 1049],
  ['0,5 s', 1013],
  ['1:12', 1037],
  ['00:00:01:12', 1037],
  ['0:00', 1001],
  ['3:22', 1095],
])('%s is frame %i', (text, frame) => {
  expect(typedMoment(text, at)).toEqual({ frame });
});
test.each([
  ['1200', /^Frame 1200 is not in the shot, which has frames 1001 to 1096\.$/],
  ['+90', /^Frame 1140/],
  ['1:24', /^A second has 24 frames here/],
  ['soon', /^"soon" is no moment\. Type a frame such as 1001/],
])('%s is told in words', (text, words) => {
  expect(typedMoment(text, at)).toEqual({ problem: expect.stringMatching(words) });
});
test('a shot that begins below 0 is gone to by its own numbers', () => {
  expect(typedMoment('-3', { ...at, first: -10, now: 20 })).toEqual({ frame: -3 });
});
