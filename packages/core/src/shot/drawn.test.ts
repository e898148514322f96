import { apply, smallShot } from '../../test/smallShot';
import * as s from './index';
import { drawnRows, heightOf } from './index';

test('a row is drawn with what its group lends it, its subject, mattes, clips and range looked up', () => {
  const shot = apply(
      smallShot(),
      s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 20], frame: 0 }),
      s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1' }),
      s.changeRow('r1', { opacity: 50, start: 1003, length: 4, clip: 'c3' }),
      s.groupRows(['r1'], 'g1'),
      s.changeGroup('g1', { track: 't1', matte: 'k2', opacity: 40, later: 2 }),
      s.addTreatment({ kind: 'group', id: 'g1' }, 'blur'),
    ),
    [row] = drawnRows(shot).of('r1');
  expect(row).toMatchObject({
    id: 'r1',
    first: 1005,
    last: 1008,
    opacity: 20,
    mount: Object.keys(shot.mounts)[0],
    limit: 'k2',
    source: 'k1',
    subjectPixels: 30,
    never: null,
  });
  expect(row!.treatments.map((t) => t.effect)).toEqual(['blur']);
  expect([row!.plate?.id, row!.clean?.id, row!.element?.id]).toEqual(['c1', 'c2', 'c3']);
  // Made once for a document.
  expect(drawnRows(shot)).toBe(drawnRows(shot));
});

test('twins follow their row; rows come from far to near; one that stands in no lane says so', () => {
  const shot = apply(
    smallShot(),
    s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 20], frame: 0 }),
    s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1' }),
    s.addRow({ id: 'r2', effect: 'ember', lane: 'background', subject: null }),
    s.addRow({ id: 'r3', effect: 'glow', lane: 'whole', subject: 's1' }),
    s.addTwin('r1', 't1'),
  );
  expect(drawnRows(shot).rows.map((r) => r.id)).toEqual(['r2', 'r1', 'r1~w1', 'r3']);
  expect(drawnRows(shot).of('r3')[0]!.never).toBe('there is no lane Whole picture where it stands');
});

test('who has no subject of its own reads the farthest one, by rank and not by age', () => {
  const shot = apply(smallShot(), s.addSubject('s0', 'Far', 'c1'), s.changeSubject('s0', { order: 'A', pixels: 12 }));
  expect(heightOf(shot, null)).toBe(12);
  expect(heightOf(shot, 's1')).toBe(30);
  expect(heightOf({ ...shot, subjects: {} }, null)).toBeCloseTo(0.55 * shot.height, 9);
});
