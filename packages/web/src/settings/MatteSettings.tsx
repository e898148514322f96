import { Trash2 } from 'lucide-react';
import { matteSources, sourceKinds, type SourceKind } from '@wraithos/core/matte';
import {
  addOccluder,
  addSubject,
  changeMatte,
  changeSubject,
  freshId,
  setSourceClip,
  setSourceKind,
  setSourceValues,
  clipFrame,
  matteClip,
  ownClips,
  subjectFor,
  together,
  usesOf,
  clipWithRole,
  type Matte,
} from '@wraithos/core/shot';
import { matteViews } from '@wraithos/core/render';
import { BuildPlate } from '../plates/BuildPlate';
import { useDocument, useParts } from '../state/shotStore';
import { stateOf, take } from '../tools';
import { TextField } from './CueSettings';
import { ChoiceField, NumberField, SwitchField } from './fields';
import { OutlineSettings } from './OutlineSettings';
import { ParamFields, plainTarget } from './ParamFields';

export function MatteSettings({ id }: { id: string }) {
  const shot = useDocument(),
    { edit, preview, remove, set, frame, matteView, tool } = useParts('edit', 'preview', 'remove', 'set', 'frame', 'matteView', 'tool'),
    matte = shot.mattes[id]!,
    owner = matteClip(shot, matte),
    at = owner ? clipFrame(shot, owner, frame) : frame,
    clean = clipWithRole(shot, 'clean'),
    source = matteSources[matte.source.kind],
    uses = usesOf(shot, 'matte', matte.id);
  const number = (
    label: string,
    key: 'grow' | 'blur' | 'despeckle' | 'fillHoles',
    unit: string,
    range: [number, number],
    step: number,
    help: string,
  ) => (
    <NumberField
      label={label}
      unit={unit}
      range={range}
      step={step}
      help={help}
      value={matte[key]}
      onPreview={(v) => preview(changeMatte(id, { [key]: v } as Partial<Matte>))}
      onChange={(v) => edit(changeMatte(id, { [key]: v } as Partial<Matte>))}
    />
  );
  const subject = subjectFor(shot, null);
  const asSubject = () => {
    if (subject) {
      edit(changeSubject(subject.id, { matte: id }));
      return;
    }
    const clip = clipWithRole(shot, 'performance'),
      fresh = freshId(shot.subjects, 's');
    if (!clip) {
      set({ notice: 'A subject needs a performance clip; give a clip that role on Plates.' });
      return;
    }
    edit(together('Make subject', addSubject(fresh, matte.name, clip.id), changeSubject(fresh, { matte: id })));
  };
  const occluder = Object.values(shot.occluders).find((o) => o.matte === id);
  return (
    <>
      <TextField label="Name" value={matte.name} onChange={(name) => edit(changeMatte(id, { name }))} />
      <div className="segments btn-group btn-group-sm my-2 w-100" role="group" aria-label="View of the matte">
        {(['off', ...matteViews] as const).map((v) => (
          <button
            key={v}
            type="button"
            className={`btn btn-quiet ${matteView === v ? 'active' : ''}`}
            aria-pressed={matteView === v}
            onClick={() => set({ matteView: v })}
          >
            {v === 'black and white' ? 'b & w' : v}
          </button>
        ))}
      </div>
      <ChoiceField
        label="Made from"
        value={matte.source.kind}
        of={sourceKinds}
        words={Object.fromEntries(sourceKinds.map((kind) => [kind, matteSources[kind].called])) as Record<SourceKind, string>}
        help={source.summary}
        onChange={(kind) => edit(setSourceKind(id, kind))}
      />
      {source.inputs.includes('plate') && (
        <ChoiceField
          label="Clip"
          value={matte.source.clip ?? ''}
          of={['', ...ownClips(shot).map((c) => c.id)]}
          words={Object.fromEntries([['', 'the performance'], ...ownClips(shot).map((c) => [c.id, c.name])])}
          onChange={(clip) => edit(setSourceClip(id, clip || null))}
        />
      )}
      {source.inputs.includes('clean') && !clean && (
        <div className="why">
          There is no clean plate. Build one from the performance, or bring one in on Plates.
          <BuildPlate />
        </div>
      )}
      <ParamFields
        params={source.params}
        title={source.called}
        target={plainTarget(source.params, matte.source, (name, value) => setSourceValues(id, { [name]: value }), {
          picking: stateOf(tool, 'pick colour')?.param ?? null,
          start: (name) => set({ tool: take('pick colour', { matte: id, param: name }) }),
        })}
      />
      <h3>Refine</h3>
      {number('Grow or shrink', 'grow', 'px', [-100, 100], 0.5, 'Above 0 grows, below 0 shrinks.')}
      {number('Blur', 'blur', 'px', [0, 200], 0.5, 'Radius in px, 2 × standard deviation.')}
      {number('Despeckle', 'despeckle', 'px²', [0, 1e6], 50, 'Specks smaller than this go.')}
      {number('Fill holes', 'fillHoles', 'px²', [0, 1e6], 100, 'Holes smaller than this are closed.')}
      <SwitchField label="Invert" checked={matte.invert} onChange={(invert) => edit(changeMatte(id, { invert }))} />
      <OutlineSettings matte={matte} at={at} />
      <h3>Used as</h3>
      {uses.length > 0 && <div className="mb-2">{uses.join(', ')}</div>}
      <div className="d-flex flex-wrap gap-1">
        {subject?.matte !== id && (
          <button type="button" className="btn btn-quiet btn-sm" onClick={asSubject}>
            {subject ? `Matte of ${subject.name}` : 'Make it the subject'}
          </button>
        )}
        {subject && subject.matte !== id && (
          <button
            type="button"
            className="btn btn-quiet btn-sm"
            disabled={subject.traces === id}
            title="What the subject leaves on the picture: shadow, reflection, light. It fades with it."
            onClick={() => edit(changeSubject(subject.id, { traces: id }))}
          >
            Traces of {subject.name}
          </button>
        )}
        {occluder ? (
          <button type="button" className="btn btn-quiet btn-sm" onClick={() => remove('occluder', occluder.id)}>
            No longer an occluder
          </button>
        ) : (
          subject?.matte !== id && (
            <button
              type="button"
              className="btn btn-quiet btn-sm"
              title="Scenery in front: its plate pixels are put back over every effect on the subject"
              onClick={() => edit(addOccluder(freshId(shot.occluders, 'h'), matte.name, id))}
            >
              Occluder
            </button>
          )
        )}
      </div>
      <button type="button" className="btn btn-quiet btn-sm mt-3" onClick={() => remove('matte', id)}>
        <Trash2 size={14} className="me-1" />
        Remove matte
      </button>
    </>
  );
}
