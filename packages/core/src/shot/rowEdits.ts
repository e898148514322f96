import { current } from 'immer';
import { effects, type StoredValue } from '../effects';
import { generateKeyBetween } from 'fractional-indexing';
import { freshId, freshName, lastOrder } from './create';
import { edit, type Edit } from './edit';
import type { Group, Row, Treatment, Twin } from './schema';
import { apart } from './expand';
import { mountOn } from './hang';

/** Edits of what a row is made of beside its values: twins, treatments, groups. */

/** Lets a row stand on another track too. */
export const addTwin = (row: string, track: string, mirrored = false): Edit =>
  edit('Add twin', (s) => {
    const { twins } = s.rows[row]!;
    twins.push({ id: freshId(twins, 'w'), mount: mountOn(s, track), aim: null, mirrored, values: {} });
  });
export const changeTwin = (
  row: string,
  twin: string,
  change: Partial<Pick<Twin, 'mirrored'>> & { track?: string; aim?: string | null },
): Edit =>
  edit('Change twin', (s) => {
    const it = s.rows[row]!.twins.find((t) => t.id === twin)!;
    if (change.track) it.mount = mountOn(s, change.track);
    if (change.aim !== undefined) it.aim = change.aim ? mountOn(s, change.aim) : null;
    if (change.mirrored !== undefined) it.mirrored = change.mirrored;
  });
/** A value in which a twin differs from the others; null lets it follow them again. */
export const setTwinValue = (row: string, twin: string, param: string, value: StoredValue | null): Edit =>
  edit('Change twin', (s) => {
    const { values } = s.rows[row]!.twins.find((t) => t.id === twin)!;
    if (value === null) delete values[param];
    else values[param] = value as Twin['values'][string];
  });
export const removeTwin = (row: string, twin: string): Edit =>
  edit('Remove twin', (s) => {
    const it = s.rows[row]!;
    it.twins = it.twins.filter((t) => t.id !== twin);
  });
/** Makes a twin a row of its own, which looks as it did. */
export const partTwin = (row: string, twin: string, id: string): Edit =>
  edit('Part twin', (s) => {
    const it = s.rows[row]! as Row,
      alone = apart(it, twin);
    if (!alone) return;
    s.rows[id] = {
      ...alone,
      id,
      name: freshName(s.rows, it.name),
      order: generateKeyBetween(it.order, orderAfter(Object.values(s.rows) as Row[], it)),
    };
    s.rows[row]!.twins = s.rows[row]!.twins.filter((t) => t.id !== twin);
  });

const orderAfter = (rows: Row[], row: Row): string | null =>
  rows
    .filter((r) => r.lane === row.lane && r.subject === row.subject && r.order > row.order)
    .map((r) => r.order)
    .sort()[0] ?? null;
/** Where treatments stand: on a row or on a group. */
export interface Treated {
  kind: 'row' | 'group';
  id: string;
}
/** Effects that change a picture and so can treat one. */
export const treatmentTypes = (): string[] =>
  Object.values(effects)
    .filter((e) => Object.values(e.inputs).some((i) => i.kind === 'below'))
    .map((e) => e.type);
const changeTreatments = (name: string, of: Treated, change: (list: Treatment[]) => Treatment[]): Edit =>
  edit(name, (s) => {
    const it = of.kind === 'row' ? s.rows[of.id]! : s.groups[of.id]!;
    it.treatments = change(it.treatments as Treatment[]);
  });
export const addTreatment = (of: Treated, type: string): Edit =>
  changeTreatments('Add treatment', of, (list) => {
    const e = effects[type]!,
      values = Object.fromEntries(Object.entries(e.params).map(([name, p]) => [name, p.default as StoredValue]));
    // Laid on one thing only, light comes from all of it.
    if (e.params.from?.of?.includes('all')) values.from = 'all';
    return [...list, { id: freshId(list, 't'), effect: type, version: e.version, muted: false, values: values as Treatment['values'] }];
  });
export const setTreatmentValue = (of: Treated, id: string, param: string, value: StoredValue): Edit =>
  changeTreatments('Change treatment', of, (list) =>
    list.map((t) => (t.id === id ? { ...t, values: { ...t.values, [param]: value as Treatment['values'][string] } } : t)),
  );
export const changeTreatment = (of: Treated, id: string, change: Partial<Pick<Treatment, 'muted'>>): Edit =>
  changeTreatments('Change treatment', of, (list) => list.map((t) => (t.id === id ? { ...t, ...change } : t)));
/** Puts a treatment one place earlier or later. */
export const moveTreatment = (of: Treated, id: string, by: -1 | 1): Edit =>
  changeTreatments('Move treatment', of, (list) => {
    const at = list.findIndex((t) => t.id === id),
      to = at + by;
    if (at < 0 || to < 0 || to >= list.length) return list;
    const out = [...list];
    [out[at], out[to]] = [out[to]!, out[at]!];
    return out;
  });
export const removeTreatment = (of: Treated, id: string): Edit =>
  changeTreatments('Remove treatment', of, (list) => list.filter((t) => t.id !== id));

/** Makes a group of rows. */
export const groupRows = (rows: readonly string[], id: string, name = 'Group'): Edit =>
  edit('Group effects', (s) => {
    s.groups[id] = {
      ...{ id, name: freshName(s.groups, name), muted: false, opacity: 100, later: 0, mount: null, matte: null },
      ...{ asOne: false, blend: 'normal', treatments: [] },
    };
    for (const row of rows) s.rows[row]!.group = id;
  });
export const joinGroup = (row: string, group: string | null): Edit =>
  edit(group ? 'Join group' : 'Leave group', (s) => {
    s.rows[row]!.group = group;
  });
export const changeGroup = (id: string, change: Partial<Omit<Group, 'id' | 'mount' | 'treatments'>> & { track?: string | null }): Edit =>
  edit('Change group', (s) => {
    const { track, ...rest } = change;
    Object.assign(s.groups[id]!, rest);
    if (track !== undefined) s.groups[id]!.mount = track ? mountOn(s, track) : null;
  });
/** Takes a group apart; its rows stay, where and when they were. */
export const ungroup = (id: string): Edit =>
  edit('Ungroup effects', (s) => {
    const group = s.groups[id]!;
    for (const row of Object.values(s.rows))
      if (row.group === id) {
        row.group = null;
        row.start += group.later;
        row.opacity = (row.opacity * group.opacity) / 100;
        row.muted ||= group.muted;
        row.mount ??= group.mount;
        row.matte ??= group.matte;
        row.treatments.push(...group.treatments.map((t) => ({ ...t, id: `${t.id}g` })));
      }
    delete s.groups[id];
  });
/** Copies of all rows of a group, in a group of their own with the id `copy`. */
export const duplicateGroup = (id: string, copy: string): Edit =>
  edit('Duplicate group', (s) => {
    const group = s.groups[id]!;
    s.groups[copy] = { ...structuredClone(current(group) as Group), id: copy, name: freshName(s.groups, group.name) };
    for (const row of Object.values(s.rows).filter((r) => r.group === id)) {
      const name = freshId(s.rows, 'r');
      s.rows[name] = {
        ...structuredClone(current(row) as Row),
        id: name,
        name: freshName(s.rows, row.name),
        group: copy,
        order: lastOrder(s.rows),
      };
    }
  });

/** Draws a line of a row for a frame of it, in the coordinates of what it hangs on: where the front of an arrival stands, or the way that light goes. */
export const drawRowLine = (row: string, frame: number, points: readonly (readonly [number, number])[]): Edit =>
  edit('Draw a line', (s) => {
    const { strokes } = s.rows[row]!;
    strokes.push({ id: freshId(strokes, 'f'), frame: Math.max(0, frame), points: points.map(([x, y]) => [x, y] as [number, number]) });
  });
export const removeRowLine = (row: string, id: string): Edit =>
  edit('Remove a line', (s) => {
    const one = s.rows[row]!;
    one.strokes = one.strokes.filter((stroke) => stroke.id !== id);
  });
