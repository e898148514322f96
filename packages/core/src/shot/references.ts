/**
 * Everything that one entity of a document names of another, in one table. Validation, removal, "used by", carrying rows to another shot and the
 * page's picture key follow from it: a new field that names something is one line here.
 */

/** The kinds of entities, and the map of the document that holds each. */
export const mapOf = {
  clip: 'clips',
  cue: 'cues',
  track: 'tracks',
  mount: 'mounts',
  matte: 'mattes',
  subject: 'subjects',
  occluder: 'occluders',
  row: 'rows',
  group: 'groups',
} as const;
export type Kind = keyof typeof mapOf;
export const kinds = Object.keys(mapOf) as Kind[];
/** What people read of a kind. */
export const kindTitles: Record<Kind, string> = {
  clip: 'clip',
  cue: 'cue',
  track: 'track',
  mount: 'mount',
  matte: 'matte',
  subject: 'subject',
  occluder: 'occluder',
  row: 'effect',
  group: 'group',
};

/** A field that names an entity. */
export interface Reference {
  /** The kind of entity that has the field, or the document itself. */
  of: Kind | 'shot';
  /** Where the field is: names joined by points; `list[]` stands for every entry of a list, `map{}` for every entry of a map. */
  field: string;
  names: Kind;
  /** What becomes of it when what it names is removed: it is set to null, its list entry goes, or its whole entity goes. */
  then: 'cleared' | 'entry removed' | 'removed';
  /** How people read this use, from the name of the entity that has it. */
  use(name: string): string;
}
const itself = (name: string) => name;
export const references: readonly Reference[] = [
  { of: 'shot', field: 'base.takes[].clip', names: 'clip', then: 'entry removed', use: () => 'take of the base' },
  { of: 'shot', field: 'base.takes[].cue', names: 'cue', then: 'cleared', use: () => 'take of the base' },
  { of: 'shot', field: 'base.takes[].matte', names: 'matte', then: 'cleared', use: () => 'transition of the base' },
  { of: 'shot', field: 'base.takes[].row', names: 'row', then: 'cleared', use: () => 'transition of the base' },
  { of: 'shot', field: 'base.ground.clip', names: 'clip', then: 'cleared', use: () => 'background of the base' },
  { of: 'clip', field: 'continues', names: 'clip', then: 'removed', use: (name) => `later part ${name}` },
  { of: 'clip', field: 'cue', names: 'cue', then: 'cleared', use: (name) => `clip ${name}` },
  { of: 'clip', field: 'made.clip', names: 'clip', then: 'cleared', use: (name) => `clean plate ${name}` },
  { of: 'clip', field: 'made.matte', names: 'matte', then: 'cleared', use: (name) => `clean plate ${name}` },
  { of: 'cue', field: 'clip', names: 'clip', then: 'cleared', use: (name) => `cue ${name}` },
  { of: 'clip', field: 'repairs[].clip', names: 'clip', then: 'entry removed', use: (name) => `repair of ${name}` },
  { of: 'track', field: 'clip', names: 'clip', then: 'removed', use: (name) => `track ${name}` },
  { of: 'track', field: 'pair', names: 'track', then: 'cleared', use: (name) => `pair with ${name}` },
  { of: 'track', field: 'matte', names: 'matte', then: 'cleared', use: (name) => `track ${name}` },
  { of: 'track', field: 'tracks[].track', names: 'track', then: 'entry removed', use: (name) => `part of ${name}` },
  { of: 'mount', field: 'track', names: 'track', then: 'removed', use: (name) => `mount ${name}` },
  { of: 'matte', field: 'clip', names: 'clip', then: 'cleared', use: (name) => `matte ${name}` },
  { of: 'matte', field: 'part', names: 'subject', then: 'cleared', use: (name) => `part ${name}` },
  { of: 'matte', field: 'sources[].source.clip', names: 'clip', then: 'cleared', use: (name) => `source of ${name}` },
  { of: 'matte', field: 'sources[].source.matte', names: 'matte', then: 'entry removed', use: (name) => `source of ${name}` },
  { of: 'matte', field: 'sources[].source.row', names: 'row', then: 'entry removed', use: (name) => `source of ${name}` },
  { of: 'matte', field: 'outlines[].mount', names: 'mount', then: 'cleared', use: (name) => `outline of ${name}` },
  { of: 'subject', field: 'clip', names: 'clip', then: 'removed', use: (name) => `subject ${name}` },
  { of: 'subject', field: 'matte', names: 'matte', then: 'cleared', use: (name) => `matte of ${name}` },
  { of: 'subject', field: 'traces', names: 'matte', then: 'cleared', use: (name) => `traces of ${name}` },
  { of: 'subject', field: 'mount', names: 'mount', then: 'cleared', use: (name) => `mount of ${name}` },
  { of: 'occluder', field: 'matte', names: 'matte', then: 'removed', use: (name) => `occluder ${name}` },
  { of: 'row', field: 'subject', names: 'subject', then: 'removed', use: itself },
  { of: 'row', field: 'cue', names: 'cue', then: 'cleared', use: itself },
  { of: 'row', field: 'curves{}.points[].cue', names: 'cue', then: 'cleared', use: (name) => `curve of ${name}` },
  { of: 'row', field: 'mount', names: 'mount', then: 'cleared', use: itself },
  { of: 'row', field: 'aim', names: 'mount', then: 'cleared', use: (name) => `${name} (aim)` },
  { of: 'row', field: 'twins[].mount', names: 'mount', then: 'entry removed', use: (name) => `twin of ${name}` },
  { of: 'row', field: 'twins[].aim', names: 'mount', then: 'cleared', use: (name) => `twin of ${name} (aim)` },
  { of: 'row', field: 'gate', names: 'track', then: 'cleared', use: (name) => `gate of ${name}` },
  { of: 'row', field: 'clip', names: 'clip', then: 'cleared', use: (name) => `picture of ${name}` },
  { of: 'row', field: 'matte', names: 'matte', then: 'cleared', use: itself },
  { of: 'row', field: 'source', names: 'matte', then: 'cleared', use: itself },
  { of: 'row', field: 'pattern', names: 'matte', then: 'cleared', use: (name) => `pattern of ${name}` },
  { of: 'row', field: 'under', names: 'matte', then: 'cleared', use: itself },
  { of: 'row', field: 'group', names: 'group', then: 'cleared', use: itself },
  { of: 'group', field: 'mount', names: 'mount', then: 'cleared', use: itself },
  { of: 'group', field: 'matte', names: 'matte', then: 'cleared', use: itself },
];

type Holder = Record<string, unknown>;
type Maps = Record<string, Record<string, Holder>>;
const byHolder = new Map<string, { reference: Reference; parts: readonly string[] }[]>();
for (const reference of references)
  byHolder.set(reference.of, [...(byHolder.get(reference.of) ?? []), { reference, parts: reference.field.split('.') }]);

/** One reference as it stands in an entity. */
export interface Found {
  reference: Reference;
  /** The id that it names. */
  id: string;
  /** Where it stands within its entity. */
  path: (string | number)[];
  /** The object that has the field, and the field's name: assign to it to let it name something else. */
  at: Holder;
  field: string;
  /** The list whose entry has it, and which; none where it is in no list. */
  list?: unknown[];
  index?: number;
}

/** Everything that an entity (or the document's own fields, with `of: 'shot'`) names, in the order of the table. */
export function referencesIn(of: Kind | 'shot', entity: object): Found[] {
  const out: Found[] = [];
  for (const { reference, parts } of byHolder.get(of) ?? []) {
    const look = (at: Holder, depth: number, path: (string | number)[], entry: Pick<Found, 'list' | 'index'>) => {
      const part = parts[depth]!;
      // What is made of nothing names nothing.
      if (at === null) return;
      if (depth === parts.length - 1) {
        const id = at[part];
        if (typeof id === 'string') out.push({ reference, id, path: [...path, part], at, field: part, ...entry });
      } else if (part.endsWith('[]')) {
        const name = part.slice(0, -2),
          // Only entities of some kinds have it, such as a track that names others.
          list = at[name] as Holder[] | undefined;
        list?.forEach((one, index) => look(one, depth + 1, [...path, name, index], { list, index }));
      } else if (part.endsWith('{}')) {
        const name = part.slice(0, -2);
        for (const [key, one] of Object.entries(at[name] as Record<string, Holder>)) look(one, depth + 1, [...path, name, key], entry);
      } else look(at[part] as Holder, depth + 1, [...path, part], entry);
    };
    look(entity as Holder, 0, [], {});
  }
  return out;
}

/** Visits every reference of a document, with the kind and id of the entity that has it (none for the document's own fields). */
export function eachReference(shot: object, visit: (found: Found, holder: { of: Kind; id: string } | null) => void): void {
  for (const found of referencesIn('shot', shot)) visit(found, null);
  for (const of of kinds)
    if (byHolder.has(of))
      for (const [id, entity] of Object.entries((shot as Maps)[mapOf[of]]!))
        for (const found of referencesIn(of, entity)) visit(found, { of, id });
}

/** What names an entity, in words that people read, once each. */
export function usesOf(shot: object, kind: Kind, id: string): string[] {
  const out = new Set<string>();
  eachReference(shot, (found, holder) => {
    if (found.reference.names !== kind || found.id !== id) return;
    out.add(found.reference.use(holder ? String((shot as Maps)[mapOf[holder.of]]![holder.id]!.name) : ''));
  });
  return [...out];
}

/** What went, or let go, with an entity that was removed. */
export interface Gone {
  then: Reference['then'];
  kind: Kind;
  name: string;
  /** How people read the use that ended. */
  use: string;
}

/**
 * Removes an entity, and what cannot be without it; in place. Gives what else changed, in the order in which it happened.
 * @example applyEdit(shot, edit('Remove track', (s) => { dropEntity(s, 'track', 't1'); }))
 */
export function dropEntity(shot: object, kind: Kind, id: string): Gone[] {
  const gone: Gone[] = [],
    hits: { found: Found; holder: { of: Kind; id: string } | null }[] = [];
  eachReference(shot, (found, holder) => {
    if (found.reference.names === kind && found.id === id) hits.push({ found, holder });
  });
  delete (shot as Maps)[mapOf[kind]]![id];
  // List entries from the last one, so that the indices of the others stay right.
  for (const { found, holder } of hits.reverse()) {
    const { reference, at, field, list, index } = found,
      entity = holder ? (shot as Maps)[mapOf[holder.of]]![holder.id] : (shot as Holder);
    if (!entity) continue;
    if (reference.then === 'cleared') at[field] = null;
    else if (reference.then === 'entry removed') list!.splice(index!, 1);
    const name = holder ? String(entity.name) : '';
    gone.push({ then: reference.then, kind: holder?.of ?? 'clip', name, use: reference.use(name) });
    if (reference.then === 'removed') gone.push(...dropEntity(shot, holder!.of, holder!.id));
  }
  return gone;
}

/** What removing an entity would take with it, told for people; empty where nothing else changes. */
export function tellGone(gone: readonly Gone[]): string {
  // A mount is made by hanging something on a track: nobody made it by hand, so nobody misses it.
  const told = gone.filter((g) => g.kind !== 'mount' || g.then !== 'removed'),
    list = (of: readonly Gone[]) =>
      [...new Set(of.map((g) => (g.then === 'removed' ? `${kindTitles[g.kind]} ${g.name}` : g.use)))].join(', '),
    removed = told.filter((g) => g.then !== 'cleared'),
    cleared = told.filter(
      (g) => g.then === 'cleared' && !removed.some((r) => r.then === 'removed' && r.kind === g.kind && r.name === g.name),
    );
  return [removed.length ? `Also removed: ${list(removed)}.` : '', cleared.length ? `No longer connected: ${list(cleared)}.` : '']
    .filter(Boolean)
    .join(' ');
}
