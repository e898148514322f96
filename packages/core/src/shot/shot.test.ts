import fc from 'fast-check';
import { apply, smallShot } from '../../test/smallShot';
import * as shot from './index';
import { applyChange, applyEdit, DOCUMENT_VERSION, independent, readShot, type Edit, type Shot } from './index';

const full = (): Shot =>
  apply(
    smallShot(),
    shot.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 20], frame: 0 }),
    shot.addCue('q1', 'lift', 1005),
    shot.addRow({ id: 'r1', effect: 'glow', lane: 'front', subject: 's1', track: 't1' }),
    shot.addRow({ id: 'r2', effect: 'dissolve', lane: 'on', subject: 's1' }),
    shot.changeRow('r2', { cue: 'q1', start: 2, length: 4 }),
    shot.addOutline('k1', 'keep inside', [
      [0, 0],
      [40, 0],
      [40, 40],
    ]),
    shot.addOccluder('h1', 'Post', 'k2'),
  );

/** Edits that a person makes, for random walks. */
const someEdits: Edit[] = [
  shot.changeClip('c1', { name: 'take two', start: 1003 }),
  shot.changeClip('c3', { role: 'performance' }),
  shot.setBase('c2'),
  shot.setShot({ last: 1020 }),
  shot.addCue('q2', 'lift', 1007),
  shot.moveCue('q1', 1002),
  shot.remove('cue', 'q1'),
  shot.correctTrack('t1', 3, { at: [31, 22] }),
  shot.remove('track', 't1'),
  shot.hangRow('r2', 't1'),
  shot.refineMatte('k1', { grow: { by: 9 }, invert: {} }),
  shot.setSourceKind('k1', 'difference'),
  shot.setSourceValues('k1', { threshold: 9 }),
  shot.setTrackKind('t1', 'pair'),
  shot.setTrackValues('t1', { pattern: 20, search: 12 }),
  shot.remove('matte', 'k1'),
  shot.remove('clip', 'c1'),
  shot.addRow({ id: 'r3', effect: 'displace', lane: 'whole', subject: null }),
  shot.duplicateRow('r1', 'r4'),
  shot.moveRow('r1', 'behind', 's1', null),
  shot.setValue('r1', 'reach', 12),
  shot.setCurvePoint('r2', 'progress', { frame: 0, value: 10, ease: 'linear' }),
  shot.remove('row', 'r2'),
  shot.remove('occluder', 'h1'),
];

test('every walk of edits leaves valid documents, and undoing it gives back the first one exactly', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: someEdits.length - 1 }), { maxLength: 12 }), (walk) => {
      const begun = full(),
        inverses: Parameters<typeof applyChange>[1][] = [];
      let now = begun;
      for (const i of walk) {
        try {
          const { shot: next, change } = applyEdit(now, someEdits[i]!);
          now = readShot(JSON.parse(JSON.stringify(next)));
          inverses.push(change.inverse);
        } catch (error) {
          // An edit of something that an earlier edit removed cannot be made, and then changes nothing.
          expect(error).toBeInstanceOf(TypeError);
        }
      }
      for (const inverse of inverses.reverse()) now = applyChange(now, inverse);
      expect(now).toEqual(begun);
    }),
    { numRuns: 150 },
  );
});

test('all defaults are stored when a row is made', () => {
  const row = full().rows.r2!;
  expect(row.values).toMatchObject({ density: 22, wind: 3, seed: 5, rimColour: '#ffb05a' });
  expect(row.version).toBe(4);
});

test('a row follows its cue, and stands where it was when the cue goes', () => {
  const document = full(),
    range = (d: Shot) => shot.rowRange(d, d.rows.r2 as shot.Row);
  expect(range(document)).toEqual([1007, 1010]);
  expect(range(apply(document, shot.moveCue('q1', 1002)))).toEqual([1004, 1007]);
  expect(range(apply(document, shot.remove('cue', 'q1')))).toEqual([1007, 1010]);
});

test('removing a track or a matte leaves no reference behind', () => {
  const without = apply(full(), shot.remove('track', 't1'), shot.remove('matte', 'k1'));
  expect([without.rows.r1!.mount, without.subjects.s1!.matte, Object.keys(without.mounts)]).toEqual([null, null, []]);
  readShot(without);
});

test('dropping two effects on one track makes one mount; one performance and one clean plate at a time', () => {
  const two = apply(full(), shot.hangRow('r2', 't1'));
  expect(Object.keys(two.mounts)).toHaveLength(1);
  expect(two.rows.r2!.mount).toBe(two.rows.r1!.mount);
  const swapped = apply(two, shot.changeClip('c3', { role: 'performance' }));
  expect([swapped.clips.c1!.role, swapped.clips.c3!.role]).toEqual(['element', 'performance']);
});

test('rows keep their depth by rank: moving, duplicating and adding', () => {
  const names = (d: Shot) => shot.rowsInOrder(d).map((r) => r.id);
  const d = apply(
    full(),
    shot.addRow({ id: 'r5', effect: 'glow', lane: 'front', subject: 's1' }),
    shot.addRow({ id: 'r6', effect: 'displace', lane: 'background', subject: null }),
    shot.addRow({ id: 'r7', effect: 'displace', lane: 'whole', subject: null }),
  );
  expect(names(d)).toEqual(['r6', 'r2', 'r1', 'r5', 'r7']);
  expect(names(apply(d, shot.moveRow('r5', 'front', 's1', null)))).toEqual(['r6', 'r2', 'r5', 'r1', 'r7']);
  expect(names(apply(d, shot.moveRow('r1', 'front', 's1', 'r5')))).toEqual(['r6', 'r2', 'r5', 'r1', 'r7']);
  const copied = apply(d, shot.duplicateRow('r1', 'r8'));
  expect(names(copied)).toEqual(['r6', 'r2', 'r1', 'r8', 'r5', 'r7']);
  expect(copied.rows.r8).toMatchObject({ name: 'Glow 3', mount: d.rows.r1!.mount, values: d.rows.r1!.values });
});

test('edits of different things are independent, of the same thing or its parts they are not', () => {
  const d = full(),
    patches = (edit: Edit) => applyEdit(d, edit).change.patches;
  const reach = patches(shot.setValue('r1', 'reach', 5)),
    strength = patches(shot.setValue('r1', 'strength', 5)),
    gone = patches(shot.remove('row', 'r1'));
  expect(independent(reach, strength)).toBe(true);
  expect(independent(reach, patches(shot.setValue('r1', 'reach', 9)))).toBe(false);
  expect(independent(gone, reach)).toBe(false);
  expect(independent(reach, gone)).toBe(false);
});

test('why a row is not visible, in plain words', () => {
  const d = full(),
    why = (document: Shot, id: string, frame: number) => shot.whyNotVisible(shot.drawnRows(document).of(id)[0]!, frame);
  expect(why(d, 'r1', 1001)).toBeNull();
  expect(why(d, 'r2', 1006)).toBe('not visible: starts at 1007');
  expect(why(d, 'r2', 1011)).toBe('not visible: ended at 1010');
  expect(why(apply(d, shot.changeRow('r1', { muted: true })), 'r1', 1001)).toBe('not visible: muted');
  expect(why(apply(d, shot.changeRow('r2', { solo: true })), 'r1', 1001)).toBe('not visible: another effect is solo');
});

describe('reading unknown documents says where and what', () => {
  interface Broken {
    version: number;
    last: number;
    mounts: Record<string, { track: string }>;
    rows: Record<string, { opacity: number; effect: string; values: Record<string, unknown>; curves: Record<string, unknown> }>;
  }
  const points = (...at: [number, number][]) => ({ points: at.map(([frame, value]) => ({ frame, value, ease: 'linear' })) });
  const cases: [string, (d: Broken) => unknown, RegExp][] = [
    [
      'a newer version',
      (d) => (d.version = DOCUMENT_VERSION + 1),
      new RegExp(`newer version \\(document version ${DOCUMENT_VERSION + 1}\\)`),
    ],
    [
      'a missing track',
      (d) => (d.mounts[Object.keys(d.mounts)[0]!]!.track = 't9'),
      /mounts\.\S+\.track \(mount Pin\): The mount names a track that is not there/,
    ],
    ['an end before the start', (d) => (d.last = 900), /at last: The last frame comes before the first/],
    ['points out of order', (d) => (d.rows.r2!.curves.progress = points([5, 1], [5, 2])), /rows\.r2\.curves\.progress\.points/],
    ['an infinite number', (d) => (d.rows.r1!.opacity = Infinity), /rows\.r1\.opacity/],
    [
      'a value beyond its range',
      (d) => (d.rows.r1!.values.reach = 5000),
      /rows\.r1\.values\.reach \(effect Glow\): Reach wants a number from 1 to 1200 px/,
    ],
    ['a choice that does not exist', (d) => (d.rows.r1!.values.from = 'nowhere'), /Source wants one of mount, matte, all/],
    ['a colour in words', (d) => (d.rows.r1!.values.tint = 'tallow'), /Tint wants a colour such as #ffb05a/],
    ['a parameter of another effect', (d) => (d.rows.r1!.values.wind = 3), /Glow has no parameter "wind"/],
    [
      'a curve of what cannot change over time',
      (d) => (d.rows.r2!.curves.seed = points([0, 1])),
      /no parameter "seed" that can change over time/,
    ],
    ['a curve beyond the range', (d) => (d.rows.r2!.curves.progress = points([0, 400])), /Progress wants a number from 0 to 100 %/],
  ];
  test.each(cases)('%s', (_, change, message) => {
    const d = JSON.parse(JSON.stringify(full())) as Broken;
    change(d);
    expect(() => readShot(d)).toThrow(message);
  });
  test('no document at all', () => expect(() => readShot(null)).toThrow(/not valid at its root/));
  test('an effect that is not known here is kept as it is', () => {
    const d = JSON.parse(JSON.stringify(full())) as Broken;
    Object.assign(d.rows.r1!, { effect: 'comet', values: { tail: 3 } });
    expect(readShot(d).rows.r1).toMatchObject({ effect: 'comet', values: { tail: 3 } });
  });
});

test('a document made by patches is checked as a whole one is, and unchanged entries stay the same objects', () => {
  const start = readShot(
    shot.applyEdit(
      shot.newShot({ code: 'HT_010', width: 64, height: 36, rate: { num: 24, den: 1 }, frames: 9 }),
      shot.addRow({ id: 'r1', effect: 'glow', lane: 'whole', subject: null }),
    ).shot,
  );
  const added = applyEdit(start, shot.addRow({ id: 'r2', effect: 'emitter', lane: 'whole', subject: null })).shot,
    read = shot.readShotAfter(start, added);
  expect(read).toEqual(readShot(added));
  expect(read.rows.r1).toBe(start.rows.r1);
  const spoiled: [string, (s: Shot) => void][] = [
    ['a value out of its range', (s) => void (s.rows.r1!.values.reach = 1e6)],
    ['a reference to nothing', (s) => void (s.rows.r1!.mount = 'm9')],
    ['a reference to what every object has', (s) => void (s.base.ground.clip = 'constructor')],
    ['an entry of another form', (s) => void (s.rows.r2 = { id: 'r2' } as never)],
    ['an entry that others name, gone', (s) => void (s.rows = null as never)],
    ['a bad number at the root', (s) => void (s.width = -4)],
  ];
  for (const [what, apply] of spoiled) {
    const changed = applyEdit(start, { name: what, apply }).shot;
    const message = (read: () => unknown) => {
      try {
        read();
        return null;
      } catch (error) {
        return (error as Error).message;
      }
    };
    expect([what, message(() => shot.readShotAfter(start, changed))]).toEqual([what, message(() => readShot(changed))]);
    expect(message(() => readShot(changed))).not.toBeNull();
  }
});
