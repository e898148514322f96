import { Crosshair } from 'lucide-react';
import { correctedSamples } from '@wraithos/core/motion';
import { clipWithRole } from '@wraithos/core/shot';
import { useParts } from '../state/shotStore';
import { take } from '../tools';
import { useTracks } from '../workbench/tracks';

/** Tracks of the shot. */
export function MotionPanel() {
  const { shot, selection, tool, set } = useParts('shot', 'selection', 'tool', 'set'),
    tracks = useTracks();
  if (!shot) return null;
  const all = Object.values(shot.tracks),
    hasClip = clipWithRole(shot, 'performance') !== undefined;
  return (
    <>
      <div className="pane-title">
        <span>Tracks</span>
        <button
          type="button"
          className={`btn btn-quiet btn-sm py-0 ${tool?.kind === 'add track' ? 'active' : ''}`}
          disabled={!hasClip}
          onClick={() => set({ tool: take('add track', {}) })}
        >
          <Crosshair size={13} className="me-1" />
          Add point
        </button>
      </div>
      {all.map((track) => {
        const samples = correctedSamples(tracks.get(track.id) ?? [], track.corrections),
          bad = samples.filter((s) => s.state === 'weak' || s.state === 'lost').length;
        return (
          <button
            key={track.id}
            type="button"
            className={`list-item ${selection?.kind === 'track' && selection.id === track.id ? 'selected' : ''}`}
            onClick={() => set({ selection: { kind: 'track', id: track.id } })}
          >
            <Crosshair size={15} className="quiet flex-shrink-0" />
            <span className="grow">
              <div>{track.name}</div>
              <div className="quiet">
                {samples.length ? `${samples.length} frames` : 'not tracked yet'}
                {bad ? <span className="bad"> · {bad} weak or lost</span> : null}
              </div>
            </span>
          </button>
        );
      })}
      {all.length === 0 && (
        <p className="quiet px-3 py-2">
          {hasClip
            ? 'No tracks yet. Add a point on something that stands out, such as a pin or a lamp, then track it forwards.'
            : 'First say on Plates which clip is the performance.'}
        </p>
      )}
    </>
  );
}
