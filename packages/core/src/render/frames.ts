import type { Frame } from '../motion/frame';
import { correctedSamples } from '../motion/repair';
import type { TrackSample } from '../motion/pointTracker';
import { trackKinds } from '../motion/kinds';
import type { Shot, Track } from '../shot/schema';
import { clipFrame } from '../time/placement';
import type { Tracks } from './sources';

/** Where a mount stands at a shot frame; null where what carries it was never measured. */
export type FrameOf = (mount: string, shotFrame: number) => Frame | null;

/** The mounts of a shot as frames of reference, in whole-shot pixels. */
export function framesOf(shot: Shot, tracks: Tracks): FrameOf {
  const measured = new Map<string, readonly TrackSample[]>(),
    samplesOf = (track: Track): readonly TrackSample[] => {
      let samples = measured.get(track.id);
      if (!samples) measured.set(track.id, (samples = correctedSamples(tracks.get(track.id) ?? [], track.corrections)));
      return samples;
    };
  return (id, frame) => {
    const mount = shot.mounts[id],
      track = mount && shot.tracks[mount.track],
      clip = track && shot.clips[track.clip];
    if (!mount || !track || !clip) return null;
    const other = 'pair' in track && track.pair ? shot.tracks[track.pair] : undefined,
      measuredOf = { samples: samplesOf(track), other: other ? samplesOf(other) : null, reference: track.frame };
    return trackKinds[track.kind].frame(measuredOf, clipFrame(clip, frame))?.at(mount.offset) ?? null;
  };
}
