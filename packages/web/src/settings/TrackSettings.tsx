import { Trash2 } from 'lucide-react';
import { correctedSamples, kindsOfTrack, trackKinds, type KindOfTrack } from '@wraithos/core/motion';
import { changeTrack, clipFrame, correctTrack, pairTrack, setTrackKind, setTrackValues } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { useTracker } from '../steps/useTracker';
import { JobLine } from '../ui/JobLine';
import { useTracks } from '../workbench/tracks';
import { TextField } from './CueSettings';
import { ChoiceField } from './fields';
import { ParamFields, plainTarget } from './ParamFields';
import { TrackDoubts } from './TrackDoubts';

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
    all = correctedSamples(samples, track.corrections),
    now = all.find((s) => s.frame === at),
    count = (state: string) => all.filter((s) => s.state === state).length;
  const kind = trackKinds[track.kind];
  const busy = tracker.state?.track === id ? tracker.state : null;
  return (
    <>
      <TextField label="Name" value={track.name} onChange={(name) => edit(changeTrack(id, { name }))} />
      {kind.follow && (
        <div className="d-flex gap-2 my-2">
          <button
            type="button"
            className="btn btn-quiet btn-sm"
            disabled={tracker.state !== null || at === 0}
            title="From this frame to the start of the clip"
            onClick={() => tracker.start(id, -1)}
          >
            Track backwards
          </button>
          <button
            type="button"
            className="btn btn-primary btn-sm flex-grow-1"
            disabled={tracker.state !== null || at >= clip.frames - 1}
            title="From this frame to the end of the clip"
            onClick={() => tracker.start(id, 1)}
          >
            Track forwards
          </button>
        </div>
      )}
      {busy && (
        <JobLine
          label={busy.forwards ? 'Tracking forwards' : 'Tracking backwards'}
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
      <h3>This frame</h3>
      <div className="field">
        <label className="still">State</label>
        <span className="num" aria-label="State of the track">
          {now ? (now.state === 'keyed' ? 'set by hand' : `${now.state} ${now.confidence.toFixed(2)}`) : 'not tracked'}
        </span>
      </div>
      <div className="field">
        <label className="still">Place</label>
        <span className="num">{now?.x != null ? `${now.x.toFixed(2)}, ${now.y!.toFixed(2)} px` : '–'}</span>
      </div>
      {track.corrections[String(at)] && (
        <button type="button" className="btn btn-quiet btn-sm" onClick={() => edit(correctTrack(id, at, null))}>
          Remove the correction
        </button>
      )}
      <h3>Whole track</h3>
      <div className="quiet num mb-2">
        {all.length
          ? `${count('good')} good · ${count('weak')} weak · ${count('lost')} lost · ${count('keyed')} set by hand`
          : 'nothing tracked yet'}
      </div>
      {track.kind === 'point' && all.length >= ENOUGH && count('weak') + count('lost') > HARD * all.length && (
        <p className="warn" role="status">
          There is little here that is sharp and stays as it is. The kind <i>Area</i> follows cloth, skin and faces by many places at once.
        </p>
      )}
      <TrackDoubts track={track} samples={all} />
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
          label="Pair with"
          value={track.pair ?? ''}
          of={['', ...Object.keys(shot.tracks).filter((t) => t !== id)]}
          words={Object.fromEntries([['', 'choose a track'], ...Object.values(shot.tracks).map((t) => [t.id, t.name])])}
          help="What hangs on this track turns and grows with the line between the two."
          onChange={(other) => edit(pairTrack(id, other || null))}
        />
      )}
      <ParamFields
        params={kind.params}
        title=""
        target={plainTarget(kind.params, track, (name, value) => setTrackValues(id, { [name]: value }))}
      />
      <p className="quiet mt-2">Drag the point on a bad frame to correct it; corrections stay when you track again.</p>
      <button type="button" className="btn btn-quiet btn-sm" onClick={() => remove('track', id)}>
        <Trash2 size={14} className="me-1" />
        Remove track
      </button>
    </>
  );
}
