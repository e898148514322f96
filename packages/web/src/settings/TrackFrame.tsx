import { trackKinds, type Correction, type Place, type TrackSample } from '@wraithos/core/motion';
import { correctTrack, type Track } from '@wraithos/core/shot';
import { useParts } from '../state/shotStore';
import { NumberField, PairField } from './fields';

/** What a track is on the frame at the playhead, and what was set there by hand. */
export function TrackFrame({
  track,
  at,
  sample,
  place,
}: {
  track: Track;
  /** Frame of the track's clip. */
  at: number;
  sample: TrackSample | undefined;
  place: Pick<Place, 'x' | 'y' | 'rotation' | 'scale'> | null;
}) {
  const { edit } = useParts('edit'),
    set = track.corrections[String(at)],
    { keyed } = trackKinds[track.kind],
    here = place ?? { x: track.at[0], y: track.at[1], rotation: 0, scale: 1 },
    change = (more: Partial<Correction>) =>
      edit(correctTrack(track.id, at, { ...{ at: [here.x, here.y], turn: here.rotation, growth: here.scale }, ...set, ...more }));
  return (
    <>
      <h3>This frame</h3>
      {!keyed && (
        <div className="field">
          <label className="still">State</label>
          <span className="num" aria-label="State of the track">
            {sample ? (sample.state === 'keyed' ? 'set by hand' : `${sample.state} ${sample.confidence.toFixed(2)}`) : 'not tracked'}
          </span>
        </div>
      )}
      {keyed ? (
        <>
          <PairField
            label="Place"
            unit="px"
            value={[here.x, here.y]}
            changed={set !== undefined}
            onReset={() => edit(correctTrack(track.id, at, null))}
            onChange={(to) => change({ at: to })}
          />
          <NumberField label="Turn" unit="°" range={[-3600, 3600]} step={0.1} value={here.rotation} onChange={(turn) => change({ turn })} />
          <NumberField
            label="Growth"
            unit="%"
            range={[1, 10000]}
            step={0.1}
            value={100 * here.scale}
            onChange={(growth) => change({ growth: growth / 100 })}
          />
        </>
      ) : (
        <div className="field">
          <label className="still">Place</label>
          <span className="num">{sample?.x != null ? `${sample.x.toFixed(2)}, ${sample.y!.toFixed(2)} px` : '–'}</span>
        </div>
      )}
      {set && (
        <button type="button" className="btn btn-quiet btn-sm" onClick={() => edit(correctTrack(track.id, at, null))}>
          {keyed ? 'Remove the key' : 'Remove the correction'}
        </button>
      )}
    </>
  );
}
