import type { ComponentType } from 'react';
import { isThere, useParts } from '../state/shotStore';
import { useDrawn } from '../state/useDrawn';
import { useView } from '../viewer/useView';
import type { SelectionKind, StepDefinition } from '../steps/describe';
import { BaseSettings } from './BaseSettings';
import { ClipSettings } from './ClipSettings';
import { CueSettings } from './CueSettings';
import { EffectSettings } from './EffectSettings';
import { GroupSettings } from './GroupSettings';
import { MatteSettings } from './MatteSettings';
import { SubjectSettings } from './SubjectSettings';
import { TrackSettings } from './TrackSettings';
import './settings.css';

/** The form of each kind of entity. */
const forms: Record<SelectionKind, ComponentType<{ id: string }>> = {
  clip: ClipSettings,
  track: TrackSettings,
  matte: MatteSettings,
  row: EffectSettings,
  group: GroupSettings,
  cue: CueSettings,
  subject: SubjectSettings,
  base: BaseSettings,
};

/** Settings of what is selected, where it belongs to this step. */
export function Settings({ step }: { step: StepDefinition }) {
  const { selection, shot, factor, frame, set } = useParts('selection', 'shot', 'factor', 'frame', 'set');
  const view = useView(step);
  const drawn = useDrawn(shot, frame, view);
  if (!shot) return null;
  const there = selection && step.settles.includes(selection.kind) && isThere(shot, selection),
    Form = there ? forms[selection.kind] : null;
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
      {Form ? <Form key={selection!.id} id={selection!.id} /> : <p className="quiet">{step.hint}</p>}
    </div>
  );
}
