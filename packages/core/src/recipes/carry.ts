import { z } from 'zod';
import { edit, type Edit } from '../shot/edit';
import { effectOf } from '../effects';
import { carriageParams, type Carriage } from '../motion/carriage';
import { valuesShape } from '../params/schema';
import { freshId, freshName, lastOrder } from '../shot/create';
import { DOCUMENT_VERSION, migrate } from '../shot/migrate';
import { groupSchema, rowSchema, type Row, type Shot } from '../shot/schema';
import { heightOf } from '../shot/drawn';
import { mountOn } from '../shot/hang';
import { settledCurves } from '../shot/hungCurves';
import { subjectsInOrder } from '../shot/query';
import { mapOf, referencesIn, type Kind } from '../shot/references';
import { scaledRow } from './recipe';

/** What a carried row may name, at its end: a mount stands for the track under it. */
const carried = ['track', 'matte', 'cue', 'clip'] as const;
export type Named = (typeof carried)[number];
const isCarried = (kind: Kind): kind is Named => (carried as readonly Kind[]).includes(kind);

const packedSchema = z.object({
  kind: z.literal('wraithos rows'),
  version: z.literal(1),
  /** The version of the documents that its rows, groups and mounts are of. */
  document: z.literal(DOCUMENT_VERSION),
  from: z.string().max(200),
  /** Height of the subject that lengths are for. */
  height: z.number().positive(),
  rows: z.array(rowSchema).min(1).max(500),
  groups: z.record(z.string(), groupSchema),
  /** Track and offset of each mount, and names of everything that the rows name, by id. */
  mounts: z.record(
    z.string(),
    z.object({ track: z.string(), offset: z.tuple([z.number(), z.number()]), ...valuesShape(carriageParams) }) as unknown as z.ZodType<
      { track: string; offset: [number, number] } & Carriage
    >,
  ),
  names: z.object({
    track: z.record(z.string(), z.string()),
    matte: z.record(z.string(), z.string()),
    cue: z.record(z.string(), z.string()),
    clip: z.record(z.string(), z.string()),
  }),
});
/** Rows on their way to another place, with the names of all that they refer to. */
export type Packed = z.infer<typeof packedSchema>;

/** Rows (and the groups that hold them) made ready to be carried to another shot. */
export function packRows(shot: Shot, ids: readonly string[]): Packed {
  // Points of curves that hang on cues are carried where they stand: the cues of the other shot are elsewhere.
  const rows = ids.map((id) => shot.rows[id]! as Row).map((row) => ({ ...row, curves: settledCurves(shot, row) })),
    groups = Object.fromEntries(rows.flatMap((r) => (r.group && shot.groups[r.group] ? [[r.group, shot.groups[r.group]!]] : []))),
    mounts = Object.fromEntries(Object.values(shot.mounts).map(({ id, name: _, ...m }) => [id, m])),
    names = (map: Record<string, { name: string }>) => Object.fromEntries(Object.entries(map).map(([id, { name }]) => [id, name]));
  return {
    kind: 'wraithos rows',
    version: 1,
    document: DOCUMENT_VERSION,
    from: shot.code,
    height: heightOf(shot, rows[0]!.subject),
    rows,
    groups,
    mounts,
    names: { track: names(shot.tracks), matte: names(shot.mattes), cue: names(shot.cues), clip: names(shot.clips) },
  };
}

/** Rows that were packed before they said of which version they are. */
const UNSAID = 9;
/** Packed rows of an earlier version, as a document that holds nothing else is brought up to date; anything else as it is. */
function upToDate(data: unknown): unknown {
  const { kind, document, rows, groups, mounts } = (data ?? {}) as Record<string, unknown>;
  if (kind !== 'wraithos rows' || !Array.isArray(rows)) return data;
  const whole = migrate({
    version: document ?? UNSAID,
    base: {},
    rows: Object.fromEntries(rows.map((row) => [row.id, row])),
    groups,
    mounts,
  }) as {
    rows: Record<string, unknown>;
  };
  return { ...(data as object), ...whole, document: DOCUMENT_VERSION, version: 1, rows: rows.map(({ id }) => whole.rows[id]) };
}
/** Packed rows from unknown text, also of an earlier version; null where it is something else. */
export function readPacked(text: string): Packed | null {
  try {
    const result = packedSchema.safeParse(upToDate(JSON.parse(text)));
    return result.success ? result.data : null;
  } catch {
    return null;
  }
}

interface Wanted {
  kind: Named;
  /** Its id and name where it comes from. */
  id: string;
  name: string;
}
/** Everything that packed rows and their groups name, once each. */
function wanted({ rows, groups, mounts, names }: Packed): Wanted[] {
  const out = new Map<string, Wanted>(),
    add = (kind: Named, id: string | undefined) => {
      if (id && names[kind][id] !== undefined) out.set(`${kind} ${id}`, { kind, id, name: names[kind][id] });
    };
  for (const { reference, id } of [
    ...rows.flatMap((row) => referencesIn('row', row)),
    ...Object.values(groups).flatMap((group) => referencesIn('group', group)),
  ])
    if (reference.names === 'mount') add('track', mounts[id]?.track);
    else if (isCarried(reference.names)) add(reference.names, id);
  return [...out.values()];
}
const sameName = (shot: Shot, { kind, name }: Wanted): string | null =>
  Object.values(shot[mapOf[kind]] as Record<string, { id: string; name: string }>).find((e) => e.name === name)?.id ?? null;

/** What packed rows name and a shot has nothing of that name for: to be asked for. */
export const missing = (shot: Shot, packed: Packed): Wanted[] => wanted(packed).filter((r) => sameName(shot, r) === null);

/**
 * Lays packed rows into a shot. What they name is found by its name; `chosen` says what stands for what is missing (by kind and name), nothing where
 * it says nothing. Lengths follow the height of the shot's own subject; rows whose cue is not there begin
 * with the shot.
 */
export function unpackRows(shot: Shot, packed: Packed, chosen: Readonly<Record<string, string | null>> = {}): Edit {
  const found = new Map(wanted(packed).map((r) => [`${r.kind} ${r.id}`, sameName(shot, r) ?? chosen[`${r.kind} ${r.name}`] ?? null])),
    subject = subjectsInOrder(shot)[0]?.id ?? null,
    k = heightOf(shot, subject) / packed.height;
  return edit(packed.rows.length > 1 ? 'Paste effects' : 'Paste effect', (s) => {
    const mountFor = (id: string): string | null => {
        const was = packed.mounts[id],
          track = was ? found.get(`track ${was.track}`) : null;
        return was && track ? mountOn(s, track, [was.offset[0] * k, was.offset[1] * k], was) : null;
      },
      groups = new Map<string, string>(),
      /** A copy of a row or group that names what stands for its references here. */
      here = <T extends object>(of: 'row' | 'group', entity: T): T => {
        const copy = structuredClone(entity);
        for (const { reference, id, at, field } of referencesIn(of, copy))
          at[field] =
            reference.names === 'mount'
              ? mountFor(id)
              : reference.names === 'group'
                ? (groups.get(id) ?? null)
                : isCarried(reference.names)
                  ? (found.get(`${reference.names} ${id}`) ?? null)
                  : null;
        return copy;
      };
    for (const g of Object.values(packed.groups)) {
      const id = freshId(s.groups, 'g');
      groups.set(g.id, id);
      s.groups[id] = { ...here('group', g), id, name: freshName(s.groups, g.name) };
    }
    for (const r of packed.rows as Row[]) {
      const id = freshId(s.rows, 'r'),
        own = r.lane === 'on' || r.lane === 'front' || r.lane === 'behind',
        lanes = effectOf(r.effect)?.lanes ?? [r.lane],
        row = here('row', { ...r, ...scaledRow(r, k) });
      s.rows[id] = {
        ...row,
        id,
        name: freshName(s.rows, r.name),
        lane: own && !subject ? (lanes.includes('foreground') ? 'foreground' : lanes[0]!) : r.lane,
        subject: own ? subject : null,
        order: lastOrder(s.rows),
        start: r.cue && !row.cue ? shot.first : row.cue ? r.start : Math.min(Math.max(shot.first, r.start), shot.last),
      };
    }
  });
}
