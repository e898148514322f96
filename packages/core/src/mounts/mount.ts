import { atan2, PI } from '../image/exactMath';
import type { TrackSample } from '../motion/pointTracker';
import { placeAt } from '../motion/repair';
import { AffineFrame, type Point } from '../motion/frame';

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

/**
 * The frame that a point track carries at a frame of its clip, whole-shot pixels; null where it was never seen. A point says nothing reliable of turn
 * and size, so these stay as they are.
 */
export function pointFrame(samples: readonly TrackSample[], clipFrame: number): AffineFrame | null {
  const place = placeAt(samples, clipFrame);
  return (
    place &&
    new AffineFrame(place.x, place.y, undefined, {
      certain: place.state !== 'lost' && place.state !== 'weak',
      lost: place.state === 'lost',
      hung: true,
    })
  );
}

/** The frame that a pair of tracks carries: it stands at the first one, and turns and grows with the line between them since `reference`. */
export function pairFrame(
  samples: readonly TrackSample[],
  other: readonly TrackSample[],
  clipFrame: number,
  reference: number,
): AffineFrame | null {
  const at = pointFrame(samples, clipFrame),
    turned = pairTurn(samples, other, clipFrame, reference);
  return at && turned ? AffineFrame.turned(at.x, at.y, turned.rotation, turned.scale, at) : at;
}

/** The frame of a mount: its track's, moved by the offset that was dragged on the body. */
export const mountFrame = (track: AffineFrame | null, offset: Point): AffineFrame | null => track && track.at(offset);
