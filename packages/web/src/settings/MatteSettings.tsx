import { Pencil, Trash2 } from 'lucide-react';
import { matteSources, sourceKinds, type SourceKind } from '@wraithos/core/matte';
import {
  addOccluder,
  addSubject,
  changeMatte,
  changeOutline,
  changeSubject,
  freshId,
  setSourceClip,
  setSourceKind,
  setSourceValues,
  outlineModes,
  removeOutline,
  clipFrame,
  matteClip,
  ownClips,
  rideOutline,
  subjectFor,
  together,
  usesOf,
  clipWithRole,
  type Matte,
} from '@wraithos/core/shot';
import { framesOf, matteViews, outlineAt } from '@wraithos/core/render';
import { BuildPlate } from '../plates/BuildPlate';
import { useDocument, useParts } from '../state/shotStore';
import { useTracks } from '../workbench/tracks';
import { stateOf, take } from '../tools';
import { IconButton } from '../ui/IconButton';
import { TextField } from './CueSettings';
import { ChoiceField, NumberField, SwitchField } from './fields';
import { ParamFields, plainTarget } from './ParamFields';

export const modeWords = { add: 'Adds', 'take away': 'Takes away', 'keep inside': 'Keeps only inside' } as const;

export function MatteSettings({ id }: { id: string }) {
  const shot = useDocument(),
    { edit, preview, remove, set, frame, matteView, outline, tool } = useParts(
      'edit',
      'preview',
      'remove',
      'set',
      'frame',
      'matteView',
      'outline',
      'tool',
    ),
    tracks = useTracks(),
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
  const draw = (mode: (typeof outlineModes)[number]) => set({ tool: take('draw outline', { matte: id, mode, points: [] }) });
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
      <h3>Outlines</h3>
      <div className="d-flex flex-wrap gap-1 mb-1">
        {outlineModes.map((mode) => (
          <button
            key={mode}
            type="button"
            className={`btn btn-quiet btn-sm ${stateOf(tool, 'draw outline')?.mode === mode ? 'active' : ''}`}
            onClick={() => draw(mode)}
          >
            <Pencil size={12} className="me-1" />
            {{ add: 'Add area', 'take away': 'Take away area', 'keep inside': 'Keep only inside' }[mode]}
          </button>
        ))}
      </div>
      {matte.outlines.map((o) => (
        <div key={o.id} className={`outline-entry ${o.id === outline ? 'selected' : ''}`}>
          <div className="d-flex align-items-center">
            <button type="button" className="btn btn-link btn-sm p-0 flex-grow-1 text-start plain" onClick={() => set({ outline: o.id })}>
              {o.name} <span className="quiet">{modeWords[o.mode].toLowerCase()}</span>
            </button>
            <IconButton small label={`Remove ${o.name}`} onClick={() => edit(removeOutline(id, o.id))}>
              <Trash2 size={13} />
            </IconButton>
          </div>
          {o.id === outline && (
            <>
              <ChoiceField
                label="Outline"
                value={o.mode}
                of={outlineModes}
                words={modeWords}
                onChange={(mode) => edit(changeOutline(id, o.id, { mode }))}
              />
              <NumberField
                label="Feather"
                unit="px"
                range={[0, 1000]}
                value={o.feather}
                help="Full width over which it falls from 1 to 0, centred on the edge."
                onPreview={(feather) => preview(changeOutline(id, o.id, { feather }))}
                onChange={(feather) => edit(changeOutline(id, o.id, { feather }))}
              />
              <ChoiceField
                label="Hangs on"
                value={(o.mount && shot.mounts[o.mount]?.track) ?? ''}
                of={['', ...Object.keys(shot.tracks)]}
                words={Object.fromEntries([['', 'nothing'], ...Object.values(shot.tracks).map((t) => [t.id, t.name])])}
                help="The outline moves, turns and grows with this track from this frame on."
                onChange={(track) => edit(rideOutline(id, o.id, track || null, at, outlineAt(o, at, framesOf(shot, tracks)).vertices))}
              />
              <div className="quiet">Drag its points; double-click one to round it.</div>
            </>
          )}
        </div>
      ))}
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
