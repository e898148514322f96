import { effectOf } from '@wraithos/core/effects';
import { pictureFrame, type Frame } from '@wraithos/core/motion';
import { framesOf } from '@wraithos/core/render';
import { carrierOf } from '@wraithos/core/placing';
import { drawnRows, rowValues, type DrawnRow } from '@wraithos/core/shot';
import { useDocument, useShot } from '../state/shotStore';
import { useTracks } from '../workbench/tracks';

/** A row as it is drawn, with its twins, and the frame of reference that its places and lengths are in; null where its effect is not known here. */
export function useStanding(id: string): { row: DrawnRow; twins: readonly DrawnRow[]; body: Frame } | null {
  const shot = useDocument(),
    frame = useShot((s) => s.frame),
    tracks = useTracks(),
    [row, ...twins] = drawnRows(shot).of(id);
  if (!row) return null;
  const effect = effectOf(row.type),
    standsAt = (at: number): Frame =>
      (row.mount ? framesOf(shot, tracks).at(row.mount, at, row.subject?.id) : null) ??
      pictureFrame(effect?.origin ?? 'middle', shot.width, shot.height),
    now = standsAt(frame);
  return { row, twins, body: effect?.carried ? carrierOf(effect.carried(rowValues(row, frame, 1)), now, standsAt(row.first)) : now };
}
