import { effectOf } from '../effects';

/**
 * Documents of earlier versions, brought to the form of this one, step by step. Nothing here knows the types of today: each step is about two versions
 * of the past. What each version looked like, and the picture that it gives, is kept in `core/test/documents`.
 */
export const DOCUMENT_VERSION = 11;

type Json = Record<string, unknown>;
const isObject = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value);
const mapped = (map: unknown, change: (entry: Json) => Json): unknown =>
  isObject(map) ? Object.fromEntries(Object.entries(map).map(([id, entry]) => [id, isObject(entry) ? change(entry) : entry])) : map;

/**
 * 1 to 2: a matte keeps the values of its own source alone, and a track says its kind. Version 1 kept those of all sources side by side, and had fields
 * that were added later and may be missing.
 */
function toKinds(old: Json): Json {
  const sourceOf = (m: Json): unknown => {
    const clip = m.clip ?? null;
    switch (m.source) {
      case 'difference':
        return { kind: 'difference', clip, threshold: m.threshold, softness: m.softness, smooth: m.smooth, shadow: m.shadow };
      case 'colour area':
        return {
          kind: 'colour area',
          clip,
          colour: m.colour ?? '#ffffff',
          similarity: m.similarity ?? 6,
          takes: m.connected ? 'what is connected' : 'all of it',
          connected: m.connected ?? [0, 0],
        };
      default:
        return { kind: m.source, clip };
    }
  };
  return {
    ...old,
    version: 2,
    groups: old.groups ?? {},
    mattes: mapped(old.mattes, (m) => ({
      id: m.id,
      name: m.name,
      source: sourceOf(m),
      outlines: m.outlines,
      grow: m.grow,
      blur: m.blur,
      despeckle: m.despeckle,
      fillHoles: m.fillHoles,
      invert: m.invert,
    })),
    tracks: mapped(old.tracks, ({ pair, ...t }) => (pair ? { ...t, kind: 'pair', pair } : { ...t, kind: 'point' })),
    rows: mapped(old.rows, (r) => ({ aim: null, clip: null, under: null, group: null, twins: [], treatments: [], ...r })),
  };
}

/** What version 3 stores for a clip that stands as all clips did before: stretched to the picture, a frame a frame, held at both ends. */
const CLIP_AS_BEFORE = {
  ...{ playback: 'once, then stays', overlap: 12, speed: 100, rate: 'frame for frame', direction: 'forwards', between: 'nearest' },
  ...{ trimStart: 0, trimEnd: 0, placedBy: 'size and turn', place: [0, 0], fit: 'stretched to the picture', size: 100, turn: 0, swing: 0 },
  ...{ tilt: 0, pivot: [0, 0], mirror: 'no', topLeft: [-160, -90], topRight: [160, -90], bottomRight: [160, 90], bottomLeft: [-160, 90] },
};
const SUBJECT_AS_BEFORE = {
  ...{ shift: [0, 0], size: 100, turn: 0, swing: 0, tilt: 0, mirror: 'no', pivot: [0, 0], playback: 'once, then stays', speed: 100 },
  ...{ direction: 'forwards', between: 'nearest', trimStart: 0, trimEnd: 0, overlap: 12, edges: 100 },
};

/**
 * 2 to 3: clips and subjects are placed; the base is takes over a ground. What is drawn on a clip is in its own pixels, and an outline rides from a frame
 * of its clip on; version 2 had pixels of the shot, and a frame of the shot.
 */
function toPlaced(old: Json): Json {
  const clips = (isObject(old.clips) ? old.clips : {}) as Record<string, Json>,
    tracks = (isObject(old.tracks) ? old.tracks : {}) as Record<string, Json>,
    mounts = (isObject(old.mounts) ? old.mounts : {}) as Record<string, Json>,
    performance = Object.values(clips).find((c) => isObject(c) && c.role === 'performance'),
    base = typeof old.base === 'string' && isObject(clips[old.base]) ? clips[old.base]! : performance,
    rideFrame = (mount: unknown, frame: unknown): unknown => {
      const track = typeof mount === 'string' ? tracks[mounts[mount]?.track as string] : undefined,
        clip = track && clips[track.clip as string];
      return clip ? Math.min((clip.frames as number) - 1, Math.max(0, (frame as number) - (clip.start as number))) : 0;
    };
  const drawnOn = (m: Json): Json => {
    const source = m.source as Json,
      clip = typeof source?.clip === 'string' ? clips[source.clip] : performance,
      kx = clip ? (clip.width as number) / (old.width as number) : 1,
      ky = clip ? (clip.height as number) / (old.height as number) : 1,
      point = ([x, y]: [number, number]) => [x * kx, y * ky],
      outlines = Array.isArray(m.outlines) ? (m.outlines as Json[]) : [];
    return {
      ...m,
      source:
        kx !== 1 || ky !== 1 ? { ...source, ...('connected' in source ? { connected: point(source.connected as never) } : {}) } : source,
      outlines: outlines.map((o) => ({
        ...o,
        mountFrame: rideFrame(o.mount, o.mountFrame),
        ...(kx !== 1 || ky !== 1
          ? {
              feather: (o.feather as number) * kx,
              vertices: (o.vertices as { x: number; y: number; in: never; out: never }[]).map((v) => ({
                x: v.x * kx,
                y: v.y * ky,
                in: point(v.in),
                out: point(v.out),
              })),
            }
          : {}),
      })),
    };
  };
  return {
    ...old,
    version: 3,
    base: {
      takes: base
        ? [{ id: 'b1', clip: base.id, cue: null, start: old.first, matte: null, values: { transition: 'cut', over: 12, eased: 'smooth' } }]
        : [],
      // A shot without a clip was black.
      ground: {
        clip: null,
        values: { ground: base ? 'nothing' : 'colour', colour: base ? '#202020' : '#000000', other: '#8a94a6', direction: 90 },
      },
    },
    clips: mapped(old.clips, (c) => ({ ...c, placed: { values: CLIP_AS_BEFORE, curves: {} } })),
    subjects: mapped(old.subjects, (s) => ({ ...s, detached: false, placed: { values: SUBJECT_AS_BEFORE, curves: {} } })),
    mattes: mapped(old.mattes, drawnOn),
  };
}

/** 3 to 4: a clip may go on in another one (where it was split), and has a light of its own; a transition may be led by an effect. */
const LIGHT_AS_BEFORE = { red: 100, green: 100, blue: 100 };
function toParts(old: Json): Json {
  const base = old.base as Json;
  return {
    ...old,
    version: 4,
    base: isObject(base) && Array.isArray(base.takes) ? { ...base, takes: (base.takes as Json[]).map((t) => ({ row: null, ...t })) } : base,
    clips: mapped(old.clips, (c) => {
      const placed = (isObject(c.placed) ? c.placed : {}) as Json;
      return { continues: null, ...c, placed: { ...placed, values: { ...LIGHT_AS_BEFORE, ...(placed.values as Json) } } };
    }),
  };
}

/** 4 to 5: a clip may have been made from another one, and then says how. */
const toMade = (old: Json): Json => ({ ...old, version: 5, clips: mapped(old.clips, (c) => ({ made: null, ...c })) });

/** 5 to 6: a clip says how its codes become light, and what shows where its sequence has no picture, and may begin at a cue; a cue may be pinned to a clip; curves may stretch. */
const READ_AS_BEFORE = {
  primaries: 'rec709',
  premultiplied: false,
  lut: null,
  missing: [],
  gaps: 'the picture before',
  repairs: [],
  matchLight: false,
  cue: null,
};
const toRead = (old: Json): Json => ({
  ...old,
  version: 6,
  clips: mapped(old.clips, (c) => ({ ...READ_AS_BEFORE, ...c })),
  cues: mapped(old.cues, (c) => ({ clip: null, ...c })),
  rows: mapped(old.rows, (r) => ({ curveTiming: 'from its start', ...r })),
});

/** 6 to 7: a correction of a track may say more than its place, a mount says how it carries, and a gate may let a row show. */
const CARRIED_AS_BEFORE = {
  ...{ turn: 0, takes: 'all of it', trails: 0, lost: 'goes between', fade: 0, time: 'follows', heldAt: 0 },
};
const LAYERS_AS_BEFORE = { channel: 'brightness', preBlur: 0, raised: 0, smoothing: 0, reach: 0 };
const toLayers = (old: Json): Json => ({
  ...old,
  version: 7,
  tracks: mapped(old.tracks, (t) => ({
    ...LAYERS_AS_BEFORE,
    ...t,
    corrections: isObject(t.corrections)
      ? Object.fromEntries(Object.entries(t.corrections).map(([frame, at]) => [frame, Array.isArray(at) ? { at } : at]))
      : t.corrections,
  })),
  mounts: mapped(old.mounts, (m) => ({ ...CARRIED_AS_BEFORE, ...m })),
  rows: mapped(old.rows, (r) => ({ gate: null, ...r })),
});

/** 7 to 8: an outline has keys over time and curves, and each of its points a feather of its own; a difference looks for the whole body, or goes by pixels. */
const toKeyed = (old: Json): Json => ({
  ...old,
  version: 8,
  mattes: mapped(old.mattes, (m) => ({
    ...m,
    ...(isObject(m.source) && m.source.kind === 'difference' ? { source: { ...m.source, looks: 'each pixel that differs' } } : {}),
    outlines: Array.isArray(m.outlines)
      ? (m.outlines as Json[]).map(({ vertices, feather, ...o }) => ({
          ...o,
          muted: false,
          keys: [
            {
              frame: o.mountFrame,
              ease: 'flows',
              vertices: Array.isArray(vertices) ? (vertices as Json[]).map((v) => ({ ...v, inner: 0, outer: 0 })) : vertices,
              sure: null,
            },
          ],
          values: { feather, grow: 0, opacity: 100 },
          curves: {},
        }))
      : m.outlines,
  })),
});

/** 8 to 9: a matte has any number of sources and refinements, in order; one of drawn outlines alone has no source. Backings were keyed by distance alone. */
const KEYED_AS_BEFORE = { keys: 'distance from the backing' };
const toRows = (old: Json): Json => ({
  ...old,
  version: 9,
  mattes: mapped(old.mattes, ({ source, grow, blur, despeckle, fillHoles, invert, ...m }) => {
    const from = isObject(source) ? source : {},
      ready = from.kind === 'clip';
    return {
      ...m,
      clip: ready ? null : (from.clip ?? null),
      part: null,
      sources:
        from.kind === 'outlines'
          ? []
          : [
              {
                id: 's1',
                mode: 'add',
                muted: false,
                solo: false,
                source: { ...(from.kind === 'chroma' ? KEYED_AS_BEFORE : {}), ...from, clip: ready ? from.clip : null },
              },
            ],
      outlines: Array.isArray(m.outlines) ? (m.outlines as Json[]).map((o) => ({ ...o, solo: false })) : m.outlines,
      refine: [
        { id: 'f1', kind: 'despeckle', muted: false, area: despeckle },
        { id: 'f2', kind: 'fill holes', muted: false, area: fillHoles },
        { id: 'f3', kind: 'grow', muted: false, by: grow },
        { id: 'f4', kind: 'blur', muted: false, radius: blur },
        ...(invert ? [{ id: 'f5', kind: 'invert', muted: false }] : []),
      ],
      painted: [],
    };
  }),
  rows: mapped(old.rows, (r) => ({ ...r, pattern: null, strokes: [] })),
});

/** 9 to 10: a detached subject is blurred by its moves; a group may be laid on as one picture. */
const toMoving = (old: Json): Json => ({
  ...old,
  version: 10,
  subjects: mapped(old.subjects, (s) => {
    const placed = (isObject(s.placed) ? s.placed : {}) as Json;
    return { ...s, placed: { ...placed, values: { shutter: 0, ...(placed.values as Json) } } };
  }),
  groups: mapped(old.groups, (g) => ({ asOne: false, blend: 'normal', ...g })),
});

/** 10 to 11: what effects draw can be made to look filmed; before, it stayed as it was drawn. */
const DRAWN_AS_BEFORE = { grain: 0, edges: 'as they are drawn' };
const toMatched = (old: Json): Json => ({
  ...old,
  version: 11,
  base: isObject(old.base) ? { match: DRAWN_AS_BEFORE, ...old.base } : old.base,
});

const steps: Record<number, (old: Json) => Json> = {
  1: toKinds,
  2: toPlaced,
  3: toParts,
  4: toMade,
  5: toRead,
  6: toLayers,
  7: toKeyed,
  8: toRows,
  9: toMoving,
  10: toMatched,
};

interface Made {
  effect?: unknown;
  version?: unknown;
  values?: unknown;
  curves?: unknown;
  twins?: unknown;
  treatments?: unknown;
}
/**
 * A row, treatment or recipe of an effect that has a newer version here: its values, curves and the values of its twins, as the effect's own `upgrade`
 * makes them. Treatments are of effects of their own.
 */
export function upgradeMade<M extends object>(made: M): M {
  const { effect: type, version, values, curves, twins, treatments } = made as Made,
    effect = typeof type === 'string' ? effectOf(type) : undefined,
    out: Made = { ...made };
  if (Array.isArray(treatments)) out.treatments = treatments.map((t: unknown) => (isObject(t) ? upgradeMade(t) : t));
  if (!effect || typeof version !== 'number' || version >= effect.version || !isObject(values)) return out as M;
  const upgrade = (from: unknown, over: unknown) =>
    effect.upgrade?.({ values: from as never, curves: (isObject(over) ? over : {}) as never }, version) ?? { values: from, curves: over };
  const own = upgrade(values, curves);
  out.version = effect.version;
  out.values = own.values;
  if (curves !== undefined) out.curves = own.curves;
  if (Array.isArray(twins))
    out.twins = twins.map((t: unknown) => (isObject(t) && isObject(t.values) ? { ...t, values: upgrade(t.values, {}).values } : t));
  return out as M;
}

/**
 * A document in the form of this version, from one of any version before; anything else is given back as it is, for the schema to refuse.
 * @throws an Error for people where it was made by a newer version.
 */
export function migrate(data: unknown): unknown {
  if (!isObject(data)) return data;
  let document = data;
  if (typeof document.version === 'number' && document.version > DOCUMENT_VERSION)
    throw new Error(`This shot was made by a newer version (document version ${document.version}); nothing was changed.`);
  for (let step = steps[document.version as number]; step; step = steps[document.version as number]) document = step(document);
  return { ...document, rows: mapped(document.rows, upgradeMade), groups: mapped(document.groups, upgradeMade) };
}
/** True for a document that `migrate` would bring to a newer form. */
export const isOlder = (data: unknown): boolean => isObject(data) && typeof data.version === 'number' && data.version < DOCUMENT_VERSION;
