import { apply, smallShot } from '../../test/smallShot';
import { effects, valueProblems } from '../effects';
import {
  addCue,
  addClip,
  addMatte,
  addRow,
  addSubject,
  addTwin,
  changeRow,
  groupRows,
  addTrack,
  applyEdit,
  changeSubject,
  newShot,
  readShot,
  setCurve,
  type Row,
  type Shot,
} from '../shot';
import {
  ownRecipes,
  missing,
  ownRecipesFor,
  packRows,
  readPacked,
  readRecipe,
  unpackRows,
  recipeOf,
  rowFromRecipe,
  suggestedValues,
} from './index';

const clip = {
  name: 'plate',
  role: 'performance' as const,
  media: { path: 'p.mp4' },
  width: 1280,
  height: 720,
  frames: 96,
  rate: { num: 24, den: 1 },
  alpha: false,
  bits: 8 as const,
  transfer: 'srgb' as const,
  start: 1001,
};
function shotWith(pixels: number | null): Shot {
  const edits = [
    addClip(clip, 'c1'),
    addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [10, 10], frame: 0 }),
    ...(pixels ? [addSubject('s1', 'Ilse', 'c1'), changeSubject('s1', { pixels })] : []),
  ];
  return edits.reduce(
    (shot, edit) => applyEdit(shot, edit).shot,
    newShot({ code: 'TW_010', title: '', width: 1280, height: 720, rate: { num: 24, den: 1 }, frames: 96 }),
  );
}
const row = (shot: Shot, effect: string, name: string): Row =>
  rowFromRecipe(
    shot,
    ownRecipesFor(effect).find((r) => r.name === name)!,
    { id: 'r1', subject: shot.subjects.s1 ? 's1' : null, mount: null, frame: 1010 },
  );

test('every effect that a shot is made of has at least three recipes, each with a name of its own', () => {
  for (const type of Object.keys(effects)) expect([type, ownRecipesFor(type).length >= 3]).toEqual([type, true]);
  expect(new Set(ownRecipes.map((r) => r.name)).size).toBe(ownRecipes.length);
});

test.each(ownRecipes.map((r) => [r.effect, r.name, r] as const))(
  '%s, %s makes a valid row on a tall, a small and no subject',
  (_, __, recipe) => {
    for (const pixels of [860, 60, null]) {
      const shot = shotWith(pixels),
        made = rowFromRecipe(shot, recipe, { id: 'r1', subject: pixels ? 's1' : null, mount: null, frame: 1010 });
      expect(valueProblems(effects[made.effect]!, made.values, made.curves)).toEqual([]);
      expect(effects[made.effect]!.lanes).toContain(made.lane);
      expect(() => readShot({ ...shot, rows: { r1: made } })).not.toThrow();
      expect(made.start + made.length - 1).toBeLessThanOrEqual(shot.last);
    }
  },
);

test('lengths and offsets follow the height of the subject, other values do not', () => {
  const tall = row(shotWith(860), 'beam', 'Cold lamp'),
    small = row(shotWith(215), 'beam', 'Cold lamp');
  for (const name of ['core', 'halo', 'impact']) expect((tall.values[name] as number) / (small.values[name] as number)).toBeCloseTo(4, 2);
  expect((tall.values.place as number[])[0]! / (small.values.place as number[])[0]!).toBeCloseTo(4, 2);
  for (const name of ['travel', 'haloColour', 'haloStrength', 'seed']) expect(tall.values[name]).toEqual(small.values[name]);
});

test('a row becomes a recipe and a row again, the same on its own shot', () => {
  const shot = shotWith(430),
    made: Row = {
      ...row(shot, 'dissolve', 'Moths at dusk'),
      curves: {
        size: {
          points: [
            { frame: 0, value: 2, ease: 'linear' },
            { frame: 9, value: 4, ease: 'linear' },
          ],
        },
      },
      treatments: [{ id: 'x', effect: 'blur', version: 1, muted: false, values: { kind: 'even', radius: 8 } }],
    },
    recipe = readRecipe(JSON.parse(JSON.stringify(recipeOf(shot, made, 'Mine')))),
    back = rowFromRecipe(shot, recipe, { id: 'r2', subject: 's1', mount: null, frame: 1010 });
  expect(recipe.values.extent as number).toBeCloseTo(440 / 430, 3);
  expect(back.values).toEqual(made.values);
  expect(back.curves).toEqual(made.curves);
  expect(back.treatments[0]!.values).toEqual({ kind: 'even', radius: 8 });
  const twice = rowFromRecipe(shotWith(860), recipe, { id: 'r2', subject: 's1', mount: null, frame: 1010 });
  expect(twice.curves.size!.points.map((p) => p.value)).toEqual([4, 8]);
  expect(twice.treatments[0]!.values.radius).toBe(16);
});

test('what is no recipe is turned away with what is wrong', () => {
  expect(() => readRecipe({})).toThrow(/not a recipe/);
  expect(() => readRecipe({ ...ownRecipes[0], values: { density: 1e9 } })).toThrow(/Flakes wants a number/);
  expect(() => readRecipe({ ...ownRecipes[0], name: ' ' })).toThrow(/needs a name/);
  const shot = shotWith(null);
  expect(() => rowFromRecipe(shot, { ...ownRecipes[0]!, effect: 'unknown' }, { id: 'r', subject: null, mount: null, frame: 1 })).toThrow(
    /not known here/,
  );
  expect(() => rowFromRecipe(shot, { ...ownRecipes[0]!, effectVersion: 99 }, { id: 'r', subject: null, mount: null, frame: 1 })).toThrow(
    /newer version/,
  );
});

test('suggestions begin at the playhead where an effect happens at a moment, and fit the shot', () => {
  const shot = shotWith(430);
  for (const type of Object.keys(effects)) {
    const { values, curves, start, length, aim } = suggestedValues(type, shot, 't1', 1090);
    expect(valueProblems(effects[type]!, values ?? {}, curves ?? {})).toEqual([]);
    if (start !== undefined) expect([type, start, start + length! - 1 <= shot.last]).toEqual([type, 1090, true]);
    // There is no second track to aim at.
    expect(aim).toBeUndefined();
  }
  expect(suggestedValues('beam', shot, null, 1001).aim).toBe('t1');
  expect(suggestedValues('dissolve', shot, null, 1001).curves!.progress!.points[1]!.value).toBe(100);
});

describe('rows carried to another shot', () => {
  const from = [
      addMatte({ id: 'k1', name: 'Hand', source: null, clip: null }),
      addTrack({ id: 't2', name: 'Lantern', clip: 'c1', at: [10, 10], frame: 0 }),
      addCue('q1', 'lamp', 1020),
      addRow({ id: 'r1', effect: 'beam', lane: 'front', subject: 's1', track: 't1', aim: 't2', values: { core: 10 } }),
      changeRow('r1', { under: 'k1', cue: 'q1', start: 3 }),
      addRow({ id: 'r2', effect: 'ember', lane: 'front', subject: 's1', track: 't1', values: { place: [8, 0] } }),
      addTwin('r2', 't2', true),
      groupRows(['r1', 'r2'], 'g1', 'Lights'),
    ].reduce((shot, e) => applyEdit(shot, e).shot, shotWith(400)),
    packed = readPacked(JSON.stringify(packRows(from, ['r1', 'r2'])))!;
  test('to its own shot they come whole, under new names, in a group of their own', () => {
    expect(missing(from, packed)).toEqual([]);
    const to = applyEdit(from, unpackRows(from, packed)).shot,
      copies = Object.values(to.rows).filter((r) => !['r1', 'r2'].includes(r.id));
    expect(copies.map((r) => r.name)).toEqual(['Beam 2', 'Ember 2']);
    expect(copies[0]).toMatchObject({
      mount: from.rows.r1!.mount,
      aim: from.rows.r1!.aim,
      under: 'k1',
      cue: 'q1',
      start: 3,
      values: { core: 10 },
    });
    expect(copies[1]!.twins[0]).toMatchObject({ mount: from.rows.r2!.twins[0]!.mount, mirrored: true });
    expect(new Set(copies.map((r) => r.group)).size).toBe(1);
    expect(copies[0]!.group).not.toBe('g1');
    expect(() => readShot(JSON.parse(JSON.stringify(to)))).not.toThrow();
  });
  test('to another shot they take what has the same name, ask for the rest, and fit its subject', () => {
    const other = shotWith(200);
    expect(
      missing(other, packed)
        .map((r) => `${r.kind} ${r.name}`)
        .sort(),
    ).toEqual(['cue lamp', 'matte Hand', 'track Lantern']);
    const to = applyEdit(other, unpackRows(other, packed, { 'track Lantern': 't1' })).shot,
      [beamed, embers] = Object.values(to.rows);
    expect(beamed).toMatchObject({ under: null, cue: null, start: to.first, values: { core: 5 } });
    expect(to.mounts[beamed!.aim!]!.track).toBe('t1');
    expect(embers!.values.place).toEqual([4, 0]);
    expect(() => readShot(JSON.parse(JSON.stringify(to)))).not.toThrow();
    // Nothing chosen: nothing in its place.
    const bare = Object.values(applyEdit(other, unpackRows(other, packed)).shot.rows)[0]!;
    expect([bare.mount !== null, bare.aim]).toEqual([true, null]);
    expect(readPacked('{"kind": "something"}')).toBeNull();
    expect(readPacked('no json')).toBeNull();
  });
  test('what an earlier version copied is brought up to date; what a newer one copied is not read', () => {
    const old = JSON.parse(JSON.stringify(packRows(from, ['r1', 'r2']))) as Record<string, Record<string, Record<string, unknown>>> & {
        rows: { values: Record<string, unknown>; version: number }[];
      },
      { document: _, ...unsaid } = old;
    // Groups were laid on row by row, and a beam had no shutter.
    for (const group of Object.values(old.groups!)) for (const field of ['asOne', 'blend']) delete group[field];
    old.rows[0]!.version = 1;
    for (const name of ['shutter', 'path']) delete old.rows[0]!.values[name];
    for (const text of [JSON.stringify(unsaid), JSON.stringify({ ...unsaid, document: 9 })]) {
      const read = readPacked(text)!;
      expect(Object.values(read.groups)[0]).toMatchObject({ name: 'Lights', asOne: false, blend: 'normal' });
      expect(read.rows[0]).toMatchObject({ version: from.rows.r1!.version, values: { shutter: 0, core: 10 } });
      expect(read.rows.map((row) => row.name)).toEqual(['Beam', 'Ember']);
      expect(() => readShot(JSON.parse(JSON.stringify(applyEdit(from, unpackRows(from, read)).shot)))).not.toThrow();
    }
    expect(readPacked(JSON.stringify({ ...packed, document: 99 }))).toBeNull();
    expect(readPacked(JSON.stringify({ ...packed, rows: [null] }))).toBeNull();
  });
});

test('points of curves that move with a cue are kept in a recipe, and carried, where they stand', () => {
  const point = { frame: 0, value: 0, ease: 'linear' as const },
    shot = apply(
      smallShot(),
      addCue('q1', 'hit', 1006),
      addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1' }),
      changeRow('r1', { start: 1002, length: 8 }),
      setCurve('r1', 'strength', { points: [point, { ...point, cue: 'q1', value: 9 }] }),
    ),
    frames = (curves: Row['curves']) => curves.strength!.points.map((p) => [p.frame, p.cue]);
  expect(frames(recipeOf(shot, shot.rows.r1!, 'kept').curves)).toEqual([
    [0, undefined],
    [4, undefined],
  ]);
  expect(frames(packRows(shot, ['r1']).rows[0]!.curves as Row['curves'])).toEqual([
    [0, undefined],
    [4, undefined],
  ]);
});
