import { Trash2 } from 'lucide-react';
import {
  addOccluder,
  addSubject,
  changeMatte,
  changeSubject,
  freshId,
  clipFrame,
  matteClip,
  ownClips,
  subjectFor,
  together,
  usesOf,
  clipWithRole,
  type Matte,
} from '@wraithos/core/shot';
import { matteGrounds, matteViews } from '@wraithos/core/render';
import { useDocument, useParts } from '../state/shotStore';
import { useChecks } from '../workbench/useChecks';
import { TextField } from './CueSettings';
import { ChoiceField, ColourField } from './fields';
import { MatteDoubts } from './MatteDoubts';
import { MattePaint } from './MattePaint';
import { MatteRefinements } from './MatteRefinements';
import { MatteSources } from './MatteSources';
import { OutlineFiles } from './OutlineFiles';
import { OutlineSettings } from './OutlineSettings';

/** The colour that a cut-out is laid on, until another one is chosen: fringes of skin and of a green backing both show on it. */
const OTHER_GROUND = '#b03a6a';

export function MatteSettings({ id }: { id: string }) {
  const shot = useDocument(),
    { edit, remove, set, frame, matteView, matteGround } = useParts('edit', 'remove', 'set', 'frame', 'matteView', 'matteGround'),
    matte = shot.mattes[id]!,
    owner = matteClip(shot, matte),
    at = owner ? clipFrame(shot, owner, frame) : frame,
    uses = usesOf(shot, 'matte', matte.id);
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
  const troubles = useChecks().filter((c) => c.matte === id);
  const occluder = Object.values(shot.occluders).find((o) => o.matte === id);
  return (
    <>
      {troubles.slice(0, 1).map((c) => (
        <div key={c.id} className="bad mb-2" role="alert">
          {c.text} <span className="quiet">{c.fix}</span>
        </div>
      ))}
      <TextField label="Name" value={matte.name} onChange={(name) => edit(changeMatte(id, { name }))} />
      <div className="segments three my-2" role="group" aria-label="View of the matte">
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
      {matteView === 'cut out' && (
        <>
          <ChoiceField
            label="Laid on"
            value={matteGround.startsWith('#') ? 'a colour' : matteGround}
            of={[...matteGrounds, 'a colour']}
            onChange={(ground) => set({ matteGround: ground === 'a colour' ? OTHER_GROUND : ground })}
          />
          {matteGround.startsWith('#') && (
            <ColourField label="Its colour" value={matteGround} onChange={(ground) => set({ matteGround: ground })} />
          )}
        </>
      )}
      <MatteSources matte={matte} />
      <OutlineSettings matte={matte} at={at} />
      <OutlineFiles matte={matte} at={at} />
      <MatteRefinements matte={matte} />
      <MattePaint matte={matte} />
      <MatteDoubts matte={matte} />
      <MatteClip matte={matte} />
      <h3>Used as</h3>
      {uses.length > 0 && <div className="mb-2">{uses.join(', ')}</div>}
      {Object.values(shot.subjects).some((s) => s.matte !== id) && (
        <ChoiceField
          label="Part of"
          value={matte.part ?? ''}
          of={['', ...Object.values(shot.subjects).flatMap((s) => (s.matte === id ? [] : [s.id]))]}
          words={Object.fromEntries([['', 'no subject'], ...Object.values(shot.subjects).map((s) => [s.id, s.name])])}
          help="A named part, such as a hand: effects are born from it, limited to it, or go under it, and it is listed under its subject."
          onChange={(part) => edit(changeMatte(id, { part: part || null }))}
        />
      )}
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

/** The clip in whose pixels and frames a matte lies. */
function MatteClip({ matte }: { matte: Matte }) {
  const shot = useDocument(),
    { edit } = useParts('edit');
  return (
    <ChoiceField
      label="Lies on"
      value={matte.clip ?? ''}
      of={['', ...ownClips(shot).map((c) => c.id)]}
      words={Object.fromEntries([['', 'the performance'], ...ownClips(shot).map((c) => [c.id, c.name])])}
      help="Its outlines are in the pixels and frames of this clip."
      onChange={(clip) => edit(changeMatte(matte.id, { clip: clip || null }))}
    />
  );
}
