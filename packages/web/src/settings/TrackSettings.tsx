import { Trash2 } from 'lucide-react';
import { correctedSamples, patternPolicies } from '@wraithos/core/motion';
import { changeTrack, correctTrack } from '@wraithos/core/shot';
import { clipFrame } from '@wraithos/core/time';
import { useDocument, useShot } from '../state/shotStore';
import { useTracker } from '../steps/useTracker';
import { JobLine } from '../ui/JobLine';
import { useTracks } from '../workbench/tracks';
import { TextField } from './CueSettings';
import { ChoiceField, NumberField } from './fields';

export function TrackSettings({ id }: { id: string }) {
  const shot = useDocument(),
    { edit, frame, remove } = useShot(),
    track = shot.tracks[id]!,
    clip = shot.clips[track.clip],
    tracker = useTracker(),
    samples = useTracks().get(id) ?? [];
  if (!clip) return null;
  const at = clipFrame(clip, frame),
    all = correctedSamples(samples, track.corrections),
    now = all.find((s) => s.frame === at),
    count = (state: string) => all.filter((s) => s.state === state).length;
  const odd = (v: number) => Math.round(v / 2) * 2 + 1;
  const busy = tracker.state?.track === id ? tracker.state : null;
  return (
    <>
      <TextField label="Name" value={track.name} onChange={(name) => edit(changeTrack(id, { name }))} />
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
        <div role="alert" style={{ color: 'var(--rust)' }}>
          {tracker.error}
        </div>
      )}
      <h3>This frame</h3>
      <div className="field">
        <label className="still">State</label>
        <span className="num" aria-label="State of the track">
          {now ? `${now.state}${now.state === 'keyed' ? '' : ` ${now.confidence.toFixed(2)}`}` : 'not tracked'}
        </span>
      </div>
      <div className="field">
        <label className="still">Place</label>
        <span className="num">{now?.x != null ? `${now.x.toFixed(2)}, ${now.y!.toFixed(2)}` : '–'}</span>
      </div>
      {track.corrections[String(at)] && (
        <button type="button" className="btn btn-quiet btn-sm" onClick={() => edit(correctTrack(id, at, null))}>
          Take the correction away
        </button>
      )}
      <h3>Whole track</h3>
      <div className="quiet num mb-2">
        {all.length
          ? `${count('good')} good · ${count('weak')} weak · ${count('lost')} lost · ${count('keyed')} keyed`
          : 'nothing tracked yet'}
      </div>
      <NumberField
        label="Pattern"
        unit="px"
        value={track.pattern}
        range={[9, 151]}
        step={2}
        onChange={(v) => edit(changeTrack(id, { pattern: odd(v - 1), search: Math.max(track.search, odd(v - 1) + 12) }))}
      />
      <NumberField
        label="Search"
        unit="px"
        value={track.search}
        range={[21, 401]}
        onChange={(v) => edit(changeTrack(id, { search: Math.max(track.pattern + 12, Math.round(v)) }))}
      />
      <ChoiceField
        label="Pattern is"
        value={track.policy}
        of={patternPolicies}
        help="Drift-corrected keeps the first look as long as it fits. Rolling takes every good frame anew. Fixed never does."
        onChange={(policy) => edit(changeTrack(id, { policy }))}
      />
      <ChoiceField
        label="Pair with"
        value={track.pair ?? ''}
        of={['', ...Object.keys(shot.tracks).filter((t) => t !== id)]}
        words={Object.fromEntries([['', 'nothing'], ...Object.values(shot.tracks).map((t) => [t.id, t.name])])}
        help="What hangs on this track then turns and grows with the line between the two."
        onChange={(other) => edit(changeTrack(id, { pair: other || null }))}
      />
      <p className="quiet mt-2">Drag the point on a bad frame to correct it; corrections stay when you track again.</p>
      <button type="button" className="btn btn-quiet btn-sm" onClick={() => remove('track', id)}>
        <Trash2 size={14} className="me-1" />
        Remove track
      </button>
    </>
  );
}
