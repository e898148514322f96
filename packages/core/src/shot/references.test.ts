import { apply, smallShot } from '../../test/smallShot';
import * as s from './index';
import { eachReference, mapOf, readShot, references, usesOf, whatGoesWith, type Shot } from './index';

/** A document in which every field of the table names something. */
const FACTS = {
    width: 64,
    height: 48,
    frames: 1,
    frameRate: { num: 24, den: 1 },
    alpha: false,
    bitDepth: 8 as const,
    transfer: 'srgb' as const,
  },
  BUILT = {
    ...{ camera: 'measured' as const, flicker: true, grain: false, first: 0, last: 11, frames: 12, drift: 0, flickered: 0, unsure: 0 },
    ...{ areas: [], doubt: null },
  };
const full = (): Shot => {
  const made = apply(
    smallShot(),
    s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 20], frame: 0 }),
    s.addTrack({ id: 't2', name: 'Hem', clip: 'c1', at: [30, 40], frame: 0 }),
    s.setTrackKind('t1', 'pair'),
    s.pairTrack('t1', 't2'),
    s.addTrack({ id: 't3', name: 'Both', clip: 'c1', at: [0, 0], frame: 0, kind: 'several' }),
    s.joinTracks('t3', ['t1', 't2']),
    s.addTrack({ id: 't5', name: 'Body', clip: 'c1', at: [0, 0], frame: 0, kind: 'matte' }),
    s.trackOfMatte('t5', 'k1'),
    s.addCue('q1', 'lift', 1005),
    s.pinCue('q1', 'c1'),
    s.addOutline('k1', 'add', [
      [0, 0],
      [9, 0],
      [9, 9],
    ]),
    s.addOccluder('h1', 'Post', 'k2'),
    s.addMatte({ id: 'k3', name: 'Both', source: 'difference', clip: 'c1' }),
    s.addSource('k3', 'matte', 'add', 'k1'),
    s.changeMatte('k3', { part: 's1' }),
    s.addRow({ id: 'r1', effect: 'beam', lane: 'front', subject: 's1', track: 't1', aim: 't2' }),
    s.addTrack({ id: 't4', name: 'Gate', clip: 'c1', at: [0, 0], frame: 0, kind: 'gate' }),
    s.changeRow('r1', { name: 'Ray', gate: 't4', cue: 'q1', start: 2, clip: 'c3', matte: 'k1', source: 'k1', pattern: 'k1', under: 'k2' }),
    s.setCurve('r1', 'core', { points: [{ frame: 0, cue: 'q1', value: 3, ease: 'linear' }] }),
    s.changeClip('c3', { cue: 'q1', start: 0 }),
    s.addTwin('r1', 't2'),
    s.addTwin('r1', 't1'),
    s.changeTwin('r1', 'w1', { aim: 't1' }),
    s.groupRows(['r1'], 'g1', 'Rays'),
    s.changeGroup('g1', { track: 't1', matte: 'k1' }),
    s.addMatte({ id: 'k4', name: 'Of the rays', source: 'row', clip: 'c1' }),
    s.setSourceNamed('k4', 'r1'),
    s.changeSubject('s1', { traces: 'k2', mount: 'm1' }),
    s.setBase('c1'),
    s.addTake('b2', 'c3', 1006),
    s.changeTake('b2', { cue: 'q1', matte: 'k1', row: 'r1' }),
    s.splitClip(smallShot(), 'c1', 1004, 'c9'),
    s.changeGround({ clip: 'c4' }),
    s.addRepair('c1', { points: [[1, 1]], radius: 4, softness: 50, clip: 'c2', frame: 0, offset: [0, 0], matched: true }),
    s.keepBuiltPlate('c10', 'c1', { path: 'built' }, FACTS, { ...BUILT, clip: 'c1', matte: 'k1' }),
  );
  return apply(made, s.rideOutline('k1', 'o1', 't1', 0, made.mattes.k1!.outlines[0]!.keys));
};

test('every place of a document that holds the id of another entity is in the table', () => {
  const shot = full(),
    ids = new Map(Object.values(mapOf).flatMap((map) => Object.keys(shot[map]).map((id) => [id, map] as const))),
    listed = new Set<string>(),
    there = new Set<string>();
  eachReference(shot, ({ path }, holder) => listed.add([...(holder ? [mapOf[holder.of], holder.id] : []), ...path].join('.')));
  const walk = (value: unknown, path: string[]) => {
    if (typeof value === 'string' && ids.has(value) && path.at(-1) !== 'id') there.add(path.join('.'));
    else if (value && typeof value === 'object') for (const [key, inner] of Object.entries(value)) walk(inner, [...path, key]);
  };
  walk(shot, []);
  expect([...there].sort()).toEqual([...listed].sort());
  const fields = [...listed].map((path) => path.replace(/\.\d+\./, '.#.').replace(/^(?!base)(\w+)\.\w+/, '$1'));
  expect(new Set(fields).size).toBe(references.length);
});

test('a document that names what is not there is refused, with the very field', () => {
  const shot = full();
  eachReference(shot, ({ path }, holder) => {
    const copy = structuredClone(shot),
      where = [...(holder ? [mapOf[holder.of], holder.id] : []), ...path],
      at = where.slice(0, -1).reduce((o, key) => (o as Record<string, unknown>)[key] as object, copy as object);
    (at as Record<string, unknown>)[where.at(-1)!] = 'gone';
    expect(() => readShot(copy)).toThrow(`not valid at ${where.join('.')}`);
  });
});

test('removing anything leaves a document that is valid, and names everything else that went', () => {
  for (const kind of s.kinds)
    for (const id of Object.keys(full()[mapOf[kind]])) {
      const left = apply(full(), s.remove(kind, id));
      expect(readShot(left)).toEqual(left);
      expect(usesOf(left, kind, id)).toEqual([]);
    }
  const words = whatGoesWith(full(), 'track', 't1');
  expect(words).toBe(
    'Also removed: twin of Ray, part of Both. No longer connected: Rays, twin of Ray (aim), Ray, mount of Body, outline of Body.',
  );
  expect(whatGoesWith(full(), 'matte', 'k2')).toMatch(/Also removed: occluder Post\./);
  expect(whatGoesWith(full(), 'clip', 'c1')).toMatch(
    /Also removed: subject Body, effect Ray, source of Of the rays, track Gate, track Body, track Both, track Hem, track Pin, clip performance 2, take of the base\./,
  );
  expect(whatGoesWith(full(), 'row', 'r1')).toBe('Also removed: source of Of the rays. No longer connected: transition of the base.');
});

test('an effect keeps the frame at which it begins when its cue goes', () => {
  const shot = apply(full(), s.remove('cue', 'q1'));
  expect(shot.rows.r1).toMatchObject({ cue: null, start: 1007 });
});

test('only a pair has another track', () => {
  const shot = full();
  expect(apply(shot, s.pairTrack('t2', 't1')).tracks.t2).toEqual(shot.tracks.t2);
});
