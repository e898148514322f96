import { generateKeyBetween } from 'fractional-indexing';
import { defaultsOf, effectOf, type Lane } from '../effects';
import { outlineParams } from '../matte/outlineParams';
import { corner, type Vertex } from '../matte/vertex';
import { newRefinement } from '../matte/refinements';
import { matteSources, type SourceKind, type StoredSource } from '../matte/sources';
import { namesNothing, trackKinds, type KindOfTrack } from '../motion/kinds';
import type { Params, StoredValue } from '../params';
import { clipParams, groundParams, matchParams, subjectParams, transitionParams } from '../placing';
import type { FrameRate } from '../time/rate';
import { usualHeight } from './drawn';
import { DOCUMENT_VERSION } from './migrate';
import type { Base, Clip, Matte, Outline, OutlineMode, PlacedEntry, Row, Shot, Subject, Take, Track } from './schema';

/** An id that none of these has: the kind's first letter and a count. */
export function freshId(taken: Readonly<Record<string, unknown>> | readonly { id: string }[], letter: string): string {
  const ids = new Set(Array.isArray(taken) ? (taken as readonly { id: string }[]).map((entry) => entry.id) : Object.keys(taken));
  let n = ids.size + 1;
  while (ids.has(`${letter}${n}`)) n++;
  return `${letter}${n}`;
}
/** A name that none of the others has: "Glow", then "Glow 2". */
export function freshName(taken: Readonly<Record<string, { name: string }>> | readonly { name: string }[], wish: string): string {
  const names = new Set(Object.values(taken).map((entry) => entry.name));
  if (!names.has(wish)) return wish;
  let n = 2;
  while (names.has(`${wish} ${n}`)) n++;
  return `${wish} ${n}`;
}

export function newShot(o: {
  code: string;
  title?: string;
  width: number;
  height: number;
  rate: FrameRate;
  first?: number;
  frames: number;
}): Shot {
  const first = o.first ?? 1001;
  return {
    version: DOCUMENT_VERSION,
    code: o.code,
    title: o.title ?? '',
    width: o.width,
    height: o.height,
    rate: o.rate,
    first,
    last: first + o.frames - 1,
    base: {
      takes: [],
      ground: { clip: null, values: defaultsOf(groundParams) as Base['ground']['values'] },
      match: defaultsOf(matchParams) as Base['match'],
    },
    clips: {},
    cues: {},
    tracks: {},
    mounts: {},
    mattes: {},
    subjects: {},
    occluders: {},
    rows: {},
    groups: {},
  };
}

/** Values of something that is placed, with all defaults stored, so that a later default changes no shot. */
export const newPlacing = (params: Params): PlacedEntry => ({ values: defaultsOf(params) as PlacedEntry['values'], curves: {} });

/** What a medium is, as a probe finds it: size in pixels, frames, and how its codes are meant. */
export interface MediumFacts {
  width: number;
  height: number;
  frames: number;
  frameRate: FrameRate;
  alpha: boolean;
  bitDepth: Clip['bits'];
  transfer: Clip['transfer'];
  primaries?: Clip['primaries'];
  premultiplied?: boolean;
  missing?: Clip['missing'];
}
/** How most clips are read: straight alpha, primaries of Rec.709, no table, no gaps. */
export const plainReading: Pick<Clip, 'primaries' | 'premultiplied' | 'lut' | 'missing' | 'gaps' | 'repairs' | 'matchLight'> = {
  primaries: 'rec709',
  premultiplied: false,
  lut: null,
  missing: [],
  gaps: 'the picture before',
  repairs: [],
  matchLight: false,
};
/** How the codes of a medium are read, as far as its file says. */
export const readingOf = (facts: MediumFacts): Pick<Clip, 'transfer' | 'primaries' | 'premultiplied' | 'lut' | 'missing' | 'gaps'> => ({
  lut: null,
  gaps: 'the picture before',
  transfer: facts.transfer,
  primaries: facts.primaries ?? 'rec709',
  premultiplied: facts.premultiplied ?? false,
  missing: facts.missing ?? [],
});
/** A clip of a medium, called like its file without the ending, placed at the shot frame `start`. */
export const clipOf = (o: {
  id: string;
  file: string;
  role: Clip['role'];
  media: Clip['media'];
  facts: MediumFacts;
  start: number;
}): Clip => ({
  id: o.id,
  name:
    o.file
      .replace(/\.[^.]*$/, '')
      .trim()
      .slice(0, 120) || 'clip',
  role: o.role,
  media: o.media,
  width: o.facts.width,
  height: o.facts.height,
  frames: o.facts.frames,
  rate: o.facts.frameRate,
  alpha: o.facts.alpha,
  bits: o.facts.bitDepth,
  ...plainReading,
  ...readingOf(o.facts),
  continues: null,
  made: null,
  cue: null,
  start: o.start,
  placed: newPlacing(clipParams),
});

export const newTrack = (o: {
  id: string;
  name: string;
  clip: string;
  at: [number, number];
  frame: number;
  kind?: KindOfTrack;
  /** Values of its kind that are not the usual ones. */
  values?: Readonly<Record<string, StoredValue>>;
}): Track => {
  const kind = o.kind ?? 'point',
    { params, joins } = trackKinds[kind];
  return {
    ...{ id: o.id, name: o.name, clip: o.clip, at: o.at, frame: o.frame, samples: null, corrections: {}, kind },
    ...{ ...defaultsOf(params), ...o.values },
    ...namesNothing(joins),
  } as Track;
};

/** A source of a matte with the defaults of its kind. */
export const newSource = (kind: SourceKind, clip: string | null): StoredSource =>
  ({
    kind,
    clip,
    ...defaultsOf(matteSources[kind].params),
    ...(matteSources[kind].names ? { [matteSources[kind].names]: null } : {}),
  }) as unknown as StoredSource;

/** How a matte of drawn outlines alone is refined. */
const DRAWN = { blur: 1.5, despeckle: 0, fillHoles: 0 };
/**
 * A matte of one source, or (null) of drawn outlines alone, refined as suits it.
 * @param clip the clip that it lies on; for a source that brings a ready matte, the one that brings it. Null is the performance.
 */
export const newMatte = (o: { id: string; name: string; source: SourceKind | null; clip: string | null }): Matte => {
  const ready = o.source !== null && !!matteSources[o.source].carriesOwn,
    { blur, despeckle, fillHoles } = o.source ? matteSources[o.source].refined : DRAWN;
  return {
    id: o.id,
    name: o.name,
    clip: ready ? null : o.clip,
    part: null,
    sources: o.source ? [{ id: 's1', mode: 'add', muted: false, solo: false, source: newSource(o.source, ready ? o.clip : null) }] : [],
    outlines: [],
    refine: [
      newRefinement('f1', 'despeckle', { area: despeckle }),
      newRefinement('f2', 'fill holes', { area: fillHoles }),
      newRefinement('f3', 'grow'),
      newRefinement('f4', 'blur', { radius: blur }),
    ],
    painted: [],
  };
};

export const newOutline = (o: {
  id: string;
  name: string;
  mode: OutlineMode;
  /** The frame of its clip at which it is drawn: its first key. */
  frame?: number;
  /** Corners, or vertices with handles. */
  points: readonly (readonly [number, number] | Vertex)[];
  feather?: number;
}): Outline => ({
  id: o.id,
  name: o.name,
  mode: o.mode,
  muted: false,
  solo: false,
  keys: [{ frame: o.frame ?? 0, ease: 'flows', sure: null, vertices: o.points.map((p) => ('x' in p ? p : corner(p[0], p[1]))) }],
  values: { ...defaultsOf(outlineParams), ...(o.feather === undefined ? {} : { feather: o.feather }) } as Outline['values'],
  curves: {},
  mount: null,
  mountFrame: 0,
});

export const newSubject = (o: { id: string; name: string; clip: Clip; shot: Shot }): Subject => ({
  id: o.id,
  name: o.name,
  clip: o.clip.id,
  matte: null,
  traces: null,
  mount: null,
  order: lastOrder(o.shot.subjects),
  metres: 1.7,
  pixels: Math.round(usualHeight(o.shot)),
  detached: false,
  placed: newPlacing(subjectParams),
});

/** A take of the base that comes in at a frame, by a cut. */
export const newTake = (o: { id: string; clip: string; start: number }): Take => ({
  ...o,
  cue: null,
  matte: null,
  row: null,
  values: defaultsOf(transitionParams) as Take['values'],
});

/** The rank after the last of these. */
export function lastOrder(entries: Record<string, { order: string }>): string {
  const orders = Object.values(entries)
    .map((e) => e.order)
    .sort();
  return generateKeyBetween(orders[orders.length - 1] ?? null, null);
}

/** A row with all of its effect's defaults stored, so that a later default changes no shot. */
export function newRow(
  shot: Shot,
  o: { id: string; effect: string; lane: Lane; subject: string | null; start?: number; length?: number; mount?: string | null },
): Row {
  const kind = effectOf(o.effect);
  if (!kind) throw new Error(`There is no effect "${o.effect}".`);
  return {
    id: o.id,
    name: freshName(shot.rows, kind.title),
    effect: kind.type,
    version: kind.version,
    lane: o.lane,
    subject: o.subject,
    order: lastOrder(shot.rows),
    muted: false,
    solo: false,
    opacity: 100,
    blend: kind.light ? 'screen' : 'normal',
    cue: null,
    start: o.start ?? shot.first,
    length: o.length ?? shot.last - shot.first + 1,
    curveTiming: 'from its start',
    gate: null,
    mount: o.mount ?? null,
    aim: null,
    clip: null,
    under: null,
    group: null,
    twins: [],
    treatments: [],
    strokes: [],
    matte: null,
    source: null,
    pattern: null,
    values: defaultsOf(kind.params) as Row['values'],
    curves: {},
  };
}
