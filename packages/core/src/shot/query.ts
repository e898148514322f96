import type { Lane } from '../effects';
import { cueFrame } from './when';
import type { Clip, Row, Shot, Subject, Take, Track } from './schema';

const byOrder = (a: { order: string; id: string }, b: { order: string; id: string }) =>
  a.order < b.order ? -1 : a.order > b.order ? 1 : a.id < b.id ? -1 : 1;

/** First and last shot frame of a row; a cue that is gone counts as frame 0 of none, so the start stands alone. Its group may make it later. */
export function rowRange(shot: Shot, row: Row): [number, number] {
  const later = row.group ? (shot.groups[row.group]?.later ?? 0) : 0,
    first = row.start + later + (row.cue ? cueFrame(shot, row.cue) : 0);
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

/** The clip of the base's first take. */
export const baseClip = (shot: Shot): Clip | undefined => {
  const [first] = shot.base.takes;
  return first && shot.clips[first.clip];
};
/** Shot frame at which a take comes in: its own, or that at which the effect that leads it begins. The first is there from the beginning. */
export function takeStart(shot: Shot, take: Take): number {
  const leads = leadingRow(shot, take);
  return leads ? rowRange(shot, leads)[0] : take.start + (take.cue ? cueFrame(shot, take.cue) : 0);
}
/** The effect that lets a take in; null where none does. */
export const leadingRow = (shot: Shot, take: Take): Row | null =>
  take.values.transition === 'led by an effect' && take.row ? (shot.rows[take.row] ?? null) : null;

/** The tracks that a track names: that with which it makes a pair, or those in whose middle it stands. */
export const joinedBy = (shot: Shot, track: Track): Track[] =>
  ('pair' in track ? (track.pair ? [track.pair] : []) : 'tracks' in track ? track.tracks.map((t) => t.track) : []).flatMap(
    (id) => shot.tracks[id] ?? [],
  );
