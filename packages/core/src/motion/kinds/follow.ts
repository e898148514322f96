import type { Codes } from '../../image/picture';
import { measuredPlane } from '../measured';
import type { Place } from '../layers';
import type { TrackSample } from '../pointTracker';
import { trackKinds, type StoredKind } from './index';

/** A track that is being followed through the frames of its clip. */
export interface Following {
  /** What it was given at its first frame. */
  start: TrackSample;
  /** Looks for it in the next frame, in either direction of time. */
  step(codes: Codes, clipFrame: number): TrackSample;
}

/**
 * Begins to follow a track from a frame on, measured on what it is said to be measured on; its turn and growth go on from what they are there. Null where
 * nothing of its kind is measured in pictures.
 * @param codes the frame at which it begins. @param from where it is there, clip pixels.
 */
export function followTrack(
  track: StoredKind,
  codes: Codes,
  clipFrame: number,
  from: Pick<Place, 'x' | 'y' | 'corners'> & Partial<Pick<Place, 'rotation' | 'scale'>>,
): Following | null {
  const { rotation = 0, scale = 1 } = from,
    follower = trackKinds[track.kind].follow?.(track as never, measuredPlane(codes, track as never), clipFrame, from, codes),
    onFrom = (s: TrackSample): TrackSample => ({ ...s, rotation: s.rotation + rotation, scale: s.scale * scale });
  return follower
    ? { start: onFrom(follower.start), step: (next, frame) => onFrom(follower.step(measuredPlane(next, track as never), frame, next)) }
    : null;
}
