import type { Plane } from '../image/picture';
import { placeAt } from './layers';
import { samplePatch } from './ncc';
import type { TrackSample } from './pointTracker';
import { alike } from './suggestCues';

/** Pixels to each side within which a place is looked for where it is most alike: tracks are never quite right. */
const AROUND = 2;

/** How alike a patch and a picture are about a place, 0..1, whatever their brightness and contrast: at the best place nearby. */
function likest(pattern: Float32Array, plane: Plane, x: number, y: number, side: number): number {
  let best = 0;
  for (let dy = -AROUND; dy <= AROUND; dy++)
    for (let dx = -AROUND; dx <= AROUND; dx++) best = Math.max(best, alike(pattern, samplePatch(plane, x + dx, y + dy, side).data));
  return best;
}
/** Compares the place of a track on every frame with its look on one of them. */
export class LikenessMeter {
  private readonly pattern: Float32Array | null;
  /**
   * @param along samples of the track. @param first the frame of the chosen look, and its number. @param side of the box that is compared, pixels, odd.
   */
  constructor(
    private readonly along: readonly TrackSample[],
    first: Plane,
    frame: number,
    private readonly side: number,
  ) {
    const place = placeAt(along, frame);
    this.pattern = place && place.state !== 'lost' ? samplePatch(first, place.x, place.y, side).data : null;
  }
  /** A sample whose confidence is the likeness; 0 where the track is lost. */
  at(plane: Plane, frame: number): TrackSample {
    const place = placeAt(this.along, frame),
      seen = place && place.state !== 'lost' && this.pattern,
      likeness = seen ? Math.min(1, Math.max(0, likest(this.pattern!, plane, place.x, place.y, this.side))) : 0;
    return {
      ...{ frame, x: place?.x ?? null, y: place?.y ?? null, rotation: 0, scale: 1, confidence: likeness },
      state: seen ? 'good' : 'lost',
    };
  }
}
