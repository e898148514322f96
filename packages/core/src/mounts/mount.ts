import type { TrackSample } from '../motion/pointTracker';
import { placeAt } from '../motion/repair';

/** A moving frame of reference: whole-shot pixels, degrees clockwise, size against the track's first frame. */
export interface Pose {
  x: number;
  y: number;
  rotation: number;
  scale: number;
  certain: boolean;
}

/**
 * Where a mount on a point track stands: the track's place at the clip's frame, moved by the offset that was dragged on the picture.
 * A point says nothing reliable of turn and size, so these stay as they are.
 */
export function mountPose(samples: readonly TrackSample[], clipFrame: number, offset: [number, number]): Pose | null {
  const place = placeAt(samples, clipFrame);
  return (
    place && {
      x: place.x + offset[0],
      y: place.y + offset[1],
      rotation: 0,
      scale: 1,
      certain: place.state !== 'lost' && place.state !== 'weak',
    }
  );
}
