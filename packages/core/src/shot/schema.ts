import { z } from 'zod';
import { blendNames } from '../image/blend';
import { primariesNames } from '../image/primaries';
import { transferNames } from '../image/transfer';
import type { MatteMode } from '../matte/modes';
import { outlineParams } from '../matte/outlineParams';
import { carriageParams, type Carriage } from '../motion/carriage';
import { kindsOfTrack, trackKinds, type StoredKind } from '../motion/kinds';
import { correctionSchema } from '../motion/samples';
import { drawnBy, lanes, type Lane } from '../effects';
import { valueProblems, valuesShape } from '../params';
import { cameras } from '../plate/drift';
import { clipPlacing, groundKind, matchKind, subjectPlacing, transitionKind } from '../placing';
import { sentenceOf, wordsOf } from '../words';
import { curvesSchema, finite, frame, id, name, pair, placedSchema, size, valuesSchema } from './fields';
import { mattesWithin } from './madeOf';
import { matteSchema, outlineSchema } from './matteSchema';
import { DOCUMENT_VERSION, migrate } from './migrate';
import { eachReference, kinds, kindTitles, mapOf } from './references';
import { waitsForItself } from './waiting';

export const clipRoles = ['performance', 'clean', 'element', 'reference'] as const;
export const rateSchema = z.object({ num: z.number().int().min(1).max(240_000), den: z.number().int().min(1).max(10_000) });

/** Media by the server's content hash, or (command line) by a path beside the document. */
export const mediaSchema = z.union([
  z.object({ hash: z.string().regex(/^[0-9a-f]{64}$/) }),
  z.object({ path: z.string().min(1).max(4096) }),
]);

/** A table for colours, kept as a medium: triples of floats in rows of `size`, and the values that its sides stand for. */
export const lutSchema = z.object({
  name,
  media: mediaSchema,
  kind: z.enum(['curves', 'cube']),
  size: z.number().int().min(2).max(65536),
  low: z.tuple([finite, finite, finite]),
  high: z.tuple([finite, finite, finite]),
});
/** A stroke of a soft brush that lays pixels of another place, frame or clip over a clip's own. All in pixels of the clip. */
export const repairSchema = z.object({
  id,
  /** The way of the brush's middle. */
  points: z.array(pair).min(1).max(5000),
  radius: finite.min(0.5).max(2000),
  /** Share of the radius over which it fades out, 0..100 per cent. */
  softness: finite.min(0).max(100),
  /** The clip that its pixels come from; null for the same. */
  clip: id.nullable(),
  /** The frame of that clip, where the repaired clip is a still; else by how many frames the source is later. */
  frame: z.number().int().min(-1_000_000).max(1_000_000),
  /** Where its pixels come from, as seen from where they are laid. */
  offset: pair,
  /** They are made as bright as what is around the stroke. */
  matched: z.boolean(),
});
export const gapsShow = ['the picture before', 'black'] as const;

/** How a clean plate was built from a moving clip, so that it can be looked into and built again. */
export const madePlateSchema = z.object({
  /** The clip that it was built from; null where that one was removed. */
  clip: id.nullable(),
  camera: z.enum(cameras),
  flicker: z.boolean(),
  grain: z.boolean(),
  /** First and last frame of the clip that were looked at. */
  first: z.number().int().min(0),
  last: z.number().int().min(0),
  /** The matte of what was left out. */
  matte: id.nullable(),
  /** What came of it: see `PlateReport`. */
  frames: z.number().int().min(1),
  drift: finite.min(0),
  flickered: finite.min(0),
  unsure: z.number().min(0).max(1),
  areas: z.array(z.object({ x: finite, y: finite, width: finite, height: finite, share: z.number().min(0).max(1) })).max(20),
  /** A picture, of the size of the clip, of how little is known of each pixel; null where nothing is unsure, and where it was not kept. */
  doubt: z.object({ hash: z.string().regex(/^[0-9a-f]{64}$/) }).nullable(),
});

export const clipSchema = z.object({
  id,
  name,
  role: z.enum(clipRoles),
  media: mediaSchema,
  width: size,
  height: size,
  frames: z.number().int().min(1).max(1_000_000),
  rate: rateSchema,
  alpha: z.boolean(),
  /** How deep its codes are; 32 are floats. */
  bits: z.union([z.literal(8), z.literal(16), z.literal(32)]),
  transfer: z.enum(transferNames),
  primaries: z.enum(primariesNames),
  /** Its colours were multiplied with its alpha. */
  premultiplied: z.boolean(),
  /** A table that its codes go through before the transfer curve: what undoes a camera's log. */
  lut: lutSchema.nullable(),
  /** Frames that its sequence has no picture for, first and last of each gap; the one before stands there. */
  missing: z.array(z.tuple([z.number().int().min(0), z.number().int().min(0)])).max(1000),
  /** What shows in them. */
  gaps: z.enum(gapsShow),
  /** Strokes that lay other pixels over its own. */
  repairs: z.array(repairSchema).max(500),
  /** For a clean plate: its light follows that of the performance from frame to frame. */
  matchLight: z.boolean(),
  /** The clip that it goes on with from its start on, where that one was split: what was measured on the one belongs to both. */
  continues: id.nullable(),
  /** How it was built, for a clean plate that was. */
  made: madePlateSchema.nullable(),
  /** The first of its frames that play stands at the cue's frame plus `start`, or at the shot frame `start` itself without a cue. */
  cue: id.nullable(),
  start: frame,
  /** How it stands on the shot's time and in its picture: values and curves of `clipParams`, curves over the frames since then. */
  placed: placedSchema,
});

/** A moment that things hang on. */
export const cueSchema = z.object({
  id,
  name,
  /** Frame of the shot, or of the clip that it is pinned to and moves with. */
  frame,
  clip: id.nullable(),
});
const trackShape = {
  id,
  name,
  clip: id,
  /** Where it was placed, clip pixels, and the clip frame at which. */
  at: pair,
  frame: z.number().int().min(0),
  /** Content hash of the measured samples; null before the first measurement. */
  samples: z.string().nullable(),
  /** Places set by hand, by clip frame; they win over what was measured. */
  corrections: z.record(z.string().regex(/^\d+$/), correctionSchema),
};
type TrackShape = z.infer<z.ZodObject<typeof trackShape>>;
/** Each kind of track with what all have and its own values, so that none carries another kind's. */
export const trackSchema = z.discriminatedUnion(
  'kind',
  kindsOfTrack.map((kind) =>
    z.strictObject({
      ...trackShape,
      kind: z.literal(kind),
      ...valuesShape(trackKinds[kind].params),
      ...(trackKinds[kind].joins === 'pair' ? { pair: id.nullable() } : {}),
      ...(trackKinds[kind].joins === 'several' ? { tracks: z.array(z.object({ track: id })) } : {}),
      ...(trackKinds[kind].joins === 'matte' ? { matte: id.nullable() } : {}),
    }),
  ) as never,
) as unknown as z.ZodType<TrackShape & StoredKind>;
/** What hangs on a track: its place against it, pixels of the body, and how it is carried. */
export const mountSchema = z.object({ id, name, track: id, offset: pair, ...valuesShape(carriageParams) }) as unknown as z.ZodType<
  { id: string; name: string; track: string; offset: [number, number] } & Carriage
>;

export const subjectSchema = z.object({
  id,
  name,
  clip: id,
  matte: id.nullable(),
  traces: id.nullable(),
  mount: id.nullable(),
  order: z.string(),
  /** Real height in metres and its height on the picture in pixels: weight and scale follow from them. */
  metres: finite.min(0.01).max(1000),
  pixels: finite.min(1).max(8192),
  /** Taken out of the base everywhere, and laid back with its own place and time (`placed`: values and curves of `subjectParams` over the shot). */
  detached: z.boolean(),
  placed: placedSchema,
});
/** One take of the base: a clip from a moment on. */
export const takeSchema = z.object({
  id,
  clip: id,
  /** It comes in at the cue's frame plus `start`, or at `start` itself without a cue. The first take is there from the beginning. */
  cue: id.nullable(),
  start: frame,
  /** Leads a transition: a matte, or an effect whose front lets the take in. */
  matte: id.nullable(),
  row: id.nullable(),
  values: valuesSchema,
});
/** What everything stands on: takes one after another, and what lies behind them. */
export const baseSchema = z.object({
  takes: z.array(takeSchema).max(200),
  ground: z.object({ clip: id.nullable(), values: valuesSchema }),
  /** How what effects draw is made to look filmed: values of `matchParams`. */
  match: valuesSchema,
});
const outlineKind = { title: 'Outline', params: outlineParams };
export const occluderSchema = z.object({ id, name, matte: id });

/** Another place where the same row stands: what it hangs on there, and the values in which it differs. */
export const twinSchema = z.object({
  id,
  mount: id.nullable(),
  aim: id.nullable(),
  /** The other side: offsets and directions are mirrored left to right. */
  mirrored: z.boolean(),
  values: valuesSchema,
});
/** A change of what a row gives before it is laid on: an effect that changes a picture. */
export const treatmentSchema = z.object({
  id,
  effect: z.string().min(1).max(60),
  version: z.number().int().min(1),
  muted: z.boolean(),
  values: valuesSchema,
});
/** Rows that are handled as one. */
export const groupSchema = z.object({
  id,
  name,
  muted: z.boolean(),
  opacity: finite.min(0).max(100),
  /** Frames by which all of its rows are later. */
  later: z.number().int().min(-1_000_000).max(1_000_000),
  /** Where those of its rows hang that hang on nothing themselves, and what limits those that nothing limits. */
  mount: id.nullable(),
  matte: id.nullable(),
  /** Those of its rows that stand together are put into one picture, which is then laid on by `blend`. */
  asOne: z.boolean(),
  blend: z.enum(blendNames),
  treatments: z.array(treatmentSchema).max(20),
});
export const curveTimings = ['from its start', 'with its length'] as const;
export const rowSchema = z.object({
  id,
  name,
  effect: z.string().min(1).max(60),
  version: z.number().int().min(1),
  lane: z.enum(lanes as readonly [Lane, ...Lane[]]),
  subject: id.nullable(),
  order: z.string(),
  muted: z.boolean(),
  solo: z.boolean(),
  opacity: finite.min(0).max(100),
  blend: z.enum(blendNames),
  /** The first frame is the cue's frame plus `start`, or `start` itself without a cue. */
  cue: id.nullable(),
  start: frame,
  length: z.number().int().min(1).max(1_000_000),
  /** The gate that lets it show. */
  gate: id.nullable(),
  /** What its curves do where its length changes. */
  curveTiming: z.enum(curveTimings),
  mount: id.nullable(),
  /** The mount that it reaches for, where its effect goes from one to another. */
  aim: id.nullable(),
  /** The element whose pictures it draws. */
  clip: id.nullable(),
  matte: id.nullable(),
  source: id.nullable(),
  /** The matte whose values say in which order it arrives, bright first. */
  pattern: id.nullable(),
  /** Parts that stay above it: what was there before shows again through this matte. */
  under: id.nullable(),
  group: id.nullable(),
  twins: z.array(twinSchema).max(40),
  treatments: z.array(treatmentSchema).max(20),
  /** Where the front of its arrival stands on a frame, counted from its first: lines in the coordinates of what its mount is on. */
  strokes: z.array(z.strictObject({ id, frame: z.number().int().min(0).max(1_000_000), points: z.array(pair).min(1).max(2000) })).max(60),
  values: valuesSchema,
  curves: curvesSchema,
});

/** The form of a shot, entry by entry; what its entries name of each other is looked at by `crossCheck`. */
const shotShape = z.object({
  version: z.literal(DOCUMENT_VERSION),
  code: name,
  title: z.string().max(200),
  width: size,
  height: size,
  rate: rateSchema,
  first: frame,
  last: frame,
  base: baseSchema,
  clips: z.record(id, clipSchema),
  cues: z.record(id, cueSchema),
  tracks: z.record(id, trackSchema),
  mounts: z.record(id, mountSchema),
  mattes: z.record(id, matteSchema),
  subjects: z.record(id, subjectSchema),
  occluders: z.record(id, occluderSchema),
  rows: z.record(id, rowSchema),
  groups: z.record(id, groupSchema),
});

/**
 * Looks at everything that entries name of each other, and at the values of effects.
 * @param known a document that was looked at before: rows that are the very same objects in it need no second look at their values.
 */
function crossCheck(
  shot: z.infer<typeof shotShape>,
  need: (ok: boolean, path: (string | number)[], message: string) => void,
  known?: Shot,
): void {
  need(shot.last >= shot.first, ['last'], 'The last frame comes before the first.');
  need(shot.last - shot.first < 100_000, ['last'], 'A shot holds at most 100,000 frames.');
  const checkTreatments = (list: readonly Treatment[], path: (string | number)[]) =>
    list.forEach((t, i) => {
      const effect = drawnBy(t);
      if (effect)
        for (const { path: at, message } of valueProblems(effect, t.values, {})) need(false, [...path, 'treatments', i, ...at], message);
    });
  eachReference(shot, ({ reference, id: named, path }, holder) => {
    if (Object.hasOwn(shot[mapOf[reference.names]], named)) return;
    need(
      false,
      [...(holder ? [mapOf[holder.of], holder.id] : []), ...path],
      `The ${holder ? kindTitles[holder.of] : 'shot'} names a ${kindTitles[reference.names]} that is not there.`,
    );
  });
  const placed = (map: 'clips' | 'subjects', kind: typeof clipPlacing | typeof subjectPlacing) => {
    for (const it of Object.values(shot[map])) {
      if (known?.[map][it.id] === it) continue;
      for (const { path, message } of valueProblems(kind, it.placed.values, it.placed.curves))
        need(false, [map, it.id, 'placed', ...path], message);
    }
  };
  placed('clips', clipPlacing);
  placed('subjects', subjectPlacing);
  for (const { path, message } of valueProblems(matchKind, shot.base.match, {})) need(false, ['base', 'match', ...path], message);
  for (const { path, message } of valueProblems(groundKind, shot.base.ground.values, {})) need(false, ['base', 'ground', ...path], message);
  for (const matte of Object.values(shot.mattes)) {
    need(
      !mattesWithin(shot, matte.id).has(matte.id),
      ['mattes', matte.id, 'sources'],
      'The matte is made of itself, through other mattes or through an effect that needs it: take one of them out.',
    );
    if (known?.mattes[matte.id] === matte) continue;
    matte.outlines.forEach((o, i) => {
      for (const { path, message } of valueProblems(outlineKind, o.values, o.curves))
        need(false, ['mattes', matte.id, 'outlines', i, ...path], message);
    });
  }
  shot.base.takes.forEach((take, i) => {
    for (const { path, message } of valueProblems(transitionKind, take.values, {})) need(false, ['base', 'takes', i, ...path], message);
  });
  for (const c of Object.values(shot.clips)) {
    const before = c.continues === null ? undefined : shot.clips[c.continues];
    need(
      !before || (before.continues === null && before.id !== c.id),
      ['clips', c.id, 'continues'],
      'A part of a split clip goes on with no other part.',
    );
    need(
      c.cue === null || !waitsForItself(shot, c.id, c.cue),
      ['clips', c.id, 'cue'],
      'The clip begins at a cue that is pinned to what it shows itself.',
    );
  }
  for (const t of Object.values(shot.tracks))
    need(!('pair' in t) || t.pair !== t.id, ['tracks', t.id, 'pair'], 'The track makes a pair with itself.');
  for (const r of Object.values(shot.rows)) {
    // What is not known here, or was made by a newer version, is kept as it is and not drawn.
    const effect = known?.rows[r.id] === r ? undefined : drawnBy(r);
    if (effect) {
      for (const { path, message } of valueProblems(effect, r.values, r.curves)) need(false, ['rows', r.id, ...path], message);
      r.twins.forEach((twin, i) => {
        for (const { path, message } of valueProblems(effect, twin.values, {})) need(false, ['rows', r.id, 'twins', i, ...path], message);
      });
    }
    checkTreatments(r.treatments, ['rows', r.id]);
  }
  for (const g of Object.values(shot.groups)) checkTreatments(g.treatments, ['groups', g.id]);
}

/** A shot: plain data, the same everywhere. Entities sit in maps by id; order is a rank string. */
export const shotSchema = shotShape.superRefine((shot, context) =>
  crossCheck(shot, (ok, path, message) => {
    if (!ok) context.addIssue({ code: 'custom', path, message });
  }),
);

export type Shot = z.infer<typeof shotSchema>;
export type Clip = z.infer<typeof clipSchema>;
/** A clip that is added to a shot: it gets an id, and is placed as new clips are where nothing is said. */
type Given =
  'placed' | 'continues' | 'cue' | 'made' | 'primaries' | 'premultiplied' | 'lut' | 'missing' | 'gaps' | 'repairs' | 'matchLight';
/** A clip that is to be added; what it does not say is as it is for most. */
export type NewClip = Omit<Clip, 'id' | Given> & Partial<Pick<Clip, Given>>;
export type Repair = z.infer<typeof repairSchema>;
export type MadePlate = z.infer<typeof madePlateSchema>;
export type ClipRole = (typeof clipRoles)[number];
export type Cue = z.infer<typeof cueSchema>;
export type Track = z.infer<typeof trackSchema>;
export type Mount = z.infer<typeof mountSchema>;
export type MountEntry = z.infer<typeof mountSchema>;
export type Matte = z.infer<typeof matteSchema>;
export type Outline = z.infer<typeof outlineSchema>;
export type MatteSourceEntry = Matte['sources'][number];
export type OutlineMode = MatteMode;
export type Take = z.infer<typeof takeSchema>;
export type Base = z.infer<typeof baseSchema>;
export type PlacedEntry = z.infer<typeof placedSchema>;
export type Subject = z.infer<typeof subjectSchema>;
export type Twin = z.infer<typeof twinSchema>;
export type Treatment = z.infer<typeof treatmentSchema>;
export type Group = z.infer<typeof groupSchema>;
export type Occluder = z.infer<typeof occluderSchema>;
export type Row = z.infer<typeof rowSchema>;

/** Where a document is not valid: its field for who edits the file, and the name of the entity for who uses the page. */
function notValid(data: unknown, field: string, message: string): Error {
  const [map, id] = field.split('.'),
    kind = kinds.find((k) => mapOf[k] === map),
    name = kind && (data as Record<string, Record<string, { name?: unknown }>>)[mapOf[kind]]?.[id ?? '']?.name;
  return new Error(
    `The shot document is not valid at ${field || 'its root'}${typeof name === 'string' ? ` (${kindTitles[kind!]} ${name})` : ''}: ${message}`,
  );
}

/**
 * A shot from unknown data: of this version or an earlier one, which is brought up to date. Every stored or sent document is read here before anybody
 * uses it.
 * @throws an Error whose message says where and what, for people.
 */
export function readShot(data: unknown): Shot {
  const result = shotSchema.safeParse(migrate(data), { error: wordsOf });
  if (result.success) return result.data;
  throw notValid(data, sentenceOf(result.error).field, result.error.issues[0]!.message);
}

const MAPS = Object.values(mapOf);
/**
 * The same for a document that was made of a valid one by patches: entries that are the very same objects are not looked at again. An edit of a
 * usual shot is checked in a sixth of the time (1.8 to 0.3 ms).
 */
export function readShotAfter(before: Shot, data: unknown): Shot {
  const next = data as Record<string, Record<string, unknown>>;
  for (const name of MAPS) if (!next || typeof next !== 'object' || !next[name] || typeof next[name] !== 'object') return readShot(data);
  const changed: Record<string, unknown> = { ...next };
  for (const name of MAPS)
    changed[name] = Object.fromEntries(
      Object.entries(next[name]!).filter(([id, entry]) => !Object.hasOwn(before[name], id) || before[name][id] !== entry),
    );
  const result = shotShape.safeParse(changed, { error: wordsOf });
  if (!result.success) throw notValid(data, sentenceOf(result.error).field, result.error.issues[0]!.message);
  const shot = { ...result.data } as Record<string, unknown>;
  for (const name of MAPS) {
    const fresh = result.data[name] as Record<string, unknown>;
    shot[name] = Object.fromEntries(Object.keys(next[name]!).map((id) => [id, Object.hasOwn(fresh, id) ? fresh[id] : before[name][id]]));
  }
  crossCheck(
    shot as Shot,
    (ok, path, message) => {
      if (!ok) throw notValid(shot, path.join('.'), message);
    },
    before,
  );
  return shot as Shot;
}
