import { apply, smallShot } from '../../test/smallShot';
import type { TrackSample } from '../motion';
import * as s from '../shot';
import { checkShot } from './checks';

const sample = (frame: number, state: TrackSample['state']): TrackSample => ({
  frame,
  x: state === 'lost' ? null : 30,
  y: state === 'lost' ? null : 20,
  rotation: 0,
  scale: 1,
  confidence: 0.9,
  state,
});
const tracked = (states: string) =>
  new Map([['t1', [...states].map((c, i) => sample(i, ({ g: 'good', w: 'weak', l: 'lost' } as const)[c as 'g']))]]);
const glowing = (...more: s.Edit[]) =>
  apply(
    smallShot(),
    s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 20], frame: 0 }),
    s.addRow({ id: 'r1', effect: 'glow', lane: 'front', subject: 's1', track: 't1' }),
    ...more,
  );
const ids = (shot: s.Shot, states = 'gggggggggggg') => checkShot(shot, tracked(states)).map((c) => c.id);

test('a shot in order has nothing to tell', () => expect(ids(glowing())).toEqual([]));

test('weak and lost frames are told where the track is used, as runs of shot frames', () => {
  const found = checkShot(glowing(), tracked('gggwwgggllgw'));
  expect(found.map((c) => [c.id, c.frame, c.text])).toEqual([
    ['track-weak', 1004, 'Glow hangs on Pin, which is weak at 1004–1005, 1012.'],
    ['track-lost', 1009, 'Glow hangs on Pin, which is lost at 1009–1010.'],
  ]);
  // Outside the row's range they do not matter; a correction by hand mends a frame.
  expect(ids(glowing(s.changeRow('r1', { start: 1006, length: 3 })), 'gggwwgggllgw')).toEqual([]);
  expect(ids(glowing(s.correctTrack('t1', 3, [1, 1]), s.correctTrack('t1', 4, [1, 1])), 'gggwwggggggg')).toEqual([]);
});

test('a row that is muted at render, one outside the shot, and one that nobody knows', () => {
  expect(ids(glowing(s.changeRow('r1', { muted: true })))).toEqual(['row-muted']);
  expect(ids(glowing(s.changeRow('r1', { start: 2000 })))).toEqual(['row-outside']);
  const unknown = glowing();
  expect(ids({ ...unknown, rows: { r1: { ...unknown.rows.r1!, effect: 'comet' } } })).toEqual(['effect-unknown']);
});

test('a dissolve without a clean plate or a matte; a glow that hangs on nothing', () => {
  const dissolve = s.addRow({ id: 'r2', effect: 'dissolve', lane: 'on', subject: 's1' });
  expect(ids(apply(smallShot(), dissolve))).toEqual([]);
  expect(ids(apply(smallShot(), dissolve, s.remove('clip', 'c2')))).toEqual(['no-clean-plate']);
  expect(ids(apply(smallShot(), dissolve, s.remove('matte', 'k1')))).toEqual(['no-matte']);
  expect(ids(glowing(s.hangRow('r1', null)))).toEqual(['no-mount']);
});
