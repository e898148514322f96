import { useRef } from 'react';
import { Crosshair } from 'lucide-react';
import { Dropdown } from 'react-bootstrap';
import { kindsOfTrack, knownSamples, trackKinds, type KindOfTrack } from '@wraithos/core/motion';
import { addTrack, clipFrame, clipWithRole, freshId, joinTracks, pairTrack, together, trackOfMatte, type Track } from '@wraithos/core/shot';
import { useParts } from '../state/shotStore';
import { take } from '../tools';
import { JobLine } from '../ui/JobLine';
import { FilePick } from '../ui/FilePick';
import { Menu } from '../ui/Menu';
import { formats, readTrackFile, saveTracks } from './trackFiles';
import { useTracker } from './useTracker';
import { useTracks } from '../workbench/tracks';

/** How far a track is, in words. */
function stateOf(track: Track, frames: number): string {
  if ('tracks' in track) return `of ${track.tracks.length} tracks`;
  if (trackKinds[track.kind].keyed) return `${Object.keys(track.corrections).length} keys`;
  const { compares, finds } = trackKinds[track.kind];
  if (compares || finds) return frames ? `${frames} frames` : compares ? 'not compared yet' : 'not measured yet';
  return frames ? `${frames} frames` : 'not tracked yet';
}

/** Tracks of the shot. */
export function MotionPanel() {
  const { shot, selection, tool, frame, set, edit } = useParts('shot', 'selection', 'tool', 'frame', 'set', 'edit'),
    tracks = useTracks(),
    tracker = useTracker(),
    field = useRef<HTMLInputElement>(null);
  if (!shot) return null;
  const all = Object.values(shot.tracks),
    clip = clipWithRole(shot, 'performance'),
    followed = all.filter((track) => trackKinds[track.kind].follow);
  const add = (kind: KindOfTrack) => {
    if (trackKinds[kind].click) {
      set({ tool: take('add track', { track: kind }) });
      return;
    }
    const id = freshId(shot.tracks, 't');
    const { title } = trackKinds[kind],
      // What is selected is what it is made of.
      other = selection?.kind === 'track' ? selection.id : null,
      subject = Object.values(shot.subjects).find((s) => s.clip === clip!.id)?.matte,
      made = addTrack({
        ...{ id, name: title, clip: clip!.id, kind, at: [clip!.width / 2, clip!.height / 2] },
        frame: Math.min(clip!.frames - 1, Math.max(0, clipFrame(shot, clip!, frame))),
      });
    edit(
      together(
        made.name,
        made,
        other ? pairTrack(id, other) : null,
        other ? joinTracks(id, [other]) : null,
        subject ? trackOfMatte(id, subject) : null,
      ),
    );
    set({ selection: { kind: 'track', id }, tool: null });
  };
  return (
    <>
      <div className="pane-title">
        <span>Tracks</span>
        <Dropdown className="ms-auto">
          <Dropdown.Toggle
            as="button"
            className={`btn btn-quiet btn-sm py-0 ${tool?.kind === 'add track' ? 'active' : ''}`}
            disabled={!clip}
          >
            Add track
          </Dropdown.Toggle>
          <Menu>
            {kindsOfTrack.map((kind) => (
              <Dropdown.Item key={kind} onClick={() => add(kind)} title={trackKinds[kind].summary}>
                {trackKinds[kind].title}
              </Dropdown.Item>
            ))}
            <Dropdown.Divider />
            <Dropdown.Item onClick={() => field.current?.click()} title="CSV or JSON, with a place on every frame">
              From a file…
            </Dropdown.Item>
            {formats.map((format) => (
              <Dropdown.Item key={format} disabled={all.length === 0} onClick={() => saveTracks(shot, all, tracks, format)}>
                Save all as {format}
              </Dropdown.Item>
            ))}
          </Menu>
        </Dropdown>
        <FilePick
          field={field}
          label="Tracks from a file"
          accept=".csv,.json,.txt"
          onFiles={([found]) => found && void readTrackFile(found.file)}
        />
      </div>
      {all.map((track) => {
        const samples = knownSamples(tracks.get(track.id) ?? [], track),
          bad = samples.filter((s) => s.state === 'weak' || s.state === 'lost').length;
        return (
          <button
            key={track.id}
            type="button"
            className={`list-item ${selection?.kind === 'track' && selection.id === track.id ? 'selected' : ''}`}
            onClick={() => set({ selection: { kind: 'track', id: track.id } })}
          >
            <Crosshair size={15} className="quiet flex-shrink-0" />
            <span className="grow">
              <div>{track.name}</div>
              <div className="quiet">
                {trackKinds[track.kind].title} · {stateOf(track, samples.length)}
                {bad ? <span className="bad"> · {bad} weak or lost</span> : null}
              </div>
            </span>
          </button>
        );
      })}
      {followed.length > 1 && (
        <div className="d-flex gap-2 px-3 py-2">
          <button
            type="button"
            className="btn btn-quiet btn-sm"
            disabled={tracker.state !== null}
            title="All tracks at once, from this frame to the start of the clip"
            onClick={() =>
              tracker.start(
                followed.map((track) => track.id),
                -1,
              )
            }
          >
            All backwards
          </button>
          <button
            type="button"
            className="btn btn-quiet btn-sm flex-grow-1"
            disabled={tracker.state !== null}
            title="All tracks at once, from this frame to the end of the clip"
            onClick={() =>
              tracker.start(
                followed.map((track) => track.id),
                1,
              )
            }
          >
            All forwards
          </button>
        </div>
      )}
      {tracker.state && tracker.state.tracks.length > 1 && (
        <div className="px-3">
          <JobLine
            label={`${tracker.state.words} ${tracker.state.tracks.length} tracks`}
            done={tracker.state.done}
            total={tracker.state.total}
            message={`${Math.round((100 * tracker.state.done) / Math.max(1, tracker.state.total))} %${tracker.state.lost ? `, ${tracker.state.lost} frames lost` : ''}`}
            onCancel={tracker.stop}
          />
        </div>
      )}
      {all.length === 0 && (
        <p className="quiet px-3 py-2">
          {clip
            ? 'No tracks yet. Add a point on something that stands out, such as a pin or a lamp, then track it forwards.'
            : 'First say on Plates which clip is the performance.'}
        </p>
      )}
    </>
  );
}
