import { Trash2 } from 'lucide-react';
import { isMeasured, keyedPlace, knownSamples, kindsOfTrack, placeAt, trackKinds, isPlaced, type KindOfTrack } from '@wraithos/core/motion';
import { changeTrack, clipFrame, joinTracks, pairTrack, setTrackKind, setTrackValues, usesOf } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { useTracker } from '../steps/useTracker';
import { JobLine } from '../ui/JobLine';
import { useTracks } from '../workbench/tracks';
import { TextField } from './CueSettings';
import { ChoiceField, SwitchField } from './fields';
import { ParamFields, plainTarget } from './ParamFields';
import { TrackDoubts } from './TrackDoubts';
import { FindTrack } from './FindTrack';
import { GateMeasure } from './GateMeasure';
import { TrackFrame } from './TrackFrame';
import { TrackSamples } from './TrackSamples';

/** Frames after which a point that is weak or lost on more than this share of them is called hard to follow. */
const ENOUGH = 10,
  HARD = 0.25;

export function TrackSettings({ id }: { id: string }) {
  const shot = useDocument(),
    { edit, frame, remove } = useParts('edit', 'frame', 'remove'),
    track = shot.tracks[id]!,
    clip = shot.clips[track.clip],
    tracker = useTracker(),
    samples = useTracks().get(id) ?? [];
  if (!clip) return null;
  const at = clipFrame(shot, clip, frame),
    all = knownSamples(samples, track),
    count = (state: string) => all.filter((s) => s.state === state).length,
    kind = trackKinds[track.kind],
    place = kind.keyed ? keyedPlace(all.filter(isPlaced), at) : placeAt(all, at),
    busy = tracker.state?.tracks.includes(id) ? tracker.state : null,
    // A mount is made by hanging something on the track: what counts is what hangs on that.
    usedBy = [
      ...new Set([
        ...Object.values(shot.mounts).flatMap((m) => (m.track === id ? usesOf(shot, 'mount', m.id) : [])),
        ...usesOf(shot, 'track', id).filter((use) => !use.startsWith('mount ')),
      ]),
    ],
    [joinLabel, joinHelp] = kind.joinWords ?? ['Pair with', 'What hangs on this track turns and grows with the line between the two.'],
    // Only what is measured, or set, itself: nothing goes round in a circle.
    others = Object.values(shot.tracks).filter((t) => t.id !== id && t.clip === track.clip && !('tracks' in t));
  return (
    <>
      <TextField label="Name" value={track.name} onChange={(name) => edit(changeTrack(id, { name }))} />
      {kind.follow && (
        <div className="d-flex gap-2 my-2">
          <button
            type="button"
            className="btn btn-quiet btn-sm"
            disabled={tracker.state !== null || at === 0}
            title="From this frame to the start of the clip, or of the part that is played"
            onClick={() => tracker.start([id], -1)}
          >
            Track backwards
          </button>
          <button
            type="button"
            className="btn btn-primary btn-sm flex-grow-1"
            disabled={tracker.state !== null || at >= clip.frames - 1}
            title="From this frame to the end of the clip, or of the part that is played"
            onClick={() => tracker.start([id], 1)}
          >
            Track forwards
          </button>
        </div>
      )}
      {kind.finds && <FindTrack track={track} busy={tracker.state !== null} find={() => tracker.find(id)} />}
      {kind.compares && <GateMeasure track={track} at={at} busy={tracker.state !== null} compare={() => tracker.compare(id)} />}
      {busy && (
        <JobLine
          label={busy.words}
          done={busy.done}
          total={busy.total}
          message={`${busy.done} of ${busy.total}${busy.lost ? `, ${busy.lost} lost` : ''}`}
          onCancel={tracker.stop}
        />
      )}
      {tracker.error && (
        <div role="alert" className="bad">
          {tracker.error}
        </div>
      )}
      {!('tracks' in track) && !kind.opens && <TrackFrame track={track} at={at} sample={all.find((s) => s.frame === at)} place={place} />}
      {isMeasured(kind) && (
        <>
          <h3>Whole track</h3>
          <div className="quiet num mb-2">
            {all.length
              ? `${count('good')} good · ${count('weak')} weak · ${count('lost')} lost · ${count('keyed')} set by hand`
              : 'nothing tracked yet'}
          </div>
          {track.kind === 'point' && all.length >= ENOUGH && count('weak') + count('lost') > HARD * all.length && (
            <p className="warn" role="status">
              There is little here that is sharp and stays as it is. The kind <i>Area</i> follows cloth, skin and faces by many places at
              once; the kind <i>Matte</i> stands on a body that is cut out.
            </p>
          )}
          <TrackDoubts
            track={track}
            samples={all}
            again={tracker.state || !kind.follow ? undefined : (first, last) => tracker.between(id, first, last)}
          />
        </>
      )}
      <ChoiceField
        label="Kind"
        value={track.kind}
        of={kindsOfTrack}
        words={Object.fromEntries(kindsOfTrack.map((k) => [k, trackKinds[k].title])) as Record<KindOfTrack, string>}
        help={kind.summary}
        onChange={(k) => edit(setTrackKind(id, k))}
      />
      {'pair' in track && (
        <ChoiceField
          label={joinLabel}
          value={track.pair ?? ''}
          of={['', ...others.map((t) => t.id)]}
          words={Object.fromEntries([['', 'choose a track'], ...others.map((t) => [t.id, t.name])])}
          help={joinHelp}
          onChange={(other) => edit(pairTrack(id, other || null))}
        />
      )}
      {'tracks' in track && (
        <>
          <h3>In the middle of</h3>
          {others.map((t) => {
            const on = track.tracks.some((one) => one.track === t.id);
            return (
              <SwitchField
                key={t.id}
                label={t.name}
                checked={on}
                onChange={() =>
                  edit(
                    joinTracks(
                      id,
                      on
                        ? track.tracks.map((one) => one.track).filter((one) => one !== t.id)
                        : [...track.tracks.map((one) => one.track), t.id],
                    ),
                  )
                }
              />
            );
          })}
          {others.length === 0 && <p className="quiet">There is no other track on this clip yet.</p>}
        </>
      )}
      <ParamFields
        params={kind.params}
        title=""
        target={plainTarget(kind.params, track, (name, value) => setTrackValues(id, { [name]: value }))}
      />
      {isMeasured(kind) && (
        <p className="quiet mt-2">Drag the track on a bad frame to correct it; corrections stay when you track again.</p>
      )}
      {kind.keyed && <p className="quiet mt-2">Drag it on the picture on any frame to set a key there.</p>}
      <h3>Used by</h3>
      <div className="quiet mb-2" aria-label="Used by">
        {usedBy.length ? usedBy.join(', ') : 'nothing hangs on it yet'}
      </div>
      {isMeasured(kind) && <TrackSamples track={track} />}
      <button type="button" className="btn btn-quiet btn-sm" onClick={() => remove('track', id)}>
        <Trash2 size={14} className="me-1" />
        Remove track
      </button>
    </>
  );
}
