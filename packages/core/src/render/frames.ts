import type { Frame } from '../motion/frame';
import { takenOf } from '../motion/carriage';
import { trackKinds } from '../motion/kinds';
import { knownSamples } from '../motion/layers';
import { shownThrough, trailOf, withLost, type LostWay } from '../motion/lost';
import type { TrackSample } from '../motion/pointTracker';
import { meanFrame, seenFrame, type FlatFrame } from '../motion/seen';
import { appearanceOf, carrierOfClip } from '../shot/appearance';
import { joinedBy } from '../shot/query';
import type { Mount, Shot, Track } from '../shot/schema';
import { clipFrame } from '../shot/when';
import type { Tracks } from './sources';

/** The mounts of a shot as frames of reference. */
export interface Mounts {
  /**
   * Where a mount stands at a shot frame, in whole-shot pixels; null where what carries it was never measured.
   * @param subject the subject that it is asked for: where several carry the clip, its own one counts.
   */
  at(mount: string, shotFrame: number, subject?: string | null): Frame | null;
  /** Where it stands at a frame of its clip, in the clip's own pixels. */
  onClip(mount: string, clipFrame: number): FlatFrame | null;
  /** How far a gate is open at a shot frame, 0..1; open where nothing was measured. */
  gate(track: string, shotFrame: number): number;
  /** Where a track stands at a frame of its clip, in the clip's own pixels, whatever hangs on it. */
  ofTrack(track: string, clipFrame: number): FlatFrame | null;
}

export function framesOf(shot: Shot, tracks: Tracks): Mounts {
  const known = new Map<string, readonly TrackSample[]>(),
    samplesOf = (track: Track, way: LostWay = 'goes between'): readonly TrackSample[] => {
      const key = `${way} ${track.id}`;
      let samples = known.get(key);
      if (!samples)
        known.set(
          key,
          (samples = way === 'goes between' ? knownSamples(tracks.get(track.id) ?? [], track) : withLost(samplesOf(track), way)),
        );
      return samples;
    },
    trackFrame = (track: Track, at: number, way: LostWay = 'goes between'): FlatFrame | null =>
      trackKinds[track.kind].frame(
        {
          samples: samplesOf(track, way),
          others: joinedBy(shot, track).map((other) => samplesOf(other, way)),
          reference: track.frame,
          at: track.at,
          values: track as never,
        },
        at,
      ),
    carried = (mount: Mount, track: Track, at: number): FlatFrame | null => {
      const frame = trackFrame(track, at, mount.lost),
        shown = mount.fade > 0 ? shownThrough(samplesOf(track), at, mount.fade) : 1,
        taken = frame && takenOf(frame.at(mount.offset), mount);
      return taken && shown < 1 ? taken.standing({ shown }) : taken;
    },
    onClip = (id: string, at: number): FlatFrame | null => {
      const mount = shot.mounts[id],
        track = mount && shot.tracks[mount.track];
      return mount && track ? carried(mount, track, at) : null;
    };
  /** Where a mount stands at a shot frame, as it is followed there and then. */
  const now = (mount: Mount, track: Track, frame: number, subject: string | null): FlatFrame | null => {
    const clip = shot.clips[track.clip];
    if (!clip) return null;
    const { moments, matrix } = appearanceOf(shot, clip, frame, carrierOfClip(shot, clip.id, subject)),
      // A clip that has not begun, or is over, carries as it does at its end.
      shown = moments.length ? moments : [{ frame: clipFrame(shot, clip, frame), share: 1 }],
      frames = shown.flatMap((m) => {
        const found = carried(mount, track, m.frame);
        return found ? [{ frame: found, share: m.share }] : [];
      }),
      mean = frames.length === shown.length ? meanFrame(frames) : (frames[0]?.frame ?? null);
    return mean && (matrix ? seenFrame(mean, matrix) : mean);
  };
  return {
    onClip,
    gate(id, frame) {
      const track = shot.tracks[id],
        clip = track && shot.clips[track.clip];
      const opens = track && trackKinds[track.kind].opens;
      if (!opens || !clip) return 1;
      const at = clipFrame(shot, clip, frame),
        samples = samplesOf(track),
        sample = samples.find((s) => s.frame === at);
      return sample ? opens(track as never, sample.confidence) : 1;
    },
    ofTrack(id, at) {
      const track = shot.tracks[id];
      return track ? trackFrame(track, at) : null;
    },
    at(id, asked, subject = null) {
      const mount = shot.mounts[id],
        track = mount && shot.tracks[mount.track];
      if (!mount || !track) return null;
      const frame = mount.time === 'follows' ? asked : mount.heldAt,
        here = now(mount, track, frame, subject);
      if (!here || !(mount.trails > 0) || mount.time !== 'follows') return here;
      const past = trailOf(mount.trails).map((share, k) => ({ share, frame: k ? now(mount, track, frame - k, subject) : here }));
      if (past.some((p) => p.frame === null)) return here;
      // It trails in place alone of what is known of it: whether it is seen is asked of now.
      return meanFrame(past as { share: number; frame: FlatFrame }[])!.standing({
        ...{ certain: here.certain, lost: here.lost, shown: here.shown },
      });
    },
  };
}
