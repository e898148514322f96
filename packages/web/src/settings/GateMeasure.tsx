import { changeTrack, joinedBy, shotFrame, type Track } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';

/** Chooses the frame whose look a gate compares with, and measures it. */
export function GateMeasure({ track, at, busy, compare }: { track: Track; at: number; busy: boolean; compare(): void }) {
  const shot = useDocument(),
    { edit, set } = useParts('edit', 'set'),
    clip = shot.clips[track.clip]!,
    chosen = shotFrame(shot, clip, track.frame),
    [other] = joinedBy(shot, track);
  return (
    <>
      <div className="field">
        <label className="still">Looks as on</label>
        <button
          type="button"
          className="btn btn-quiet btn-sm num"
          disabled={chosen === null}
          title="Goes there"
          onClick={() => chosen !== null && set({ frame: chosen })}
        >
          {chosen ?? `frame ${track.frame} of the clip`}
        </button>
        <button
          type="button"
          className="btn btn-quiet btn-sm"
          disabled={at === track.frame}
          onClick={() => edit(changeTrack(track.id, { frame: at }))}
        >
          This frame
        </button>
      </div>
      <button
        type="button"
        className="btn btn-primary btn-sm w-100 my-2"
        disabled={busy || !other?.samples}
        title={other ? (other.samples ? undefined : `Track ${other.name} first`) : 'Choose the track whose place is compared'}
        onClick={compare}
      >
        Compare all frames
      </button>
    </>
  );
}
