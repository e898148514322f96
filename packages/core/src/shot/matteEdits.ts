import { refinements, newRefinement, type RefinementKind } from '../matte/refinements';
import { matteSources, type SourceKind } from '../matte/sources';
import type { MatteMode } from '../matte/modes';
import type { PaintedStroke } from '../matte/painted';
import type { StoredValue } from '../params';
import { freshId, freshName, newMatte, newSource } from './create';
import { edit, type Edit } from './edit';
import type { Matte, Shot } from './editTypes';

/** Edits of mattes: their sources and refinements. Where no source is named, the first one is meant. */

type Entry = Matte['sources'][number];
type Draftable<T> = { -readonly [K in keyof T]: T[K] };
const sourceOf = (mattes: Record<string, unknown>, matte: string, id?: string): Draftable<Entry> | undefined => {
  const { sources } = mattes[matte] as Matte;
  return (id === undefined ? sources[0] : sources.find((one) => one.id === id)) as Draftable<Entry> | undefined;
};
/** Changes one source of a matte; nothing where it has none. */
const changeEntry = (name: string, matte: string, id: string | undefined, change: (entry: Draftable<Entry>) => void): Edit =>
  edit(name, (s) => {
    const entry = sourceOf(s.mattes as Record<string, unknown>, matte, id);
    if (entry) change(entry);
  });
/** Moves an entry of a list up (-1) or down (1), where there is room. */
function moved(list: unknown[], at: number, by: number): void {
  const to = at + by;
  if (at < 0 || to < 0 || to >= list.length) return;
  list.splice(to, 0, ...list.splice(at, 1));
}

/** Adds a matte of one source, or (null) of drawn outlines alone. @param o.clip see `newMatte`. */
export const addMatte = (o: { id: string; name: string; source: SourceKind | null; clip: string | null }): Edit =>
  edit('Add matte', (s) => {
    s.mattes[o.id] = newMatte({ ...o, name: freshName(s.mattes, o.name) });
  });
export const changeMatte = (id: string, change: Partial<Pick<Matte, 'name' | 'clip' | 'part'>>): Edit =>
  edit('Change matte', (s) => {
    Object.assign(s.mattes[id]!, change);
  });

/** Adds a source to a matte, the last of all. @param other the matte or row that it is made of, for a source of that kind. */
export const addSource = (
  matte: string,
  kind: SourceKind,
  mode: MatteMode = 'add',
  other: string | null = null,
  clip: string | null = null,
): Edit =>
  edit('Add source', (s) => {
    const { sources } = s.mattes[matte]!,
      source = newSource(kind, clip);
    if (source.kind === 'matte') source.matte = other;
    else if (source.kind === 'row') source.row = other;
    sources.push({ id: freshId(sources, 's'), mode, muted: false, solo: false, source } as (typeof sources)[number]);
  });
export const changeSource = (matte: string, id: string, change: Partial<Pick<Entry, 'mode' | 'muted' | 'solo'>>): Edit =>
  changeEntry('Change source', matte, id, (entry) => void Object.assign(entry, change));
export const moveSource = (matte: string, id: string, by: -1 | 1): Edit =>
  edit('Move source', (s) => {
    const { sources } = s.mattes[matte]!;
    moved(
      sources,
      sources.findIndex((one) => one.id === id),
      by,
    );
  });
export const removeSource = (matte: string, id: string): Edit =>
  edit('Remove source', (s) => {
    const one = s.mattes[matte]!;
    one.sources = one.sources.filter((entry) => entry.id !== id);
  });
/** Makes a source one of another kind, with its defaults. */
export const setSourceKind = (matte: string, kind: SourceKind, id?: string): Edit =>
  changeEntry('Change source of matte', matte, id, (entry) => {
    entry.source = newSource(kind, entry.source.clip);
  });
/** Sets values of a source, such as its threshold; what its kind does not have is left out. */
export const setSourceValues = (matte: string, values: Readonly<Record<string, StoredValue>>, id?: string): Edit =>
  changeEntry('Change matte', matte, id, ({ source }) => {
    const { params } = matteSources[source.kind];
    for (const [name, value] of Object.entries(values)) if (Object.hasOwn(params, name)) Object.assign(source, { [name]: value });
  });
/** The clip that a source is made from; null is the one that its matte lies on. */
export const setSourceClip = (matte: string, clip: string | null, id?: string): Edit =>
  changeEntry('Change clip of matte', matte, id, ({ source }) => void (source.clip = clip));
/** The other matte, or the row, that a source is made of; null while none is chosen. */
export const setSourceNamed = (matte: string, other: string | null, id?: string): Edit =>
  changeEntry('Change source of matte', matte, id, ({ source }) => {
    if (source.kind === 'matte') source.matte = other;
    else if (source.kind === 'row') source.row = other;
  });
/** The mattes of a shot as they are offered: the parts of a subject (first those of the given one) with its name before them, then the others. */
export function offeredMattes(shot: Shot, first: string | null = null): { id: string; name: string }[] {
  const rank = (m: Matte) => (m.part === null ? 2 : m.part === first ? 0 : 1);
  return Object.values(shot.mattes)
    .map((m, at) => ({ m, at }))
    .sort((a, b) => rank(a.m) - rank(b.m) || a.at - b.at)
    .map(({ m }) => ({ id: m.id, name: m.part ? `${shot.subjects[m.part]?.name ?? ''}: ${m.name}` : m.name }));
}
/** A colour of a source, picked at a place of the picture, which is kept where the source wants to know it. */
export function pickColour(shot: Shot, matte: string, id: string, param: string, colour: string, at: [number, number]): Edit {
  const entry = sourceOf(shot.mattes, matte, id),
    picked = entry && matteSources[entry.source.kind].params[param]?.picked;
  return setSourceValues(matte, { [param]: colour, ...(typeof picked === 'string' ? { [picked]: at } : {}) }, id);
}

export const addRefinement = (matte: string, kind: RefinementKind): Edit =>
  edit('Add refinement', (s) => {
    const { refine } = s.mattes[matte]!;
    refine.push(newRefinement(freshId(refine, 'f'), kind) as (typeof refine)[number]);
  });
/** Mutes a refinement, or sets its values; what its kind does not have is left out. */
export const changeRefinement = (matte: string, id: string, change: Readonly<Record<string, StoredValue | boolean>>): Edit =>
  edit('Refine matte', (s) => {
    const one = s.mattes[matte]!.refine.find((r) => r.id === id);
    if (!one) return;
    const known = refinements[one.kind].params;
    for (const [name, value] of Object.entries(change))
      if (name === 'muted' || Object.hasOwn(known, name)) Object.assign(one, { [name]: value });
  });
export const moveRefinement = (matte: string, id: string, by: -1 | 1): Edit =>
  edit('Move refinement', (s) => {
    const { refine } = s.mattes[matte]!;
    moved(
      refine,
      refine.findIndex((one) => one.id === id),
      by,
    );
  });
export const removeRefinement = (matte: string, id: string): Edit =>
  edit('Remove refinement', (s) => {
    const one = s.mattes[matte]!;
    one.refine = one.refine.filter((r) => r.id !== id);
  });
/**
 * Sets values of the first refinement of some kinds, which are added where they are not there.
 * @example refineMatte('k1', { grow: { by: -1.5 }, blur: { radius: 0.8 } })
 */
export const refineMatte = (matte: string, by: Partial<Record<RefinementKind, Readonly<Record<string, StoredValue>>>>): Edit =>
  edit('Refine matte', (s) => {
    const { refine } = s.mattes[matte]!;
    for (const [kind, values] of Object.entries(by)) {
      const there = refine.find((one) => one.kind === kind);
      if (there) Object.assign(there, values);
      else refine.push(newRefinement(freshId(refine, 'f'), kind as RefinementKind, values) as (typeof refine)[number]);
    }
  });

/** Lays a painted stroke over a matte. */
export const paintMatte = (matte: string, stroke: Omit<PaintedStroke, 'id'>): Edit =>
  edit(stroke.mode === 'add' ? 'Paint into matte' : 'Paint out of matte', (s) => {
    const { painted } = s.mattes[matte]!;
    painted.push({ ...stroke, points: stroke.points.map(([x, y]) => [x, y] as [number, number]), id: freshId(painted, 'p') });
  });
/** Takes painted strokes away. */
export const removePainted = (matte: string, ids: readonly string[]): Edit =>
  edit('Remove painted strokes', (s) => {
    const one = s.mattes[matte]!;
    one.painted = one.painted.filter((stroke) => !ids.includes(stroke.id));
  });
