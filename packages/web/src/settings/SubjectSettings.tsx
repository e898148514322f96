import { subjectParams } from '@wraithos/core/placing';
import { changeSubject } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { TextField } from './CueSettings';
import { ChoiceField, NumberField, SwitchField } from './fields';
import { GroundHeights } from './GroundHeights';
import { PlacedFields } from './PlacedFields';
import { detach } from './detach';

export function SubjectSettings({ id }: { id: string }) {
  const shot = useDocument(),
    { edit } = useParts('edit'),
    subject = shot.subjects[id]!,
    mattes = Object.fromEntries([['', 'none'], ...Object.values(shot.mattes).map((m) => [m.id, m.name])]),
    ids = ['', ...Object.keys(shot.mattes)];
  return (
    <>
      <TextField label="Name" value={subject.name} onChange={(name) => edit(changeSubject(id, { name }))} />
      <NumberField
        label="Real height"
        unit="m"
        step={0.01}
        range={[0.01, 1000]}
        value={subject.metres}
        help="Weight follows from it."
        onChange={(metres) => edit(changeSubject(id, { metres }))}
      />
      <NumberField
        label="Height here"
        unit="px"
        range={[1, 8192]}
        value={subject.pixels}
        onChange={(pixels) => edit(changeSubject(id, { pixels: Math.round(pixels) }))}
      />
      <GroundHeights subject={subject} />
      <ChoiceField
        label="Matte"
        value={subject.matte ?? ''}
        of={ids}
        words={mattes}
        onChange={(matte) => edit(changeSubject(id, { matte: matte || null }))}
      />
      <ChoiceField
        label="Traces"
        value={subject.traces ?? ''}
        of={ids}
        words={mattes}
        help="Area of shadow, reflection and light that goes with it."
        onChange={(traces) => edit(changeSubject(id, { traces: traces || null }))}
      />
      <SwitchField
        label="Detached"
        help="Taken out of the base, and laid back with a place and a time of its own. What hangs on it goes along."
        checked={subject.detached}
        disabled={!subject.matte}
        onChange={(on) => void detach(id, on)}
      />
      {!subject.matte && <p className="quiet">It needs a matte to be detached.</p>}
      {subject.detached && <PlacedFields of={{ kind: 'subject', id }} placed={subject.placed} params={subjectParams} from={shot.first} />}
    </>
  );
}
