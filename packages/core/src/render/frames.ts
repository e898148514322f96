import type { Frame } from '../motion/frame';
import { correctedSamples } from '../motion/repair';
import type { TrackSample } from '../motion/pointTracker';
import { trackKinds } from '../motion/kinds';
import { meanFrame, seenFrame, type FlatFrame } from '../motion/seen';
import { appearanceOf, carrierOfClip } from '../shot/appearance';
import { clipFrame } from '../shot/when';
import type { Shot, Track } from '../shot/schema';
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
}

export function framesOf(shot: Shot, tracks: Tracks): Mounts {
  const measured = new Map<string, readonly TrackSample[]>(),
    samplesOf = (track: Track): readonly TrackSample[] => {
      let samples = measured.get(track.id);
      if (!samples) measured.set(track.id, (samples = correctedSamples(tracks.get(track.id) ?? [], track.corrections)));
      return samples;
    },
    onClip = (id: string, at: number): FlatFrame | null => {
      const mount = shot.mounts[id],
        track = mount && shot.tracks[mount.track];
      if (!mount || !track) return null;
      const other = 'pair' in track && track.pair ? shot.tracks[track.pair] : undefined,
        measuredOf = { samples: samplesOf(track), other: other ? samplesOf(other) : null, reference: track.frame };
      return trackKinds[track.kind].frame(measuredOf, at)?.at(mount.offset) ?? null;
    };
  return {
    onClip,
    at(id, frame, subject = null) {
      const mount = shot.mounts[id],
        track = mount && shot.tracks[mount.track],
        clip = track && shot.clips[track.clip];
      if (!clip) return null;
      const { moments, matrix } = appearanceOf(shot, clip, frame, carrierOfClip(shot, clip.id, subject)),
        // A clip that has not begun, or is over, carries as it does at its end.
        shown = moments.length ? moments : [{ frame: clipFrame(shot, clip, frame), share: 1 }],
        frames = shown.flatMap((m) => {
          const found = onClip(id, m.frame);
          return found ? [{ frame: found, share: m.share }] : [];
        }),
        mean = frames.length === shown.length ? meanFrame(frames) : (frames[0]?.frame ?? null);
      return mean && (matrix ? seenFrame(mean, matrix) : mean);
    },
  };
}
