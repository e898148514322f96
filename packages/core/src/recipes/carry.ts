import { z } from 'zod';
import { edit, type Edit } from '../shot/edit';
import { effectOf } from '../effects';
import { freshId, freshName, lastOrder } from '../shot/create';
import { groupSchema, rowSchema, type Row, type Shot } from '../shot/schema';
import { mountOn } from '../shot/hang';
import { heightOf, scaledRow } from './recipe';

/** What a row may name: by its kind, the map of a shot that holds it. */
export type Named = 'track' | 'matte' | 'cue' | 'clip';
const mapOf = { track: 'tracks', matte: 'mattes', cue: 'cues', clip: 'clips' } as const;

const packedSchema = z.object({
  kind: z.literal('wraithos rows'),
  version: z.literal(1),
  from: z.string().max(200),
  /** Height of the subject that lengths are for. */
  height: z.number().positive(),
  rows: z.array(rowSchema).min(1).max(500),
  groups: z.record(z.string(), groupSchema),
  /** Track and offset of each mount, and names of everything that the rows name, by id. */
  mounts: z.record(z.string(), z.object({ track: z.string(), offset: z.tuple([z.number(), z.number()]) })),
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
  const rows = ids.map((id) => shot.rows[id]! as Row),
    groups = Object.fromEntries(rows.flatMap((r) => (r.group && shot.groups[r.group] ? [[r.group, shot.groups[r.group]!]] : []))),
    mounts = Object.fromEntries(Object.values(shot.mounts).map((m) => [m.id, { track: m.track, offset: m.offset }])),
    names = (map: Record<string, { name: string }>) => Object.fromEntries(Object.entries(map).map(([id, { name }]) => [id, name]));
  return {
    kind: 'wraithos rows',
    version: 1,
    from: shot.code,
    height: heightOf(shot, rows[0]!.subject),
    rows,
    groups,
    mounts,
    names: { track: names(shot.tracks), matte: names(shot.mattes), cue: names(shot.cues), clip: names(shot.clips) },
  };
}

/** Packed rows from unknown text; null where it is something else. */
export function readPacked(text: string): Packed | null {
  try {
    const result = packedSchema.safeParse(JSON.parse(text));
    return result.success ? result.data : null;
  } catch {
    return null;
  }
}

interface Reference {
  kind: Named;
  /** Its id and name where it comes from. */
  id: string;
  name: string;
}
/** Everything that packed rows and their groups name, once each. */
function references({ rows, groups, mounts, names }: Packed): Reference[] {
  const out = new Map<string, Reference>(),
    add = (kind: Named, id: string | null | undefined) => {
      if (id && names[kind][id] !== undefined) out.set(`${kind} ${id}`, { kind, id, name: names[kind][id] });
    },
    mount = (id: string | null) => id && add('track', mounts[id]?.track);
  for (const r of rows) {
    for (const m of [r.mount, r.aim, ...r.twins.flatMap((t) => [t.mount, t.aim])]) mount(m);
    for (const m of [r.matte, r.source, r.under]) add('matte', m);
    add('cue', r.cue);
    add('clip', r.clip);
  }
  for (const g of Object.values(groups)) {
    mount(g.mount);
    add('matte', g.matte);
  }
  return [...out.values()];
}
const sameName = (shot: Shot, { kind, name }: Reference): string | null =>
  Object.values(shot[mapOf[kind]] as Record<string, { id: string; name: string }>).find((e) => e.name === name)?.id ?? null;

/** What packed rows name and a shot has nothing of that name for: to be asked for. */
export const missing = (shot: Shot, packed: Packed): Reference[] => references(packed).filter((r) => sameName(shot, r) === null);

/**
 * Lays packed rows into a shot. What they name is found by its name; `chosen` says what stands for what is missing (by kind and name), nothing where
 * it says nothing. Lengths follow the height of the shot's own subject; rows whose cue is not there begin
 * with the shot.
 */
export function unpackRows(shot: Shot, packed: Packed, chosen: Readonly<Record<string, string | null>> = {}): Edit {
  const found = new Map(references(packed).map((r) => [`${r.kind} ${r.id}`, sameName(shot, r) ?? chosen[`${r.kind} ${r.name}`] ?? null])),
    subject = Object.keys(shot.subjects)[0] ?? null,
    k = heightOf(shot, subject) / packed.height;
  return edit(packed.rows.length > 1 ? 'Paste effects' : 'Paste effect', (s) => {
    const at = (kind: Named, id: string | null) => (id ? (found.get(`${kind} ${id}`) ?? null) : null),
      mountFor = (id: string | null): string | null => {
        const was = id ? packed.mounts[id] : undefined,
          track = was ? at('track', was.track) : null;
        if (!was || !track) return null;
        if (!was.offset[0] && !was.offset[1]) return mountOn(s, track);
        const fresh = freshId(s.mounts, 'm');
        s.mounts[fresh] = {
          id: fresh,
          name: freshName(s.mounts, s.tracks[track]!.name),
          track,
          offset: [was.offset[0] * k, was.offset[1] * k],
        };
        return fresh;
      },
      groups = new Map<string, string>();
    for (const g of Object.values(packed.groups)) {
      const id = freshId(s.groups, 'g');
      groups.set(g.id, id);
      s.groups[id] = { ...g, id, name: freshName(s.groups, g.name), mount: mountFor(g.mount), matte: at('matte', g.matte) };
    }
    for (const r of packed.rows as Row[]) {
      const id = freshId(s.rows, 'r'),
        own = r.lane === 'on' || r.lane === 'front' || r.lane === 'behind',
        lanes = effectOf(r.effect)?.lanes ?? [r.lane],
        cue = at('cue', r.cue),
        start = r.cue && !cue ? shot.first : cue ? r.start : Math.min(Math.max(shot.first, r.start), shot.last);
      s.rows[id] = {
        ...r,
        ...scaledRow(r, k),
        id,
        name: freshName(s.rows, r.name),
        lane: own && !subject ? (lanes.includes('foreground') ? 'foreground' : lanes[0]!) : r.lane,
        subject: own ? subject : null,
        order: lastOrder(s.rows),
        cue,
        start,
        mount: mountFor(r.mount),
        aim: mountFor(r.aim),
        clip: at('clip', r.clip),
        matte: at('matte', r.matte),
        source: at('matte', r.source),
        under: at('matte', r.under),
        group: r.group ? (groups.get(r.group) ?? null) : null,
        twins: scaledRow(r, k).twins.map((t) => ({ ...t, mount: mountFor(t.mount), aim: mountFor(t.aim) })),
      };
    }
  });
}
