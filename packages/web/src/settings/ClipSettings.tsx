import { Boxes, Trash2 } from 'lucide-react';
import { keepInStockroom } from '../elements/keep';
import { framesPerSecond } from '@wraithos/core/time';
import { clipParams } from '@wraithos/core/placing';
import { changeClip, clipRoles, clipStart, placedRange, setBase, setShot, waitsForItself } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { useChecks } from '../workbench/useChecks';
import { ClipColour } from './ClipColour';
import { ChoiceField, NumberField, SwitchField } from './fields';
import { StartsWith } from './StartsWith';
import { Split } from './Split';
import { TakeMatch } from './TakeMatch';
import { BuildPlate } from '../plates/BuildPlate';
import { PlateSection } from '../plates/PlateSection';
import { RepairSection } from '../plates/RepairSection';
import { PlacedFields } from './PlacedFields';
import { ReplaceClip } from './ReplaceClip';
import { roleWords } from './roleWords';

export function ClipSettings({ id }: { id: string }) {
  const shot = useDocument(),
    { edit, remove } = useParts('edit', 'remove'),
    clip = shot.clips[id]!,
    start = clipStart(shot, clip),
    troubles = useChecks().filter((c) => c.clip === id);
  return (
    <>
      <h2>{clip.name}</h2>
      <div className="quiet num mb-2">
        {clip.width} x {clip.height} ·{' '}
        {clip.frames === 1 ? 'still' : `${clip.frames} frames at ${Math.round(framesPerSecond(clip.rate) * 100) / 100}`} ·{' '}
        {clip.bits === 32 ? 'floats' : `${clip.bits} bit`}
        {clip.alpha ? ' · alpha' : ''}
      </div>
      {troubles.slice(0, 1).map((c) => (
        <div key={c.id} className="bad mb-2" role="alert">
          {c.text} <span className="quiet">{c.fix}</span>
          {c.mend === 'clean plate' && <BuildPlate />}
        </div>
      ))}
      {clip.continues === null && (
        <ChoiceField label="Role" value={clip.role} of={clipRoles} words={roleWords} onChange={(role) => edit(changeClip(id, { role }))} />
      )}
      {!clip.made && (
        <StartsWith
          label="Starts with"
          atFrame="Starts at frame"
          cue={clip.cue}
          start={clip.start}
          at={start}
          cues={Object.keys(shot.cues).filter((cue) => !waitsForItself(shot, id, cue))}
          help="A clip that begins with a cue moves with it; cues that are pinned to what it shows are left out"
          change={(to) => changeClip(id, to)}
        />
      )}
      {clip.continues !== null && shot.clips[clip.continues] && (
        <p className="quiet mt-2">A later part of {shot.clips[clip.continues]!.name}: what was measured there holds here too.</p>
      )}
      <Split clip={clip} />
      {clip.continues === null && (
        <SwitchField
          label="Base of the shot"
          checked={shot.base.takes.some((take) => take.clip === id)}
          onChange={(on) => edit(setBase(on ? id : null))}
        />
      )}
      {(shot.width !== clip.width || shot.height !== clip.height || shot.last - shot.first + 1 !== clip.frames) && clip.frames > 1 && (
        <button
          type="button"
          className="btn btn-quiet btn-sm mt-2"
          onClick={() =>
            edit(
              setShot({
                width: clip.width,
                height: clip.height,
                rate: clip.rate,
                first: placedRange(shot, clip)[0],
                last: placedRange(shot, clip)[1] ?? start + clip.frames - 1,
              }),
            )
          }
        >
          Fit the shot to this clip
        </button>
      )}
      {clip.role === 'clean' ? (
        <p className="quiet mt-2">It stands where the performance does.</p>
      ) : (
        <PlacedFields of={{ kind: 'clip', id }} placed={clip.placed} params={clipParams} from={start} />
      )}
      {clip.continues === null && <ClipColour key={`colour ${clip.id}`} clip={clip} />}
      {clip.role === 'clean' && !clip.made && (
        <SwitchField
          label="Follow the light"
          help="Makes it as bright as the performance, frame by frame, by what is not the subject"
          checked={clip.matchLight}
          onChange={(matchLight) => edit(changeClip(id, { matchLight }))}
        />
      )}
      <PlateSection key={clip.id} clip={clip} />
      {clip.continues === null && <RepairSection key={`repair ${clip.id}`} clip={clip} />}
      <TakeMatch clip={clip} />
      {clip.continues === null && <ReplaceClip clip={clip} />}
      <h3>Shot</h3>
      <NumberField
        label="First frame"
        value={shot.first}
        onChange={(first) => edit(setShot({ first: Math.min(Math.round(first), shot.last) }))}
      />
      <NumberField
        label="Last frame"
        value={shot.last}
        onChange={(last) => edit(setShot({ last: Math.max(Math.round(last), shot.first) }))}
      />
      {'hash' in clip.media && (
        <button type="button" className="btn btn-quiet btn-sm mt-3 d-block" onClick={() => void keepInStockroom(clip)}>
          <Boxes size={14} className="me-1" />
          Keep in the stockroom
        </button>
      )}
      <button type="button" className="btn btn-quiet btn-sm mt-2" onClick={() => remove('clip', id)}>
        <Trash2 size={14} className="me-1" />
        Remove clip
      </button>
    </>
  );
}
