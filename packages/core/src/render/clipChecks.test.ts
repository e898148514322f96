import { apply, smallShot } from '../../test/smallShot';
import * as s from '../shot';
import { heldChecks, type Held } from './clipChecks';

const shot = apply(smallShot(), s.addRow({ id: 'r1', effect: 'element', lane: 'front', subject: 's1' }), s.changeRow('r1', { clip: 'c3' })),
  held = (clip: string, change: Partial<Held> = {}) => {
    const { width, height, frames, rate } = shot.clips[clip]!;
    return { clip, held: { width, height, frames, rate, ...change } };
  };

test('a clip that is gone, too short, of another size or rate says so on the row that shows it, with what to do', () => {
  expect(heldChecks(shot, [held('c1'), held('c3')])).toEqual([]);
  const found = (...of: Parameters<typeof heldChecks>[1]) => heldChecks(shot, of).map((c) => [c.id, c.row ?? null, c.clip, c.text]);
  expect(found({ clip: 'c3', held: null })).toEqual([['clip-gone', 'r1', 'c3', 'mask is not in the store.']]);
  expect(found({ clip: 'c1', held: null })).toEqual([['clip-gone', null, 'c1', 'performance is not in the store.']]);
  expect(found(held('c1', { frames: 5 }))).toEqual([['clip-short', null, 'c1', 'performance has 5 frames in the store, and 12 are used.']]);
  expect(found(held('c3', { width: 32 }))[0]![3]).toBe('mask is 32 x 48 in the store, and 64 x 48 in the shot.');
  expect(found(held('c1', { rate: { num: 30, den: 1 } }))[0]![0]).toBe('clip-rate');
  // What was removed meanwhile is nobody's trouble.
  expect(found({ clip: 'c99', held: null })).toEqual([]);
  for (const check of heldChecks(shot, [{ clip: 'c3', held: null }])) expect(check.fix).toMatch(/Bring the same file in again/);
});
