import { effectOf, type StoredValue } from '../effects';
import type { Row, Shot, Twin } from './schema';

/** What stands between a row's id and that of its twin, in the ids of what is drawn. */
const BETWEEN = '~';
/** The id of the row that a drawn row stands for. */
export const rowIdOf = (drawn: string): string => drawn.split(BETWEEN)[0]!;

/** Seeds of twins lie this far apart, so that no two of them move alike. */
const SEED_STEP = 137;

/** A value as the other side has it: offsets and directions mirrored left to right. */
function mirrored(kind: string, value: StoredValue): StoredValue {
  if (kind === 'point') return [-(value as [number, number])[0], (value as [number, number])[1]];
  return kind === 'angle' ? 180 - (value as number) : value;
}

/** The row as it stands at its `n`-th twin: with the twin's own mounts and values, mirrored, and with a seed of its own. */
function twinOf(row: Row, twin: Twin, n: number): Row {
  const params = effectOf(row.effect)?.params ?? {},
    values: Row['values'] = {},
    curves: Row['curves'] = {};
  for (const [name, p] of Object.entries(params)) {
    const own = twin.values[name],
      shared: StoredValue = row.values[name] ?? (p.default as StoredValue);
    let value: StoredValue = own ?? shared;
    if (own === undefined && twin.mirrored) value = mirrored(p.kind, value);
    if (own === undefined && p.kind === 'seed') value = ((shared as number) + n * SEED_STEP) % 10000;
    values[name] = value as Row['values'][string];
    // What differs at this twin has no part in the curve of the others.
    if (own !== undefined) continue;
    for (const key of [name, `${name}.x`, `${name}.y`]) {
      const curve = row.curves[key];
      if (!curve) continue;
      const turned = twin.mirrored && (key.endsWith('.x') ? (v: number) => -v : p.kind === 'angle' ? (v: number) => 180 - v : null);
      curves[key] = turned ? { points: curve.points.map((q) => ({ ...q, value: turned(q.value) })) } : curve;
    }
  }
  const strokes = twin.mirrored
    ? row.strokes.map((s) => ({ ...s, points: s.points.map(([x, y]): [number, number] => [-x, y]) }))
    : row.strokes;
  return { ...row, id: `${row.id}${BETWEEN}${twin.id}`, mount: twin.mount, aim: twin.aim ?? row.aim, twins: [], strokes, values, curves };
}

/** True for a row that goes into one picture with its group; one that takes a subject apart is drawn by itself. */
export const laidAsOne = (shot: Shot, row: Row): boolean =>
  !!(row.group && shot.groups[row.group]?.asOne && !effectOf(row.effect)?.removes);

/** A row as its group makes it. Opacity, matte and treatments of a group that is laid on as one picture are for that picture. */
function grouped(shot: Shot, row: Row): Row {
  const group = row.group ? shot.groups[row.group] : undefined;
  if (!group) return row;
  const lent = { ...row, muted: row.muted || group.muted, mount: row.mount ?? group.mount };
  return laidAsOne(shot, row)
    ? lent
    : {
        ...lent,
        opacity: (row.opacity * group.opacity) / 100,
        matte: row.matte ?? group.matte,
        treatments: [...row.treatments, ...group.treatments],
      };
}

/** What is drawn of a row: itself, as its group makes it, and its twins. */
export function expandRow(shot: Shot, row: Row): Row[] {
  const own = grouped(shot, row);
  return [own, ...own.twins.map((twin, i) => twinOf(own, twin, i + 1))];
}

/** A twin as a row of its own that looks as the twin does; null where there is none of that id. */
export function apart(row: Row, twin: string): Row | null {
  const n = row.twins.findIndex((t) => t.id === twin);
  return n < 0 ? null : twinOf(row, row.twins[n]!, n + 1);
}
