import { useSyncExternalStore } from 'react';
import { frameCache } from '../state/frameCache';
import { useShot } from '../state/shotStore';
import { useView } from '../viewer/useView';
import type { Step } from '../workbench/steps';
import { ClipSettings } from './ClipSettings';
import { CueSettings } from './CueSettings';
import { EffectSettings } from './EffectSettings';
import { GroupSettings } from './GroupSettings';
import { MatteSettings } from './MatteSettings';
import { SubjectSettings } from './SubjectSettings';
import { TrackSettings } from './TrackSettings';

const hints: Record<Step, string> = {
  plates: 'Drop clips onto the list at the left. Say which one is the performance and which the clean plate.',
  motion: 'Add a point with the button in the rail, click it on the picture, then track it.',
  mattes: 'Make a matte, or select one, to see its settings.',
  effects: 'Select a row, or add an effect to a lane with its plus.',
  render: '',
};

/** Settings of what is selected. */
export function Settings({ step }: { step: Step }) {
  const { selection, shot, factor, frame, set } = useShot();
  const view = useView(step);
  useSyncExternalStore(frameCache.subscribe, () => frameCache.version);
  if (!shot) return null;
  const drawn = frameCache.get(shot, frame, view);
  const id = selection?.id ?? '',
    kind = selection?.kind;
  const found =
    kind === 'clip' && shot.clips[id] ? (
      <ClipSettings id={id} />
    ) : kind === 'track' && shot.tracks[id] ? (
      <TrackSettings id={id} />
    ) : kind === 'matte' && shot.mattes[id] ? (
      <MatteSettings id={id} />
    ) : kind === 'row' && shot.rows[id] ? (
      <EffectSettings id={id} />
    ) : kind === 'group' && shot.groups[id] ? (
      <GroupSettings id={id} />
    ) : kind === 'cue' && shot.cues[id] ? (
      <CueSettings id={id} />
    ) : kind === 'subject' && shot.subjects[id] ? (
      <SubjectSettings id={id} />
    ) : null;
  return (
    <div className="settings">
      <div className="d-flex align-items-center mb-2">
        <div className="segments btn-group btn-group-sm" role="group" aria-label="Size of the picture">
          {([2, 1] as const).map((f) => (
            <button
              key={f}
              type="button"
              className={`btn btn-quiet ${factor === f ? 'active' : ''}`}
              aria-pressed={factor === f}
              title={f === 1 ? 'Draw at full size' : 'Draw at half size while working; the render is always full'}
              onClick={() => set({ factor: f })}
            >
              {f === 1 ? 'full' : 'draft 1/2'}
            </button>
          ))}
        </div>
        {drawn && (
          <span className="quiet num ms-auto" title="Time to draw this frame">
            this frame {Math.round(drawn.milliseconds)} ms
          </span>
        )}
      </div>
      {found ?? <p className="quiet">{hints[step]}</p>}
    </div>
  );
}
