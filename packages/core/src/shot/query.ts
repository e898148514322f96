import type { Lane } from '../effects';
import type { Clip, Row, Shot, Subject } from './schema';

const byOrder = (a: { order: string; id: string }, b: { order: string; id: string }) =>
  a.order < b.order ? -1 : a.order > b.order ? 1 : a.id < b.id ? -1 : 1;

/** First and last shot frame of a row; a cue that is gone counts as frame 0 of none, so the start stands alone. Its group may make it later. */
export function rowRange(shot: Shot, row: Row): [number, number] {
  const later = row.group ? (shot.groups[row.group]?.later ?? 0) : 0,
    first = row.start + later + (row.cue ? (shot.cues[row.cue]?.frame ?? 0) : 0);
  return [first, first + row.length - 1];
}

/** Subjects from far to near. */
export const subjectsInOrder = (shot: Shot): Subject[] => Object.values(shot.subjects).sort(byOrder);

/** Rows of one lane (of one subject, where the lane is a subject's), from far to near. */
export function rowsOf(shot: Shot, lane: Lane, subject: string | null): Row[] {
  return (Object.values(shot.rows) as Row[]).filter((row) => row.lane === lane && (row.subject ?? null) === subject).sort(byOrder);
}

/** All rows from far to near, as they are worked through. */
export function rowsInOrder(shot: Shot): Row[] {
  return [
    ...rowsOf(shot, 'background', null),
    ...subjectsInOrder(shot).flatMap((s) => [...rowsOf(shot, 'behind', s.id), ...rowsOf(shot, 'on', s.id), ...rowsOf(shot, 'front', s.id)]),
    ...rowsOf(shot, 'foreground', null),
    ...rowsOf(shot, 'whole', null),
  ];
}

export const clipWithRole = (shot: Shot, role: Clip['role']): Clip | undefined =>
  Object.values(shot.clips).find((clip) => clip.role === role);
/** The clip that is the base: named, or else the performance. */
export const baseClip = (shot: Shot): Clip | undefined =>
  (shot.base ? shot.clips[shot.base] : undefined) ?? clipWithRole(shot, 'performance');
