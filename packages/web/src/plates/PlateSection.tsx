import { useState } from 'react';
import { cameras, type Camera } from '@wraithos/core/plate';
import { builtPlate, newPlateSettings, type Clip } from '@wraithos/core/shot';
import { ChoiceField, NumberField, SwitchField } from '../settings/fields';
import { useDocument, useParts } from '../state/shotStore';
import { JobLine } from '../ui/JobLine';
import { plateWords, useBuilding, type PlateSettings } from './building';

const cameraWords: Record<Camera, string> = {
  measured: 'measured',
  'stands still': 'stands still',
  shifts: 'shifts',
  'shifts, turns and zooms': 'shifts, turns and zooms',
  'moves freely': 'moves freely (perspective)',
};

/** How the clean plate of a clip is built, and the button that builds it. */
function PlateForm({ clip, again }: { clip: Clip; again: boolean }) {
  const shot = useDocument(),
    { state, build, cancel } = useBuilding(),
    [own, setOwn] = useState<PlateSettings | null>(null),
    settings = own ?? newPlateSettings(shot, clip),
    change = (to: Partial<PlateSettings>) => setOwn({ ...settings, ...to }),
    mattes = Object.values(shot.mattes),
    end = clip.frames - 1;
  return (
    <>
      <ChoiceField
        label="Camera"
        help="What the camera does while the frames are filmed. Measured finds shift, turn and zoom, and takes them out."
        value={settings.camera}
        of={cameras}
        words={cameraWords}
        onChange={(camera) => change({ camera })}
      />
      {mattes.length > 0 && (
        <ChoiceField
          label="Leaves out"
          help="What this matte covers has no say: choose the character's matte where the character never leaves a place."
          value={settings.matte ?? ''}
          of={['', ...mattes.map((m) => m.id)]}
          words={Object.fromEntries([['', 'nothing'], ...mattes.map((m) => [m.id, m.name])])}
          onChange={(matte) => change({ matte: matte || null })}
        />
      )}
      <NumberField
        label="From frame"
        help="First frame of the clip that is looked at, counted from 0."
        value={settings.first}
        range={[0, Math.max(0, settings.last - 2)]}
        onChange={(first) => change({ first: Math.round(first) })}
      />
      <NumberField
        label="To frame"
        help="Last frame of the clip that is looked at, counted from 0."
        value={settings.last}
        range={[Math.min(end, settings.first + 2), end]}
        onChange={(last) => change({ last: Math.round(last) })}
      />
      <SwitchField
        label="Even out flicker"
        help="Takes changes of the light out before the frames are compared, and puts them back for each frame."
        checked={settings.flicker}
        onChange={(flicker) => change({ flicker })}
      />
      <SwitchField
        label="Grain of one frame"
        help="Off: the plate is smooth, and the film's own grain is put on it anew in every frame. On: it keeps the grain of one frame, for use elsewhere."
        checked={settings.grain}
        onChange={(grain) => change({ grain })}
      />
      {state?.clip === clip.id ? (
        <JobLine {...state} onCancel={cancel} />
      ) : (
        <button
          type="button"
          className="btn btn-quiet btn-sm mt-1 d-block"
          disabled={state !== null}
          title={state ? 'Another clean plate is being built.' : undefined}
          onClick={() => void build(clip.id, settings)}
        >
          {again ? 'Build it again' : 'Build the clean plate'}
        </button>
      )}
    </>
  );
}

/** The clean plate of a moving clip: built here, or how it was built. */
export function PlateSection({ clip }: { clip: Clip }) {
  const shot = useDocument(),
    { doubt, set } = useParts('doubt', 'set'),
    { made } = clip;
  if (made) {
    const from = made.clip ? shot.clips[made.clip] : undefined;
    return (
      <section aria-label="How it was built">
        <h3>How it was built</h3>
        <p className="quiet">{plateWords(made)}</p>
        {made.doubt && <SwitchField label="Show where it is unsure" checked={doubt} onChange={(on) => set({ doubt: on })} />}
        {made.areas.length > 0 && (
          <p className="quiet">
            Where it is unsure, somebody stands for most of the frames, or something never rests. Look there: choose frames in which the
            place is free, or leave out the character&apos;s matte, and build it again.
          </p>
        )}
        {from ? <PlateForm clip={from} again /> : <p className="quiet">The clip that it was built from was removed.</p>}
      </section>
    );
  }
  if (clip.role === 'clean' || clip.alpha || clip.frames < 3 || clip.continues !== null) return null;
  return (
    <section aria-label="Clean plate">
      <h3>Clean plate</h3>
      <PlateForm clip={clip} again={builtPlate(shot, clip.id) !== undefined} />
    </section>
  );
}
