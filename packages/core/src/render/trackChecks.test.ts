import { apply, smallShot } from '../../test/smallShot';
import * as s from '../shot';
import { checkShot } from './checks';

const sample = (frame: number) => ({ frame, x: 30, y: 20, rotation: 0, scale: 1, confidence: 0.9, state: 'good' as const }),
  all = Array.from({ length: 12 }, (_, f) => sample(f)),
  tracks = new Map(['t1', 't2', 't3'].map((id) => [id, all.map((a) => ({ ...a, x: a.x + (id === 't3' ? 12 : 0) }))])),
  told = (shot: s.Shot) => checkShot(shot, tracks).map((c) => [c.id, c.text]);

/** An ember on both eyes of a face, off to one side by an offset. */
const eyes = (...more: s.Edit[]) =>
  apply(
    smallShot(),
    s.addTrack({ id: 't1', name: 'Face', clip: 'c1', at: [36, 20], frame: 0, kind: 'face' }),
    s.addTrack({ id: 't2', name: 'Right eye', clip: 'c1', at: [30, 20], frame: 0, kind: 'face part', values: { part: 'right eye' } }),
    s.addTrack({ id: 't3', name: 'Left eye', clip: 'c1', at: [42, 20], frame: 0, kind: 'face part', values: { part: 'left eye' } }),
    s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1', track: 't2' }),
    s.addTwin('r1', 't3'),
    ...more,
  );
test('twins on both eyes that lie off to the same side are told; mirrored ones, and those on the eyes themselves, are not', () => {
  expect(told(eyes())).toEqual([]);
  expect(told(eyes(s.setValue('r1', 'place', [2, 2])))).toEqual([
    ['side-same', 'Ember lies off to the same side of Right eye and Left eye.'],
  ]);
  expect(told(eyes(s.setValue('r1', 'place', [2, 2]), s.changeTwin('r1', 'w1', { mirrored: true })))).toEqual([]);
});
test('a side of a face in a clip that is shown mirrored is told', () => {
  const mirrored = told(eyes(s.setPlaced({ kind: 'clip', id: 'c1' }, 'mirror', 'left to right')));
  expect(mirrored.map(([id]) => id)).toEqual(['side-mirrored', 'side-mirrored']);
  expect(mirrored[0]![1]).toBe('Ember hangs on Right eye, and its clip is shown mirrored: that is on the other side of the screen.');
});
test('a ring that lies on the floor by guess is told while the shot has no ground; one that stands is not', () => {
  const ring = (tilt: number, ...more: s.Edit[]) =>
    told(
      apply(
        smallShot(),
        s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 20], frame: 0 }),
        s.addRow({ id: 'r1', effect: 'ring', lane: 'behind', subject: 's1', track: 't1', values: { tilt } }),
        ...more,
      ),
    ).map(([id]) => id);
  expect(ring(74)).toEqual(['ground-missing']);
  expect(ring(0)).toEqual([]);
  expect(ring(74, s.addTrack({ id: 't4', name: 'Floor', clip: 'c1', at: [30, 30], frame: 0, kind: 'ground' }))).toEqual([]);
});
