import { cueFrame, type Edit } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { ChoiceField, NumberField } from './fields';

interface Props {
  label: string;
  /** What the number says where it begins at a frame of its own. */
  atFrame: string;
  /** The cue that it begins with; null where it has a frame of its own. */
  cue: string | null;
  /** Frames after the cue, or the frame. */
  start: number;
  /** Shot frame at which it begins now: it stays there when it is hung on another cue. */
  at: number;
  /** Cues that it can begin with; all where nothing is said. */
  cues?: readonly string[];
  help?: string;
  change(to: { cue?: string | null; start: number }): Edit;
}

/** When something begins: at a frame of its own, or so many frames after a cue, with which it then moves. */
export function StartsWith({ label, atFrame, cue, start, at, cues, help, change }: Props) {
  const shot = useDocument(),
    { edit, preview } = useParts('edit', 'preview'),
    of = cues ?? Object.keys(shot.cues);
  return (
    <>
      <ChoiceField
        label={label}
        help={help}
        value={cue ?? ''}
        of={['', ...of]}
        words={Object.fromEntries([['', 'a frame'], ...of.map((id) => [id, shot.cues[id]!.name])])}
        onChange={(to) => edit(change({ cue: to || null, start: at - (to ? cueFrame(shot, to) : 0) }))}
      />
      <NumberField
        label={cue ? 'After the cue' : atFrame}
        unit={cue ? 'frames' : ''}
        value={start}
        onPreview={(to) => preview(change({ start: Math.round(to) }))}
        onChange={(to) => edit(change({ start: Math.round(to) }))}
      />
    </>
  );
}
