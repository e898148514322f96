import { create } from 'zustand';
import { useDocument, useParts } from '../state/shotStore';
import { Confidence } from './Confidence';
import type { TimeScale } from './scale';
import { TrackCurves } from './TrackCurves';
import { TrackPatches } from './TrackPatches';

const looks = ['confidence', 'place', 'turn and growth', 'pattern'] as const;
/** What is shown of the selected track. */
const useTrackView = create<{ look: (typeof looks)[number] }>(() => ({ look: 'confidence' }));

/** The selected track under the filmstrip: how sure it is, its curves, or its pattern on every frame. */
export function TrackTime({ x, width }: { x: TimeScale; width: number }) {
  const look = useTrackView((s) => s.look),
    { selection } = useParts('selection'),
    track = useDocument().tracks[selection?.kind === 'track' ? selection.id : ''];
  if (!track) return null;
  if (look === 'confidence') return <Confidence x={x} width={width} />;
  if (look === 'pattern') return <TrackPatches track={track} />;
  return <TrackCurves track={track} of={look === 'place' ? ['x', 'y'] : ['turn', 'growth']} x={x} width={width} />;
}

/** Chooses what is shown of the selected track. */
export function TrackTimeChoice() {
  const look = useTrackView((s) => s.look);
  return (
    <label className="quiet mt-1">
      Of the selected track
      <select
        className="form-select form-select-sm mt-1"
        aria-label="Shown of the selected track"
        value={look}
        onChange={(e) => useTrackView.setState({ look: e.target.value as typeof look })}
      >
        {looks.map((l) => (
          <option key={l}>{l}</option>
        ))}
      </select>
    </label>
  );
}
