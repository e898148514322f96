import { referencesIn } from './references';

/*
 * What mattes are made of. A matte may be made of other mattes and of what rows draw, and rows read mattes: nothing may need itself, however far round.
 */

interface Named {
  id: string;
  name: string;
}
/** What of a document is looked at: the schema of one looks here too, so no type of it is known. */
interface Shot {
  readonly mattes: Readonly<Record<string, Named & { readonly sources: readonly { readonly source: { readonly kind: string } }[] }>>;
  readonly rows: Readonly<Record<string, Named & { readonly group: string | null }>>;
  readonly groups: Readonly<Record<string, object>>;
  readonly subjects: Readonly<Record<string, { readonly matte: string | null; readonly traces: string | null }>>;
}

/**
 * The mattes that a row may read: those that it and its group name, those of all subjects, and those by which takes of the base come in. Rather one too many: a matte that is left out here could need itself.
 */
function mattesOfRow(shot: Shot, id: string): string[] {
  const row = shot.rows[id],
    group = row?.group ? shot.groups[row.group] : undefined,
    named = [...(row ? referencesIn('row', row) : []), ...(group ? referencesIn('group', group) : []), ...referencesIn('shot', shot)],
    subjects = Object.values(shot.subjects).flatMap((s) => [s.matte, s.traces]);
  return [...named.flatMap(({ reference, id: of }) => (reference.names === 'matte' ? [of] : [])), ...subjects.flatMap((m) => m ?? [])];
}

/** The mattes that are needed for some mattes, however far round; one of those themselves where it needs itself. */
function mattesFrom(shot: Shot, of: readonly string[], out = new Set<string>()): Set<string> {
  for (const id of of)
    for (const { source } of shot.mattes[id]?.sources ?? []) {
      const { matte, row } = source as { matte?: string | null; row?: string | null },
        next = matte ? [matte] : row ? mattesOfRow(shot, row) : [];
      for (const one of next)
        if (!out.has(one)) {
          out.add(one);
          mattesFrom(shot, [one], out);
        }
    }
  return out;
}
/** The mattes that a matte is made of, however far; itself where it is made of itself. */
export const mattesWithin = (shot: Shot, matte: string): Set<string> => mattesFrom(shot, [matte]);

/** The mattes that a matte can take in: all but itself and those that are made of it. */
export const mattesFor = <S extends Shot>(shot: S, id: string) =>
  (Object.values(shot.mattes) as S['mattes'][string][]).filter((other) => other.id !== id && !mattesWithin(shot, other.id).has(id));
/** What a source of a matte can be made of, by what it names: other mattes, or rows. */
export const sourcesFor = (shot: Shot, id: string, names: 'matte' | 'row'): Named[] =>
  names === 'matte' ? mattesFor(shot, id) : rowsFor(shot, id);
/** The rows whose pictures a matte can be made of: those that do not need the matte themselves. */
export const rowsFor = <S extends Shot>(shot: S, id: string) =>
  (Object.values(shot.rows) as S['rows'][string][]).filter((row) => {
    const own = mattesOfRow(shot, row.id);
    return !own.includes(id) && !mattesFrom(shot, own).has(id);
  });
