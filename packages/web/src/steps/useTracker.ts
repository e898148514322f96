import { create } from 'zustand';
import {
  faceSamples,
  findFace,
  fromBothSides,
  knownSamples,
  mergeSamples,
  placeAt,
  trackKinds,
  type FoundFace,
  type Place,
  type TrackSample,
} from '@wraithos/core/motion';
import { clipFrame, faceOf, faceTracks, joinedBy, shotFrame, storeSamples, type Clip, type Track } from '@wraithos/core/shot';
import { keepSamples, trackSamples } from '@wraithos/contract';
import { call } from '../api/client';
import { squaresOf } from '../faces/squares';
import { useShot } from '../state/shotStore';
import { Dropped, measurer } from '../workers/pool';

/** Tracks that are being followed: how far they are, in samples of all of them. */
export interface TrackerRun {
  tracks: readonly string[];
  words: string;
  done: number;
  total: number;
  lost: number;
}
interface TrackerState {
  state: TrackerRun | null;
  error: string | null;
}
const useTrackerState = create<TrackerState>(() => ({ state: null, error: null }));
let control: AbortController | null = null,
  stopped = false;

/** One track, where it begins, and the frames of its clip that it is followed over. */
interface Leg {
  track: Track;
  from: Place;
  first: number;
  last: number;
}
const storedSamples = async (track: Track): Promise<TrackSample[]> =>
  track.samples ? await call(trackSamples, { params: { hash: track.samples } }) : [];

/** Follows tracks of one clip over their frames, those with the same frames together, over all workers that measure. */
async function follow(
  clip: Clip,
  legs: readonly Leg[],
  words: string,
  seen: (sample: TrackSample) => void,
): Promise<Map<Leg, TrackSample[]>> {
  const found = new Map<Leg, TrackSample[]>(legs.map((leg) => [leg, []])),
    total = legs.reduce((sum, leg) => sum + Math.abs(leg.last - leg.first), 0),
    tracks = legs.map((leg) => leg.track.id),
    pool = measurer(),
    groups = new Map<string, Leg[]>();
  legs.forEach((leg, i) => {
    const key = `${leg.first} ${leg.last} ${i % pool.size}`;
    groups.set(key, [...(groups.get(key) ?? []), leg]);
  });
  const tell = () => {
    const all = [...found.values()];
    useTrackerState.setState({
      state: {
        ...{ tracks, words, total },
        done: all.reduce((sum, s) => sum + Math.max(0, s.length - 1), 0),
        lost: all.reduce((sum, list) => sum + list.filter((s) => s.state === 'lost').length, 0),
      },
    });
  };
  control = new AbortController();
  stopped = false;
  useTrackerState.setState({ error: null });
  tell();
  const { signal } = control;
  try {
    await Promise.all(
      [...groups.values()].map((group) =>
        pool.ask(
          { kind: 'track', clip, tracks: group.map(({ track, from }) => ({ track, from })), from: group[0]!.first, to: group[0]!.last },
          20,
          signal,
          (sample, track) => {
            const leg = group.find((l) => l.track.id === track);
            if (!leg) return;
            found.get(leg)!.push(sample);
            tell();
            if (leg === legs[0]) seen(sample);
          },
        ),
      ),
    );
  } catch (error) {
    if (!(error instanceof Dropped)) useTrackerState.setState({ error: (error as Error).message });
  }
  return found;
}

/** Goes to a frame of a clip, where the shot shows it. Frames that it never shows are measured all the same. */
function goTo(clip: Clip, ofClip: number): void {
  const { shot, set } = useShot.getState(),
    there = shot && shotFrame(shot, clip, ofClip);
  if (there !== null && there !== undefined) set({ frame: there });
}
async function keep(samples: ReadonlyMap<Track, readonly TrackSample[]>): Promise<void> {
  const hashes: Record<string, string> = {};
  for (const [track, all] of samples) hashes[track.id] = (await call(keepSamples, { body: [...all] })).hash;
  if (Object.keys(hashes).length) useShot.getState().edit(storeSamples(hashes));
}
/** Runs long work; what goes wrong is told, and that it has ended. */
async function told(work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    useTrackerState.setState({ error: (error as Error).message });
  }
  useTrackerState.setState({ state: null });
}

/** Follows tracks in workers from the playhead to either end of their clips; what was found stays when they are stopped. */
const start = (ids: readonly string[], direction: 1 | -1): Promise<void> =>
  told(async () => {
    const { shot, frame, range } = useShot.getState();
    if (!shot) return;
    const tracks = ids.flatMap((id) => shot.tracks[id] ?? []).filter((track) => trackKinds[track.kind].follow && shot.clips[track.clip]),
      clips = [...new Set(tracks.map((track) => track.clip))],
      words = direction > 0 ? 'Tracking forwards' : 'Tracking backwards';
    for (const id of clips) {
      const clip = shot.clips[id]!,
        first = clipFrame(shot, clip, frame),
        old = new Map<Track, TrackSample[]>(),
        // Where only a part of the shot is played, and the playhead stands in it, only that is tracked.
        ends = range && frame >= range[0] && frame <= range[1] ? range.map((f) => clipFrame(shot, clip, f)).sort((a, b) => a - b) : null,
        legs: Leg[] = [];
      for (const track of tracks.filter((t) => t.clip === id)) {
        old.set(track, await storedSamples(track));
        const here = placeAt(knownSamples(old.get(track)!, track), first),
          from = first === track.frame || !here ? { x: track.at[0], y: track.at[1], rotation: 0, scale: 1, state: 'keyed' as const } : here;
        legs.push({
          track,
          from,
          first,
          last: direction > 0 ? Math.min(clip.frames - 1, ends?.[1] ?? Infinity) : Math.max(0, ends?.[0] ?? 0),
        });
      }
      let n = 0;
      const found = await follow(clip, legs, words, (sample) => {
          if (++n % 3 === 0) goTo(clip, sample.frame);
        }),
        kept = new Map<Track, readonly TrackSample[]>();
      for (const [{ track }, fresh] of found) if (fresh.length > 1) kept.set(track, mergeSamples(old.get(track)!, fresh));
      await keep(kept);
      const last = found.get(legs[0]!)?.at(-1);
      if (!stopped && last) goTo(clip, last.frame);
      if (stopped) break;
    }
  });

/** Follows a track anew over frames that are doubtful, from the good frame before and from the one after. */
const between = (id: string, first: number, last: number): Promise<void> =>
  told(async () => {
    const { shot } = useShot.getState(),
      track = shot?.tracks[id],
      clip = track && shot.clips[track.clip];
    if (!shot || !track || !clip) return;
    const old = await storedSamples(track),
      known = knownSamples(old, track),
      [before, after] = [placeAt(known, first - 1), placeAt(known, last + 1)],
      legs: Leg[] = [];
    if (before && before.state !== 'lost') legs.push({ track, from: before, first: first - 1, last });
    if (after && after.state !== 'lost') legs.push({ track, from: after, first: last + 1, last: first });
    const ways = [...(await follow(clip, legs, 'Tracking again', () => undefined)).values()].map((way) => way.slice(1));
    if (stopped || !ways.length) return;
    await keep(new Map([[track, mergeSamples(old, ways.length > 1 ? fromBothSides(ways[0]!, ways[1]!) : ways[0]!)]]));
  });

/** Lets a worker measure a track on every frame of its clip, and keeps what it found unless it is stopped. */
async function measureEach(
  track: Track,
  clip: Clip,
  words: string,
  request: Parameters<ReturnType<typeof measurer>['ask']>[0],
): Promise<void> {
  const found: TrackSample[] = [],
    tell = () =>
      useTrackerState.setState({
        state: {
          ...{ tracks: [track.id], words, done: found.length, total: clip.frames },
          lost: found.filter((s) => s.state === 'lost').length,
        },
        error: null,
      });
  control = new AbortController();
  stopped = false;
  tell();
  await measurer().ask(request, 20, control.signal, (sample) => {
    found.push(sample);
    tell();
  });
  if (!stopped && found.length) await keep(new Map([[track, found]]));
}

/** Compares the place of the track that a gate names with its look on the gate's frame, on every frame of the clip. */
const compare = (id: string): Promise<void> =>
  told(async () => {
    const { shot } = useShot.getState(),
      gate = shot?.tracks[id],
      clip = gate && shot.clips[gate.clip],
      other = gate && joinedBy(shot, gate)[0],
      { compares } = trackKinds[gate?.kind ?? 'point'];
    if (!shot || !gate || !clip || !other || !compares) return;
    const along = knownSamples(await storedSamples(other), other),
      side = (gate as unknown as Record<string, number>)[compares]!;
    await measureEach(gate, clip, 'Comparing', { kind: 'likeness', clip, track: id, along, frame: gate.frame, side });
  });

/** Looks for the face of a track, or of which it is a part, on every frame, and measures all that belongs to it. */
async function findFaceOf(id: string): Promise<void> {
  const { shot } = useShot.getState(),
    track = shot?.tracks[id],
    face = track && faceOf(shot, track),
    clip = face && shot.clips[face.clip];
  if (!shot || !face || !clip) throw new Error('Choose the face that this is a part of.');
  const done: FoundFace[] = [],
    tell = (one?: FoundFace) => {
      if (one) done.push(one);
      useTrackerState.setState({
        state: {
          ...{ tracks: [id], words: done.length ? 'Finding the face' : 'Starting the face finder', done: done.length, total: clip.frames },
          lost: done.filter((d) => !d.marks).length,
        },
        error: null,
      });
    };
  control = new AbortController();
  stopped = false;
  tell();
  const { faceFinder } = await import('../faces/finders'),
    { signal } = control,
    found = await findFace({
      clip,
      cut: squaresOf(clip, signal),
      finder: faceFinder(),
      at: face.at,
      frame: face.frame,
      signal,
      tell,
    }).catch((error: unknown) => {
      if (error instanceof Dropped) return [];
      throw error;
    });
  if (!found.length || stopped) return;
  // Names and places are those of the document as it is now.
  const now = useShot.getState().shot;
  if (now?.tracks[face.id])
    useShot
      .getState()
      .edit(
        await faceTracks(
          now,
          now.tracks[face.id]!,
          faceSamples(found, face.frame),
          async (all) => (await call(keepSamples, { body: all })).hash,
        ),
      );
}
/** Measures where a matte is on every frame of its clip. */
async function findMatteOf(id: string): Promise<void> {
  const { shot } = useShot.getState(),
    track = shot?.tracks[id],
    clip = track && shot.clips[track.clip];
  if (!shot || !track || !clip) return;
  await measureEach(track, clip, 'Measuring the matte', { kind: 'matte frames', shot, track: id });
}
const finders = { face: findFaceOf, matte: findMatteOf };
/** Finds, on every frame, what a track stands on where it is not followed from frame to frame. */
const find = (id: string): Promise<void> =>
  told(async () => {
    const track = useShot.getState().shot?.tracks[id],
      how = track && trackKinds[track.kind].finds;
    if (how) await finders[how](id);
  });

function stop(): void {
  stopped = true;
  control?.abort();
}

export function useTracker() {
  const { state, error } = useTrackerState();
  return {
    ...{ state, error, stop },
    start: (ids: readonly string[], direction: 1 | -1) => void start(ids, direction),
    compare: (id: string) => void compare(id),
    find: (id: string) => void find(id),
    between: (id: string, first: number, last: number) => void between(id, first, last),
  };
}
