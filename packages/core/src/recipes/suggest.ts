import { effectOf, type Suggestion } from '../effects';
import { heightOf } from '../shot/drawn';
import type { Shot } from '../shot/schema';
import { framesPerSecond } from '../time/rate';

/**
 * How a new row of an effect is set up so that it looks right at once; each effect says it for itself. What happens at a moment begins at the playhead
 * and lasts to the end of the shot.
 * @param track the id of the track that it hangs on.
 */
export function suggestedValues(type: string, shot: Shot, track: string | null, frame: number): Suggestion {
  const e = effectOf(type),
    rest = shot.last - frame + 1;
  return {
    ...(e?.happens ? { start: frame, length: rest } : {}),
    ...e?.suggest?.({
      width: shot.width,
      height: shot.height,
      framesPerSecond: framesPerSecond(shot.rate),
      frame,
      rest,
      subjectPixels: heightOf(shot, null),
      hung: track !== null,
      otherTrack: Object.keys(shot.tracks).find((id) => id !== track) ?? null,
    }),
  };
}
