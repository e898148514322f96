import { create } from 'zustand';
import { mergeSamples, correctedSamples, placeAt, type TrackSample } from '@wraithos/core/motion';
import { clipFrame, shotFrame, storeSamples } from '@wraithos/core/shot';
import { keepSamples, trackSamples } from '@wraithos/contract';
import { call } from '../api/client';
import { useShot } from '../state/shotStore';
import { Dropped, measurer } from '../workers/pool';

interface TrackerState {
  state: { track: string; forwards: boolean; done: number; total: number; lost: number } | null;
  error: string | null;
  fresh: TrackSample[];
}
const useTrackerState = create<TrackerState>(() => ({ state: null, error: null, fresh: [] }));
let control: AbortController | null = null,
  stopped = false;

/** Follows a track in a worker from the playhead to either end of its clip; what was found stays when it is stopped. */
async function start(id: string, direction: 1 | -1): Promise<void> {
  const { shot, frame } = useShot.getState(),
    track = shot?.tracks[id],
    clip = track ? shot!.clips[track.clip] : undefined;
  if (!shot || !track || !clip) return;
  const from = clipFrame(shot, clip, frame),
    to = direction > 0 ? clip.frames - 1 : 0,
    total = Math.abs(to - from);
  const old = track.samples ? await call(trackSamples, { params: { hash: track.samples } }) : [];
  const here = placeAt(correctedSamples(old, track.corrections), from),
    at: [number, number] = from === track.frame || !here ? track.at : [here.x, here.y];
  // Frames of the clip that the shot never shows are measured all the same.
  const goTo = (ofClip: number) => {
    const there = shotFrame(shot, clip, ofClip);
    if (there !== null) useShot.getState().set({ frame: there });
  };
  control = new AbortController();
  stopped = false;
  const fresh: TrackSample[] = [];
  useTrackerState.setState({ state: { track: id, forwards: direction > 0, done: 0, total, lost: 0 }, error: null, fresh });
  try {
    await measurer().ask({ kind: 'track', clip, track, at, from, to }, 20, control.signal, (sample) => {
      fresh.push(sample);
      useTrackerState.setState({
        state: {
          track: id,
          forwards: direction > 0,
          done: fresh.length - 1,
          total,
          lost: fresh.filter((s) => s.state === 'lost').length,
        },
      });
      if (fresh.length % 3 === 0) goTo(sample.frame);
    });
  } catch (error) {
    if (!(error instanceof Dropped)) useTrackerState.setState({ error: (error as Error).message });
  }
  try {
    if (fresh.length > 1) {
      const hash = (await call(keepSamples, { body: mergeSamples(old, fresh) })).hash;
      useShot.getState().edit(storeSamples(id, hash));
    }
    if (!stopped && fresh.length) goTo(fresh[fresh.length - 1]!.frame);
  } catch (error) {
    useTrackerState.setState({ error: (error as Error).message });
  }
  useTrackerState.setState({ state: null });
}
function stop(): void {
  stopped = true;
  control?.abort();
}

export function useTracker() {
  const { state, error } = useTrackerState();
  return { state, error, start: (id: string, direction: 1 | -1) => void start(id, direction), stop };
}
