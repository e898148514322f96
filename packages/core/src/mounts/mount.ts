import { atan2, cos, PI, radians, sin } from '../image/exactMath';
import type { TrackSample } from '../motion/pointTracker';
import { placeAt } from '../motion/repair';

/** A moving frame of reference: whole-shot pixels, degrees clockwise, size against the track's first frame. */
export interface Pose {
  x: number;
  y: number;
  rotation: number;
  scale: number;
  certain: boolean;
  /** Nothing was found there: it stands where it was seen last. */
  lost?: boolean;
}

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
 * Where a mount on a track stands: the track's place at the clip's frame, moved by the offset that was dragged on the picture. A point says nothing
 * reliable of turn and size, so these stay as they are; with a pair they follow, and so does the offset.
 */
export function mountPose(
  samples: readonly TrackSample[],
  clipFrame: number,
  offset: readonly [number, number],
  turned: { rotation: number; scale: number } | null = null,
): Pose | null {
  const place = placeAt(samples, clipFrame);
  if (!place) return null;
  const { rotation, scale } = turned ?? { rotation: 0, scale: 1 },
    c = scale * cos(radians(rotation)),
    s = scale * sin(radians(rotation));
  return {
    x: place.x + (turned ? offset[0] * c - offset[1] * s : offset[0]),
    y: place.y + (turned ? offset[0] * s + offset[1] * c : offset[1]),
    rotation,
    scale,
    certain: place.state !== 'lost' && place.state !== 'weak',
    lost: place.state === 'lost',
  };
}
