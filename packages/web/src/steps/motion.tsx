import { Crosshair } from 'lucide-react';
import { clipWithRole } from '@wraithos/core/shot';
import { Confidence } from '../cues/Confidence';
import { useDocument, useParts } from '../state/shotStore';
import { take } from '../tools';
import { IconButton } from '../ui/IconButton';
import { TrackOverlay } from '../viewer/TrackOverlay';
import { plainView, type StepDefinition } from './describe';
import { MotionPanel } from './MotionPanel';

function AddPoint() {
  const shot = useDocument(),
    { tool, set } = useParts('tool', 'set'),
    on = tool?.kind === 'add track';
  return (
    <IconButton
      label="Add a point"
      on={on}
      disabled={!clipWithRole(shot, 'performance')}
      onClick={() => set({ tool: on ? null : take('add track', { track: 'point' }) })}
    >
      <Crosshair size={16} />
    </IconButton>
  );
}

export const motion: StepDefinition = {
  id: 'motion',
  title: 'Motion',
  about: 'Follow points of the performance, and mend the frames that are weak or lost.',
  hint: 'Add a point with the button beside the picture, click it on the picture, then track it.',
  List: MotionPanel,
  settles: ['track', 'cue'],
  Overlay: TrackOverlay,
  Rail: AddPoint,
  Time: Confidence,
  Beside: () => <div className="quiet mt-1">confidence of the selected track</div>,
  // The clip that is followed, whatever the base shows.
  view({ shot, live, selection }) {
    const document = live ?? shot,
      track = selection?.kind === 'track' ? document?.tracks[selection.id] : undefined;
    return { ...plainView, plain: track?.clip ?? (document && clipWithRole(document, 'performance')?.id) ?? true };
  },
  count(checks) {
    const number = new Set(checks.filter((c) => c.track).map((c) => c.track)).size;
    return number ? { number, meaning: 'Tracks with weak or lost frames where they are used' } : null;
  },
};
