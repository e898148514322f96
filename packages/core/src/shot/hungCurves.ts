import { withPoint, type Curve, type CurvePoint } from '../time/curve';
import { rowRange } from './query';
import type { Row, Shot } from './schema';
import { cueFrame } from './when';

/*
 * Points of a row's curves may hang on cues, with which they then move. Stored, such a point counts its frame from its cue; everything that reads a
 * curve wants frames of the row. Here the one is made of the other.
 */

const isHung = (p: CurvePoint): boolean => p.cue !== undefined && p.cue !== null;

/** A curve in frames of its row, from the shot frame at which that one begins; the same object where nothing of it hangs. */
export function inRowFrames(shot: Shot, curve: Curve, first: number): Curve {
  if (!curve.points.some(isHung)) return curve;
  const points = curve.points.map((p) => (isHung(p) ? { ...p, frame: cueFrame(shot, p.cue!) + p.frame - first } : p));
  // Where two meet, what hangs on a cue comes last, and so is what holds.
  return { points: points.sort((a, b) => a.frame - b.frame || Number(isHung(a)) - Number(isHung(b))) };
}
/** All curves of a row in its frames. */
export function curvesInRow(shot: Shot, curves: Row['curves'], first: number): Row['curves'] {
  if (!Object.values(curves).some((curve) => curve.points.some(isHung))) return curves;
  return Object.fromEntries(
    Object.entries(curves).map(([name, curve]) => [name, inRowFrames(shot, curve, first) as Row['curves'][string]]),
  );
}
/** A curve in frames of its row as it is stored: the way back. */
export const asStored = (shot: Shot, curve: Curve, first: number): Row['curves'][string] => ({
  points: curve.points.map((p) => (isHung(p) ? { ...p, frame: p.frame + first - cueFrame(shot, p.cue!) } : p)),
});

/** The curves of a row without cues, as they stand now: for a place where the cues are others, or gone. */
export function settledCurves(shot: Shot, row: Row, of: (cue: string) => boolean = () => true): Row['curves'] {
  const first = rowRange(shot, row)[0];
  return Object.fromEntries(
    Object.entries(row.curves).map(([name, curve]) => {
      if (!curve.points.some((p) => isHung(p) && of(p.cue!))) return [name, curve];
      const points: CurvePoint[] = [];
      for (const { cue, ...p } of inRowFrames(shot, curve, first).points) {
        const stays = cue !== undefined && cue !== null && !of(cue);
        if (!stays && points.at(-1)?.frame === p.frame) points.pop();
        points.push(stays ? { ...p, cue } : p);
      }
      return [name, asStored(shot, { points }, first)];
    }),
  );
}

/** A stored curve with a point at a frame of the row; one that stands there takes the value, and hangs on as before. */
export function putPoint(shot: Shot, row: Row, curve: Curve | undefined, point: CurvePoint): Row['curves'][string] {
  const first = rowRange(shot, row)[0],
    now = inRowFrames(shot, curve ?? { points: [] }, first),
    cue = now.points.findLast((p) => p.frame === point.frame)?.cue;
  return asStored(shot, withPoint(now, cue ? { ...point, cue } : point), first);
}
