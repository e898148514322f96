import { trackKinds } from '@wraithos/core/motion';
import { faceOf, matteClip, trackOfMatte, type Track } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { ChoiceField } from './fields';

/** Finds, on every frame, what a track stands on where it is not followed from frame to frame: a face, or a matte. */
export function FindTrack({ track, busy, find }: { track: Track; busy: boolean; find(): void }) {
  const shot = useDocument(),
    { edit } = useParts('edit'),
    { finds } = trackKinds[track.kind],
    mattes = Object.values(shot.mattes).filter((m) => matteClip(shot, m)?.id === track.clip),
    ready = finds === 'face' ? faceOf(shot, track) !== null : 'matte' in track && track.matte !== null,
    again = track.samples ? 'again ' : '';
  return (
    <>
      {'matte' in track && (
        <ChoiceField
          label="Matte"
          value={track.matte ?? ''}
          of={['', ...mattes.map((m) => m.id)]}
          words={Object.fromEntries([
            ['', mattes.length ? 'choose a matte' : 'none on this clip yet'],
            ...mattes.map((m) => [m.id, m.name]),
          ])}
          help="The matte that it stands on. Measure it again when the matte has changed."
          onChange={(matte) => edit(trackOfMatte(track.id, matte || null))}
        />
      )}
      <button
        type="button"
        className="btn btn-primary btn-sm w-100 my-2"
        disabled={busy || !ready}
        title={ready ? undefined : finds === 'face' ? 'Choose the face that this is a part of' : 'Choose the matte first'}
        onClick={find}
      >
        {finds === 'face' ? `Find the face ${again}on all frames` : `Measure ${again}on all frames`}
      </button>
      {track.kind === 'face' && !track.samples && (
        <p className="quiet">
          Eyes, pupils, brows, mouth and outline become tracks of their own, and the lids gates. About a second for each frame where the
          computer has no graphics card.
        </p>
      )}
    </>
  );
}
