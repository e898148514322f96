import {
  cornerNames,
  knownSamples,
  readTracks,
  tracksAsCsv,
  tracksAsJson,
  type CarriedTrack,
  type KindOfTrack,
} from '@wraithos/core/motion';
import { addTrack, clipWithRole, freshId, storeSamples, together, type Clip, type Shot, type Track } from '@wraithos/core/shot';
import type { Tracks } from '@wraithos/core/render';
import { keepSamples } from '@wraithos/contract';
import { call } from '../api/client';
import { useShot } from '../state/shotStore';
import { download } from '../ui/download';

export const formats = ['CSV', 'JSON'] as const;

/** Tracks as they count, with what was set by hand and smoothing laid over what was measured. */
const carriedOf = (tracks: readonly Track[], samples: Tracks): CarriedTrack[] =>
  tracks.flatMap((track) => {
    const known = knownSamples(samples.get(track.id) ?? [], track);
    return known.length ? [{ name: track.name, kind: track.kind, samples: known }] : [];
  });

/** Gives the person tracks as a file. */
export function saveTracks(shot: Shot, tracks: readonly Track[], samples: Tracks, format: (typeof formats)[number]): void {
  const carried = carriedOf(tracks, samples),
    name = `${shot.code} ${tracks.length === 1 ? tracks[0]!.name : 'tracks'}.${format.toLowerCase()}`;
  if (carried.length) download(name, (format === 'CSV' ? tracksAsCsv : tracksAsJson)(carried), format === 'CSV' ? 'text/csv' : undefined);
}

/** What a clip has room for of a track. */
const within = (clip: Clip, { samples, ...track }: CarriedTrack): CarriedTrack => ({
  ...track,
  samples: samples.filter((s) => s.frame >= 0 && s.frame < clip.frames),
});
const kept = async (track: CarriedTrack): Promise<string> => (await call(keepSamples, { body: track.samples })).hash;

/** Adds the tracks of a file to a shot, and says what was left out; whatever is wrong with it is told, and nothing is changed. */
export async function readTrackFile(file: File): Promise<void> {
  const { set } = useShot.getState();
  try {
    const all = readTracks(await file.text(), file.name),
      { shot } = useShot.getState(),
      clip = shot && clipWithRole(shot, 'performance');
    if (!shot || !clip) return;
    const fitting = all.map((track) => within(clip, track)).filter((track) => track.samples.some((s) => s.x !== null)),
      beyond = all.reduce((n, t) => n + t.samples.length, 0) - fitting.reduce((n, t) => n + t.samples.length, 0);
    if (!fitting.length)
      throw new Error(`${file.name} has no place within the ${clip.frames} frames of ${clip.name}. Nothing was changed.`);
    const hashes = await Promise.all(fitting.map(kept)),
      taken: Record<string, unknown> = { ...shot.tracks },
      edits = fitting.flatMap(({ name, kind, samples }, i) => {
        const id = freshId(taken as Shot['tracks'], 't'),
          first = samples.find((s) => s.x !== null)!,
          at: [number, number] = [first.x!, first.y!];
        taken[id] = true;
        return [
          addTrack({
            ...{ id, name, clip: clip.id, at, frame: first.frame, kind: kind as KindOfTrack },
            values: first.corners
              ? Object.fromEntries(cornerNames.map((c, k) => [c, [first.corners![k]![0] - at[0], first.corners![k]![1] - at[1]]]))
              : {},
          }),
          storeSamples({ [id]: hashes[i]! }),
        ];
      });
    useShot.getState().edit(together('Add tracks from a file', ...edits));
    set({
      selection: { kind: 'track', id: Object.keys(taken).at(-1)! },
      notice: `${fitting.map((t) => t.name).join(', ')} added.${beyond ? ` ${beyond} frames lie beyond ${clip.name} and were left out.` : ''}`,
    });
  } catch (error) {
    set({ notice: (error as Error).message });
  }
}

const KEPT = 'wraithos:samples';
/** Keeps the samples of a track for others, also of other shots. */
export function copySamples(track: Track, samples: Tracks): void {
  const carried = carriedOf([track], samples);
  if (!carried.length) return;
  localStorage.setItem(KEPT, tracksAsJson(carried));
  useShot.getState().set({ notice: `${carried[0]!.samples.length} frames of ${track.name} copied.` });
}
/** What was copied last; null without any. */
export function copiedSamples(): CarriedTrack | null {
  const text = localStorage.getItem(KEPT);
  try {
    return text ? readTracks(text, 'copied')[0]! : null;
  } catch {
    return null;
  }
}
/** Lets a track have the samples that were copied last; what was set on it by hand stays. */
export async function pasteSamples(track: Track): Promise<void> {
  const copied = copiedSamples(),
    clip = useShot.getState().shot?.clips[track.clip];
  if (!copied || !clip) return;
  try {
    useShot.getState().edit(storeSamples({ [track.id]: await kept(within(clip, copied)) }));
    useShot.getState().set({ notice: `${track.name} goes as ${copied.name} went.` });
  } catch (error) {
    useShot.getState().set({ notice: (error as Error).message });
  }
}
