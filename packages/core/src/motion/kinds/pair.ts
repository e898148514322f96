import { atan2, PI } from '../../image/exactMath';
import { AffineFrame } from '../frame';
import type { TrackSample } from '../pointTracker';
import { placeAt } from '../layers';
import { trackKind } from './describe';
import { fitBoxes, followPattern, patternParams, pointFrame } from './point';

/** Two tracks as one: the turn (degrees clockwise) and growth of the line between them since a frame at which both were there. */
export function pairTurn(
  samples: readonly TrackSample[],
  other: readonly TrackSample[],
  now: number,
  reference: number,
): { rotation: number; scale: number } | null {
  const [a, b, c, d] = [placeAt(samples, now), placeAt(other, now), placeAt(samples, reference), placeAt(other, reference)];
  if (!a || !b || !c || !d) return null;
  const x = b.x - a.x,
    y = b.y - a.y,
    u = d.x - c.x,
    v = d.y - c.y,
    long = Math.sqrt(u * u + v * v);
  if (long < 1e-6) return null;
  return { rotation: (atan2(u * y - v * x, u * x + v * y) * 180) / PI, scale: Math.sqrt(x * x + y * y) / long };
}

/** A point that turns and grows with the line to another track. */
export const pair = trackKind({
  kind: 'pair',
  title: 'Pair',
  summary: 'Follows one point, and turns and grows with the line to another track.',
  click: 'the point to follow',
  params: patternParams,
  fit: fitBoxes,
  ...followPattern,
  joins: 'pair',
  frame({ samples, others: [other], reference }, clipFrame) {
    const at = pointFrame(samples, clipFrame),
      turned = other && pairTurn(samples, other, clipFrame, reference);
    return at && turned ? AffineFrame.turned(at.x, at.y, turned.rotation, turned.scale, at) : at;
  },
});
