import { useEffect } from 'react';
import type { Matte } from '@wraithos/core/shot';
import { lookForDoubts, stopDoubts, useMatteDoubts } from '../steps/matteDoubts';
import { useParts } from '../state/shotStore';
import { JobLine } from '../ui/JobLine';

/** Frames that are listed at a time: when these are mended, the next ones come. */
const LISTED = 8;
/** Milliseconds after a change before a matte that was looked through is looked through again. */
const SETTLES = 700;

/** The frames on which a matte is doubtful, listed with a reason; a press goes there. Mended, they leave the list. */
export function MatteDoubts({ matte }: { matte: Matte }) {
  const { set } = useParts('set'),
    { matte: looked, doubts, running, error } = useMatteDoubts(),
    own = looked?.id === matte.id,
    stale = own && looked !== matte;
  useEffect(() => {
    if (!stale) return;
    const soon = setTimeout(() => void lookForDoubts(matte.id), SETTLES);
    return () => clearTimeout(soon);
  }, [stale, matte]);
  return (
    <section aria-label="Doubtful frames of the matte">
      <h3>Doubtful frames</h3>
      {running?.id === matte.id ? (
        <JobLine label="Looking through the frames" done={Math.round(100 * running.share)} total={100} onCancel={stopDoubts} />
      ) : (
        !own && (
          <button
            type="button"
            className="btn btn-quiet btn-sm"
            title="Finds holes, jumps, flicker and half coverage"
            onClick={() => void lookForDoubts(matte.id)}
          >
            Look through all frames
          </button>
        )
      )}
      {own && !running && doubts.length === 0 && <div className="quiet">No frame is doubtful.</div>}
      {own && doubts.length > 0 && (
        <ul className="doubts" aria-label="Doubtful frames of the matte">
          {doubts.slice(0, LISTED).map((d) => (
            <li key={d.frame}>
              <button type="button" className="btn btn-quiet btn-sm" onClick={() => set({ frame: d.frame, playing: false })}>
                <span className="num">{d.frame}</span> {d.reason}
              </button>
            </li>
          ))}
        </ul>
      )}
      {own && doubts.length > LISTED && <p className="quiet">and {doubts.length - LISTED} more</p>}
      {error && (
        <div role="alert" className="bad">
          {error}
        </div>
      )}
    </section>
  );
}
