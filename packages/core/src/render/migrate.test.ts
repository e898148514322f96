import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { HEIGHT, smallShot, smallSources, WIDTH } from '../../test/smallShot';
import { effects, type StoredValue } from '../effects';
import { encodeCodes } from '../image';
import type { TrackSample } from '../motion';
import { DOCUMENT_VERSION, isOlder, readShot } from '../shot';
import { readRecipe } from '../recipes';
import { FrameRenderer } from './renderFrame';

/** Documents as earlier versions stored them, each with the pictures that it must give for good (8-bit codes of the small shot). */
interface Kept {
  document: { version: number };
  samples: Record<string, TrackSample[]>;
  pictures: Record<string, string>;
}
const folder = fileURLToPath(new URL('../../test/documents', import.meta.url)),
  names = readdirSync(folder),
  read = (name: string) => JSON.parse(readFileSync(join(folder, name), 'utf8')) as Kept;

test('there is a kept document of every version before this one', () => {
  const versions = new Set(names.map((name) => read(name).document.version));
  for (let version = 1; version < DOCUMENT_VERSION; version++) expect(versions).toContain(version);
});

test.each(names)('%s is read, and still gives its pictures', async (name) => {
  const { document, samples, pictures } = read(name),
    shot = readShot(document);
  expect(isOlder(document)).toBe(true);
  expect(isOlder(shot)).toBe(false);
  // What was brought up to date once stays as it is.
  expect(readShot(JSON.parse(JSON.stringify(shot)))).toEqual(shot);
  expect(Object.keys(pictures).length).toBeGreaterThan(0);
  for (const [frame, picture] of Object.entries(pictures)) {
    const renderer = new FrameRenderer(smallSources(8, samples), { width: WIDTH, height: HEIGHT }, 64 * 2 ** 20, undefined, false),
      codes = await renderer.renderFrame({ shot, frame: Number(frame) }, (p, _, arena) =>
        Buffer.from(encodeCodes(p, { bits: 8, channels: 3, frame: Number(frame) }, arena) as Uint8Array),
      );
    expect(codes.equals(Buffer.from(picture, 'base64'))).toBe(true);
  }
});

test('version 1: a matte keeps the values of its own source alone, and a track says its kind', () => {
  const shot = readShot(read('v1-full.json').document);
  expect(shot.mattes.k3!.sources[0]!.source).toEqual({
    ...{ kind: 'difference', clip: null, looks: 'each pixel that differs' },
    ...{ threshold: 6, softness: 3, smooth: 3, shadow: 'dropped' },
  });
  expect(shot.mattes.k4!.sources[0]!.source).toMatchObject({ kind: 'colour area', takes: 'what is connected', connected: [30, 20] });
  expect(shot.mattes.k5).toMatchObject({ sources: [], clip: null });
  expect(shot.tracks.t1).toMatchObject({ kind: 'pair', pair: 't2', pattern: 31 });
  expect(shot.tracks.t2).toMatchObject({ kind: 'point' });
  expect('pair' in shot.tracks.t2!).toBe(false);
  const first = readShot(read('v1-first.json').document);
  expect(first.groups).toEqual({});
  expect(first.rows.r1).toMatchObject({ aim: null, twins: [], treatments: [] });
});

test('version 2: an outline rides from a frame of its clip on, and the base is takes', () => {
  const shot = readShot(read('v2-riding.json').document);
  expect(shot.mattes.k3!.outlines[0]!.mountFrame).toBe(2);
  expect(shot.base.takes).toMatchObject([{ id: 'b1', clip: 'c1' }]);
  expect(shot.base.ground.values.ground).toBe('nothing');
  expect(shot.subjects.s1).toMatchObject({ detached: false, placed: { values: { size: 100, shift: [0, 0] } } });
  // What was drawn on a clip of twice the size was in pixels of the shot.
  const old = read('v2-riding.json').document as unknown as { clips: Record<string, Record<string, unknown>> },
    large = readShot({ ...old, clips: { ...old.clips, c1: { ...old.clips.c1, width: 128, height: 96 } } });
  expect(large.mattes.k3!.outlines[0]!).toMatchObject({
    values: { feather: 6, grow: 0, opacity: 100 },
    keys: [{ vertices: [{ x: 52, y: 28, inner: 0 }, { x: 76, y: 28 }, {}, {}] }],
  });
});

test('version 3: no clip is a part of another, each has the light that was filmed, and no effect leads a take', () => {
  const shot = readShot(read('v3-placed.json').document);
  expect(shot.clips.c1).toMatchObject({ continues: null, placed: { values: { red: 100, green: 100, blue: 100, speed: 50 } } });
  expect(shot.base.takes.map((take) => take.row)).toEqual([null, null]);
});

test('version 5: clips are read as all were, and a sequence has no gaps', () => {
  const shot = readShot(read('v5-made.json').document);
  expect(shot.clips.c1).toMatchObject({ transfer: 'srgb', primaries: 'rec709', premultiplied: false, lut: null, missing: [] });
  expect(shot.clips.c2).toMatchObject({ gaps: 'the picture before', made: { clip: 'c1', unsure: 0.02 } });
});

test('version 6: what was set of a track by hand was its place, and mounts carried as they do by default', () => {
  const shot = readShot(read('v6-corrected.json').document);
  expect(shot.tracks.t1).toMatchObject({ corrections: { 3: { at: [34, 20] } }, smoothing: 0, reach: 0, channel: 'brightness' });
  expect(shot.mounts.m1).toMatchObject({ offset: [2, -1], takes: 'all of it', lost: 'goes between', trails: 0, fade: 0, time: 'follows' });
});

test('a newer document is refused, and nothing of it is changed', () => {
  expect(() => readShot({ ...smallShot(), version: DOCUMENT_VERSION + 1 })).toThrow(
    new RegExp(`newer version \\(document version ${DOCUMENT_VERSION + 1}\\); nothing was changed`),
  );
});

test('version 9: no detached subject was blurred by its moves, and groups were laid on row by row', () => {
  const shot = readShot(read('v9-full.json').document);
  expect(shot.subjects.s1!.placed.values.shutter).toBe(0);
  expect(shot.groups.g1).toMatchObject({ asOne: false, blend: 'normal' });
});

test('version 10: what effects drew stayed as it was drawn', () => {
  expect(readShot(read('v10-full.json').document).base.match).toEqual({ grain: 0, edges: 'as they are drawn' });
});

describe('an effect with a new version', () => {
  const ember = effects.ember!,
    before = { version: ember.version, upgrade: ember.upgrade };
  beforeAll(() => {
    ember.version = 2;
    // Reach was called size, and was a diameter.
    ember.upgrade = ({ values: { size, ...values }, curves: { size: curve, ...curves } }) => ({
      values: size === undefined ? values : { ...values, reach: (size as number) / 2 },
      curves: curve ? { ...curves, reach: { points: curve.points.map((p) => ({ ...p, value: p.value / 2 })) } } : curves,
    });
  });
  afterAll(() => void Object.assign(ember, before));
  const curve = { points: [{ frame: 0, value: 40, ease: 'linear' as const }] },
    values: Record<string, StoredValue> = { size: 30, strength: 120 };

  test('brings values, curves, twins, treatments and recipes of the old one along', () => {
    const shot = smallShot(),
      treatment = { id: 'x1', effect: 'ember', version: 1, muted: false, values },
      row = {
        ...{ id: 'r1', name: 'Eye', effect: 'ember', version: 1, lane: 'front', subject: 's1', order: 'a0', muted: false, solo: false },
        ...{
          opacity: 100,
          blend: 'screen',
          cue: null,
          gate: null,
          start: 1001,
          length: 12,
          curveTiming: 'from its start',
          mount: null,
          aim: null,
          clip: null,
          matte: null,
        },
        ...{ source: null, under: null, group: 'g1', values, curves: { size: curve }, treatments: [treatment] },
        strokes: [],
        pattern: null,
        twins: [{ id: 'w1', mount: null, aim: null, mirrored: false, values: { size: 20 } }],
      },
      group = {
        id: 'g1',
        name: 'Eyes',
        muted: false,
        opacity: 100,
        later: 0,
        mount: null,
        matte: null,
        ...{ asOne: false, blend: 'normal' },
        treatments: [treatment],
      },
      read = readShot({ ...shot, rows: { r1: row }, groups: { g1: group } }),
      { rows, groups } = read;
    expect(rows.r1).toMatchObject({ version: 2, values: { reach: 15, strength: 120 }, curves: { reach: { points: [{ value: 20 }] } } });
    expect(rows.r1!.values.size).toBeUndefined();
    expect(rows.r1!.twins[0]!.values).toEqual({ reach: 10 });
    expect(rows.r1!.treatments[0]).toMatchObject({ version: 2, values: { reach: 15 } });
    expect(groups.g1!.treatments[0]).toMatchObject({ version: 2, values: { reach: 15 } });
    const recipe = readRecipe({
      ...{ kind: 'wraithos recipe', version: 1, name: 'Old eye', effect: 'ember', effectVersion: 1, lane: 'front', opacity: 100 },
      ...{ blend: 'screen', length: null, values: { size: 0.1 }, curves: {}, treatments: [] },
    });
    expect(recipe).toMatchObject({ version: 1, effectVersion: 2, values: { reach: 0.05 } });
  });
});
