import { drawnBy, effectOf, laneTitles, valuesAt, type Effect, type Lane, type Params, type Values } from '../effects';
import { expandRow, laidAsOne } from './expand';
import { clipWithRole } from './clips';
import { curvesInRow } from './hungCurves';
import { baseClip, rowRange, rowsInOrder, subjectsInOrder } from './query';
import type { Clip, Row, Shot, Subject, Treatment } from './schema';

/**
 * A row as it is drawn: for itself or for one of its twins, with what its group lends it, its subject, mattes, clips and range looked up. It is made
 * once for a document, and planning, checks, handles, live pictures, cost and messages read nothing else of a row.
 */
export interface DrawnRow {
  /** Its own id among what is drawn; that of its row, but for twins. */
  id: string;
  /** The id of the row that it stands for. */
  row: string;
  name: string;
  type: string;
  version: number;
  /** What draws it; null where the effect is not known here, or was made by a newer version of it. */
  effect: Effect | null;
  lane: Lane;
  /** The subject whose lane it stands in; null in the lanes of the whole shot. */
  lanedAt: string | null;
  /** The subject that it reads: that of its lane, or else the farthest one of the shot. */
  subject: Subject | null;
  /** Height of that subject on the picture (whole-shot pixels) and in the world (metres). */
  subjectPixels: number;
  subjectMetres: number;
  /** Traces of that subject (shadow, light) are known, so that they can fade with it. */
  traces: boolean;
  /** First and last shot frame, and how many there are. */
  first: number;
  last: number;
  length: number;
  opacity: number;
  blend: Row['blend'];
  /** The gate that lets it show. */
  gate: string | null;
  mount: string | null;
  aim: string | null;
  /** The matte that its effect reads, the one that limits it, and the one of what stays above it. */
  source: string | null;
  /** The matte whose values say in which order it arrives. */
  pattern: string | null;
  limit: string | null;
  under: string | null;
  /** The clip whose pictures it draws, the plate that it reads, and the clean plate. */
  element: Clip | null;
  plate: Clip | null;
  clean: Clip | null;
  values: Row['values'];
  curves: Row['curves'];
  /** Where its front stands on some frames, counted from its first. */
  strokes: Row['strokes'];
  /** The group whose rows are laid on as one picture, with how that is done; null for a row that is laid on by itself. */
  asOne: { group: string; opacity: number; blend: Row['blend']; limit: string | null; treatments: DrawnRow['treatments'] } | null;
  /** Its own and its group's, without those that are muted or not known here. */
  treatments: (Treatment & { drawnBy: Effect })[];
  /** Why it is drawn at no frame at all, for people; null where it is. */
  never: string | null;
}

/** All rows of a document as they are drawn, from far to near. */
export interface Drawn {
  rows: readonly DrawnRow[];
  /** Those of a row: itself first, then its twins. */
  of(row: string): readonly DrawnRow[];
  /** Those of a lane (of one subject, where the lane is a subject's), from far to near. */
  in(lane: Lane, subject: string | null): readonly DrawnRow[];
}

/** Height of a subject on the picture where none is known, as a share of the picture's height. */
const USUAL_HEIGHT = 0.55;
/** Height of a subject in the world where none is known, metres. */
const USUAL_METRES = 1.7;
/** The subject that something without a subject of its own reads: the farthest one. */
export const subjectFor = (shot: Shot, id: string | null): Subject | null =>
  (id !== null ? shot.subjects[id] : subjectsInOrder(shot)[0]) ?? null;
/** Height of a subject on the picture, whole-shot pixels; a usual one where the shot has no subject. */
export const heightOf = (shot: Shot, subject: string | null): number => subjectFor(shot, subject)?.pixels ?? usualHeight(shot);
export const usualHeight = (shot: { height: number }): number => shot.height * USUAL_HEIGHT;

const made = new WeakMap<Shot, Drawn>();
/** The rows of a document as they are drawn; made once for each document. */
export function drawnRows(shot: Shot): Drawn {
  let drawn = made.get(shot);
  if (!drawn) made.set(shot, (drawn = resolve(shot)));
  return drawn;
}

const NOTHING: readonly DrawnRow[] = [];
function resolve(shot: Shot): Drawn {
  const anySolo = Object.values(shot.rows).some((row) => row.solo),
    inLanes = rowsInOrder(shot),
    placed = new Set(inLanes),
    astray = (Object.values(shot.rows) as Row[]).filter((row) => !placed.has(row)),
    resolved = (row: Row) => expandRow(shot, row).map((one) => resolveRow(shot, one, row, anySolo)),
    rows = [
      ...inLanes.flatMap(resolved),
      ...astray.flatMap(resolved).map((row) => ({ ...row, never: `there is no lane ${laneTitles[row.lane]} where it stands` })),
    ],
    byRow = new Map<string, DrawnRow[]>(),
    byLane = new Map<string, DrawnRow[]>(),
    put = (map: Map<string, DrawnRow[]>, key: string, row: DrawnRow) => {
      const list = map.get(key);
      if (list) list.push(row);
      else map.set(key, [row]);
    };
  for (const row of rows) {
    put(byRow, row.row, row);
    put(byLane, `${row.lane} ${row.lanedAt ?? ''}`, row);
  }
  return {
    rows,
    of: (row) => byRow.get(row) ?? NOTHING,
    in: (lane, subject) => byLane.get(`${lane} ${subject ?? ''}`) ?? NOTHING,
  };
}

/**
 * One row as it is drawn.
 * @param one the row or twin as `expandRow` gives it, @param row the row of the document.
 */
function resolveRow(shot: Shot, one: Row, row: Row, anySolo: boolean): DrawnRow {
  const subject = subjectFor(shot, one.subject),
    [first, last] = rowRange(shot, row),
    known = effectOf(one.effect),
    effect = drawnBy(one) ?? null,
    group = row.group ? shot.groups[row.group] : undefined,
    matte = (id: string | null | undefined) => (id && Object.hasOwn(shot.mattes, id) ? id : null),
    never = !known
      ? `the effect "${row.effect}" is not known here`
      : !effect
        ? `made by a newer version of ${known.title} than there is here`
        : group?.muted
          ? `its group ${group.name} is muted`
          : row.muted
            ? 'muted'
            : anySolo && !row.solo
              ? 'another effect is solo'
              : group && group.opacity <= 0
                ? `opacity of its group ${group.name} is 0 %`
                : row.opacity <= 0
                  ? 'opacity is 0 %'
                  : null;
  return {
    id: one.id,
    row: row.id,
    name: row.name,
    type: one.effect,
    version: one.version,
    effect,
    lane: one.lane,
    lanedAt: one.subject,
    subject,
    subjectPixels: subject?.pixels ?? usualHeight(shot),
    subjectMetres: subject?.metres ?? USUAL_METRES,
    traces: matte(subject?.traces) !== null,
    first,
    last,
    length: one.length,
    opacity: one.opacity,
    blend: one.blend,
    gate: one.gate,
    mount: one.mount,
    aim: one.aim,
    source: matte(one.source ?? subject?.matte),
    pattern: matte(one.pattern),
    limit: matte(one.matte),
    under: matte(one.under),
    element: (one.clip ? shot.clips[one.clip] : undefined) ?? null,
    plate: (subject ? shot.clips[subject.clip] : undefined) ?? clipWithRole(shot, 'performance') ?? baseClip(shot) ?? null,
    clean: clipWithRole(shot, 'clean') ?? null,
    asOne: laidAsOne(shot, row)
      ? {
          group: group!.id,
          opacity: group!.opacity,
          blend: group!.blend,
          limit: matte(group!.matte),
          treatments: treatmentsOf(group!.treatments),
        }
      : null,
    values: one.values,
    curves: curvesInRow(shot, one.curves, first),
    strokes: one.strokes,
    treatments: treatmentsOf(one.treatments),
    never,
  };
}

/** Treatments that count: neither muted nor of an effect that is not known here. */
const treatmentsOf = (list: readonly Treatment[]): DrawnRow['treatments'] =>
  list.flatMap((t) => {
    const by = drawnBy(t);
    return t.muted || !by ? [] : [{ ...t, drawnBy: by }];
  });

/** Why a row does not show at a frame, for people; null where it shows. */
export const whyNotVisible = (row: DrawnRow, frame: number): string | null =>
  row.never !== null
    ? `not visible: ${row.never}`
    : frame < row.first
      ? `not visible: starts at ${row.first}`
      : frame > row.last
        ? `not visible: ended at ${row.last}`
        : null;

/**
 * The values of a row at a shot frame, as its effect gets them.
 * @param scale pixels of the picture for each whole-shot pixel: lengths and points are in pixels of that picture.
 */
export const rowValues = (row: Pick<DrawnRow, 'effect' | 'values' | 'curves' | 'first'>, frame: number, scale: number): Values<Params> =>
  valuesAt(row.effect!.params, row.values, row.curves, frame - row.first, scale);

/** True where a row changes nothing at this frame and its step is left out. */
export const isIdle = (row: DrawnRow, frame: number): boolean =>
  row.opacity <= 0 ||
  (row.effect!.idle?.(rowValues(row, frame, 1), frame - row.first, (inRow) => rowValues(row, row.first + inRow, 1)) ?? false);
