import { doubtfulKeys, drawnBeyond } from '@wraithos/core/matte';
import { matteClip, shotFrame, type Matte, type Outline } from '@wraithos/core/shot';
import { useCarry } from '../steps/carryOutline';
import { useDocument, useParts } from '../state/shotStore';
import { JobLine } from '../ui/JobLine';
import { useTracks } from '../workbench/tracks';

/** Doubtful frames that are listed at a time: when these are mended, the next ones come. */
const LISTED = 8;

/** Carries an outline to other frames by the picture's own motion and edges, and lists where that is doubtful. */
export function CarryOn({ matte, outline, at }: { matte: Matte; outline: Outline; at: number }) {
  const shot = useDocument(),
    tracks = useTracks(),
    { set } = useParts('set'),
    { state, error, carry, stop } = useCarry(),
    clip = matteClip(shot, matte);
  if (!clip) return null;
  const between = (way: 1 | -1) =>
      drawnBeyond(outline.keys, at, way) === null
        ? `To the ${way > 0 ? 'end' : 'start'} of the clip, or of the part that is played`
        : `To the ${way > 0 ? 'next' : 'previous'} frame on which it was drawn, from both sides`,
    doubts = doubtfulKeys(outline.keys).flatMap((d) => {
      const frame = shotFrame(shot, clip, d.frame);
      return frame === null ? [] : [{ ...d, frame }];
    });
  return (
    <>
      <div className="d-flex gap-2 my-2">
        <button
          type="button"
          className="btn btn-quiet btn-sm"
          disabled={state !== null || at === 0}
          title={between(-1)}
          onClick={() => carry(matte, outline, -1, tracks)}
        >
          Carry back
        </button>
        <button
          type="button"
          className="btn btn-primary btn-sm flex-grow-1"
          disabled={state !== null || at >= clip.frames - 1}
          title={between(1)}
          onClick={() => carry(matte, outline, 1, tracks)}
        >
          Carry on
        </button>
      </div>
      {state?.outline === outline.id && (
        <JobLine
          label={state.words}
          done={state.done}
          total={state.total}
          message={`${state.done} of ${state.total} frames`}
          onCancel={stop}
        />
      )}
      {error && (
        <div role="alert" className="bad">
          {error}
        </div>
      )}
      {doubts.length > 0 && (
        <>
          <div className="quiet">Doubtful: move what is off there, and it counts as drawn.</div>
          <ul className="doubts" aria-label="Doubtful frames">
            {doubts.slice(0, LISTED).map((d) => (
              <li key={d.frame}>
                <button type="button" className="btn btn-quiet btn-sm" onClick={() => set({ frame: d.frame, playing: false })}>
                  <span className="num">{d.frame}</span> least sure point {Math.round(100 * d.sure)} %
                </button>
              </li>
            ))}
          </ul>
          {doubts.length > LISTED && <p className="quiet">and {doubts.length - LISTED} more</p>}
        </>
      )}
    </>
  );
}
