import { effectOf } from '@wraithos/core/effects';
import { pictureFrame, type Frame } from '@wraithos/core/motion';
import { framesOf, type Tracks } from '@wraithos/core/render';
import { carrierOf } from '@wraithos/core/placing';
import { drawnRows, rowValues, type DrawnRow, type Shot } from '@wraithos/core/shot';
import { useDocument, useShot } from '../state/shotStore';
import { useTracks } from '../workbench/tracks';

/** A row as it is drawn, with its twins, and the frame of reference that its places and lengths are in. */
export interface Standing {
  row: DrawnRow;
  twins: readonly DrawnRow[];
  body: Frame;
}
/** Where a row stands at a frame; null where it is not drawn. */
export function standingAt(shot: Shot, tracks: Tracks, id: string, frame: number): Standing | null {
  const [row, ...twins] = drawnRows(shot).of(id);
  if (!row) return null;
  const effect = effectOf(row.type),
    standsAt = (at: number): Frame =>
      (row.mount ? framesOf(shot, tracks).at(row.mount, at, row.subject?.id) : null) ??
      pictureFrame(effect?.origin ?? 'middle', shot.width, shot.height),
    now = standsAt(frame);
  return { row, twins, body: effect?.carried ? carrierOf(effect.carried(rowValues(row, frame, 1)), now, standsAt(row.first)) : now };
}
/** The same at the playhead. */
export function useStanding(id: string): Standing | null {
  const shot = useDocument(),
    frame = useShot((s) => s.frame);
  return standingAt(shot, useTracks(), id, frame);
}
