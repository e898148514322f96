import { apply, smallShot } from '../../test/smallShot';
import * as s from '../shot';
import { checkShot } from './checks';

const told = (...edits: s.Edit[]) => {
  const shot = apply(
    smallShot(),
    s.addMatte({ id: 'k5', name: 'Arm', source: 'difference', clip: null }),
    s.changeSubject('s1', { traces: 'k5' }),
    ...edits,
  );
  return checkShot(shot, new Map()).filter((c) => c.matte === 'k5');
};
const square: [number, number][] = [
  [4, 4],
  [20, 4],
  [20, 20],
  [4, 20],
];

test('a matte that is in order is not told of, nor one that nothing uses', () => {
  expect(told()).toEqual([]);
  expect(told(s.removeSource('k5', 's1'), s.changeSubject('s1', { traces: null }))).toEqual([]);
});
test.each<[string, s.Edit[], RegExp]>([
  ['matte-empty', [s.removeSource('k5', 's1')], /no source and no outline/],
  ['matte-empty', [s.changeSource('k5', 's1', { muted: true }), s.addOutline('k5', 'take away', square)], /is muted or takes away/],
  [
    'matte-solo',
    [s.addOutline('k5', 'add', square), s.changeSource('k5', 's1', { solo: true })],
    /only what is solo counts.*1 other does not/,
  ],
  ['matte-source', [s.addSource('k5', 'matte')], /takes in no matte/],
  ['no-clean-plate', [s.remove('clip', 'c2')], /The matte Arm is a difference from a clean plate, and there is none/],
])('%s', (id, edits, words) => {
  const found = told(...edits);
  expect(found.map((c) => c.id)).toEqual([id]);
  expect(found[0]!.text).toMatch(words);
  expect(found[0]!.fix).toMatch(/^[A-Z].*\.$/);
});
test('frames to which an outline was carried without being sure, with the first of them', () => {
  const shot = apply(smallShot(), s.addMatte({ id: 'k5', name: 'Arm', source: null, clip: null }), s.addOutline('k5', 'add', square)),
    [first] = shot.mattes.k5!.outlines[0]!.keys,
    keys = [first!, ...[4, 5].map((frame) => ({ ...first!, frame, sure: [1, 0.1, 1, 1] }))],
    found = checkShot(apply(shot, s.setKeys('k5', 'o1', keys), s.changeSubject('s1', { traces: 'k5' })), new Map()).filter(
      (c) => c.matte === 'k5',
    );
  expect(found).toMatchObject([
    { id: 'outline-doubtful', frame: 1005, text: expect.stringContaining('2 frames without being sure, from 1005 on') },
  ]);
});
