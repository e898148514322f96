import { useEffect, useState } from 'react';
import { canPin, changeCue, cueFrame, moveCue, ownClips, pinCue } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { ChoiceField, NumberField } from './fields';

/** A text that is taken over when it is left or Enter is pressed. */
export function TextField({ label, value, onChange }: { label: string; value: string; onChange(v: string): void }) {
  const [text, setText] = useState(value),
    id = `text-${label.toLowerCase()}`;
  useEffect(() => setText(value), [value]);
  const finish = () => {
    if (text.trim() && text.trim() !== value) onChange(text.trim());
    else setText(value);
  };
  return (
    <div className="field">
      <label className="still" htmlFor={id}>
        {label}
      </label>
      <input
        id={id}
        className="form-control form-control-sm"
        style={{ width: 170 }}
        maxLength={120}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={finish}
        onKeyDown={(e) => {
          if (e.key === 'Enter') finish();
        }}
      />
    </div>
  );
}

export function CueSettings({ id }: { id: string }) {
  const shot = useDocument(),
    { edit, remove } = useParts('edit', 'remove'),
    cue = shot.cues[id]!,
    // Not those that begin with it: each would wait for the other.
    moving = ownClips(shot).filter((c) => c.frames > 1 && canPin(shot, id, c.id)),
    pinned = cue.clip ? shot.clips[cue.clip] : undefined,
    rows = [...Object.values(shot.rows), ...Object.values(shot.clips)].filter((it) => it.cue === id);
  return (
    <>
      <h2>Cue</h2>
      <TextField label="Name" value={cue.name} onChange={(name) => edit(changeCue(id, { name }))} />
      <NumberField label="Frame" value={cueFrame(shot, id)} onChange={(frame) => edit(moveCue(id, Math.round(frame)))} />
      <ChoiceField
        label="Moves with"
        help="Pinned to a clip, it stands at what the clip shows, also when the clip is moved, cut or played at another speed"
        value={cue.clip ?? ''}
        of={['', ...moving.map((c) => c.id)]}
        words={Object.fromEntries([['', 'nothing'], ...moving.map((c) => [c.id, c.name])])}
        onChange={(clip) => edit(pinCue(id, clip || null))}
      />
      {pinned && (
        <p className="quiet mt-1 mb-0">
          Frame {cue.frame} of {pinned.name}.
        </p>
      )}
      <p className="quiet mt-2">
        {rows.length
          ? `Starts with it: ${rows.map((r) => r.name).join(', ')}. Move the cue and they follow.`
          : 'Nothing starts with it yet; choose it in an effect or a clip under Starts with.'}
      </p>
      <button type="button" className="btn btn-quiet btn-sm" onClick={() => remove('cue', id)}>
        Remove cue
      </button>
    </>
  );
}
