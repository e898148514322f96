import { PenLine, RefreshCw } from 'lucide-react';
import { doubtsOf, placesBetween, type Doubt, type TrackSample } from '@wraithos/core/motion';
import { fillTrack, shotFrame, type Track } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';

/** Doubts that are listed at a time: when these are mended, the next ones come. */
const LISTED = 6;
/** Frames that are filled in at once: what is longer than that was not seen, and nobody knows where it went. */
const FILLED = 24;

const wordsOf = ({ kind, size }: Doubt, frames: number): string =>
  kind === 'jump' ? `jumps by ${size.toFixed(1)} px` : `${kind}${frames > 1 ? ` for ${frames} frames` : ''}`;

/** What is doubtful of a track: a press goes there, and another fills it in from its neighbours. */
export function TrackDoubts({
  track,
  samples,
  again,
}: {
  track: Track;
  samples: readonly TrackSample[];
  /** Follows the track anew over doubtful frames, from both sides; none while something is being followed. */
  again?(first: number, last: number): void;
}) {
  const shot = useDocument(),
    { edit, set } = useParts('edit', 'set'),
    clip = shot.clips[track.clip]!,
    // Only what shows in the shot.
    all = doubtsOf(samples).flatMap((doubt) => {
      const at = shotFrame(shot, clip, doubt.first);
      return at === null ? [] : [{ ...doubt, at }];
    });
  if (!all.length) return null;
  return (
    <>
      <h3>Doubtful frames</h3>
      <ul className="doubts" aria-label="Doubtful frames">
        {all.slice(0, LISTED).map((doubt) => {
          const frames = doubt.last - doubt.first + 1,
            places = frames <= FILLED ? placesBetween(samples, doubt.first, doubt.last) : null;
          return (
            <li key={`${doubt.kind} ${doubt.first}`}>
              <button type="button" className="btn btn-quiet btn-sm" onClick={() => set({ frame: doubt.at })}>
                <span className="num">{doubt.at}</span> {wordsOf(doubt, frames)}
              </button>
              {again && (
                <IconButton small label={`Track again from both sides: ${doubt.at}`} onClick={() => again(doubt.first, doubt.last)}>
                  <RefreshCw size={14} />
                </IconButton>
              )}
              {places && places.size > 0 && (
                <IconButton small label={`Fill in from its neighbours: ${doubt.at}`} onClick={() => edit(fillTrack(track.id, places))}>
                  <PenLine size={14} />
                </IconButton>
              )}
            </li>
          );
        })}
      </ul>
      {all.length > LISTED && <p className="quiet">and {all.length - LISTED} more</p>}
    </>
  );
}
