import { Anchor, Crosshair } from 'lucide-react';
import { framesOf } from '@wraithos/core/render';
import { appearanceOf, clipFrame, clipWithRole, onPicture, shotFrame } from '@wraithos/core/shot';
import { TrackTime, TrackTimeChoice } from '../cues/TrackTime';
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

/** Holds the selected track still on the screen. */
function HoldStill() {
  const { selection, holdStill, set } = useParts('selection', 'holdStill', 'set');
  return (
    <IconButton
      label="Hold the selected track still"
      on={holdStill}
      disabled={selection?.kind !== 'track'}
      onClick={() => set({ holdStill: !holdStill })}
    >
      <Anchor size={16} />
    </IconButton>
  );
}
/** How far the selected track has moved since the frame at which it was placed, whole-shot pixels; null where it is not held. */
const stillShift: StepDefinition['still'] = ({ shot, selection, holdStill }, tracks, frame) => {
  const track = selection?.kind === 'track' ? shot?.tracks[selection.id] : undefined,
    clip = track && shot!.clips[track.clip];
  if (!clip || !holdStill) return null;
  const mounts = framesOf(shot!, tracks),
    place = (at: number) => {
      const there = mounts.ofTrack(track.id, clipFrame(shot!, clip, at));
      return there && onPicture(appearanceOf(shot!, clip, at), there.toPicture([0, 0]));
    },
    begun = shotFrame(shot!, clip, track.frame),
    [now, then] = [place(frame), begun === null ? null : place(begun)];
  return now && then ? [now[0] - then[0], now[1] - then[1]] : null;
};
function Buttons() {
  return (
    <>
      <AddPoint />
      <HoldStill />
    </>
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
  Rail: Buttons,
  Time: TrackTime,
  Beside: TrackTimeChoice,
  still: stillShift,
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
