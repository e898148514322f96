import { effectOf } from '@wraithos/core/effects';
import { pictureFrame, type Frame } from '@wraithos/core/motion';
import { framesOf } from '@wraithos/core/render';
import { drawnRows, type DrawnRow } from '@wraithos/core/shot';
import { useDocument, useShot } from '../state/shotStore';
import { useTracks } from '../workbench/tracks';

/** A row as it is drawn, with its twins, and the frame of reference that its places and lengths are in; null where its effect is not known here. */
export function useStanding(id: string): { row: DrawnRow; twins: readonly DrawnRow[]; body: Frame } | null {
  const shot = useDocument(),
    frame = useShot((s) => s.frame),
    tracks = useTracks(),
    [row, ...twins] = drawnRows(shot).of(id);
  if (!row) return null;
  const hung = row.mount ? framesOf(shot, tracks)(row.mount, frame) : null;
  return { row, twins, body: hung ?? pictureFrame(effectOf(row.type)?.origin ?? 'middle', shot.width, shot.height) };
}
