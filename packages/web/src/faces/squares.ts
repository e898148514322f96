import type { SquareCutter } from '@wraithos/core/motion';
import type { Clip } from '@wraithos/core/shot';
import { measurer } from '../workers/pool';

/** Cuts squares out of a clip's frames, in a measuring worker, for a finder to look at. */
export const squaresOf =
  (clip: Clip, signal: AbortSignal): SquareCutter =>
  async (frame, at, side, size) => {
    const answer = await measurer().ask({ kind: 'square', clip, frame, at, side, size }, 20, signal);
    return answer.kind === 'square' ? answer.picture : null;
  };
