import { create } from 'zustand';
import { keepSamples } from '@wraithos/contract';
import type { FollowedBody, LightChanges } from '@wraithos/core/matte';
import {
  addMatte,
  appearanceOf,
  applyEdit,
  bodySamples,
  clipFrame,
  clipWithRole,
  freshId,
  keepIsolated,
  onClip,
  setSourceValues,
  shotFrame,
  together,
} from '@wraithos/core/shot';
import { call } from '../api/client';
import { useBuilding } from '../plates/building';
import { useShot } from '../state/shotStore';
import { Dropped, measurer } from '../workers/pool';

/** A body that is being isolated, and how far that is. */
interface IsolateState {
  state: { words: string; done: number; total: number } | null;
  error: string | null;
}
export const useIsolating = create<IsolateState>(() => ({ state: null, error: null }));
let control: AbortController | null = null;
/** Runs work on a clip that can be stopped, says how far it is, and why it failed; one at a time. */
export async function working(
  words: string,
  total: number,
  work: (signal: AbortSignal, tell: (words: string, done: number) => void) => Promise<void>,
): Promise<void> {
  const own = (control = new AbortController());
  useIsolating.setState({ state: { words, done: 0, total }, error: null });
  try {
    await work(own.signal, (now, done) => {
      if (!own.signal.aborted) useIsolating.setState({ state: { words: now, done, total } });
    });
  } catch (error) {
    // Who stopped it knows.
    if (!(error instanceof Dropped) && !own.signal.aborted) useIsolating.setState({ error: (error as Error).message });
  } finally {
    control = null;
    useIsolating.setState({ state: null });
  }
}
export const stopIsolating = (): void => {
  control?.abort();
  useBuilding.getState().cancel();
};

/** Frames that are called doubtful in the notice at the most. */
const TOLD = 4;
/** What came of it, for people: what was used, and where it is unsure. */
function wordsOf(bodies: readonly FollowedBody[], built: boolean, shadow: LightChanges, shown: (frame: number) => number | null): string {
  const there = bodies.filter((b) => b.area > 0),
    doubtful = there.filter((b) => b.sure < 0.5).flatMap((b) => shown(b.frame) ?? []),
    spreads = there.filter((b) => b.spreads).length,
    where =
      spreads > there.length / 2
        ? ' Probably more than the body was taken: it reaches out of the picture at a side, as light on the ground or water that moves does. Draw a second outline around the body that keeps only inside, and carry it on.'
        : doubtful.length
          ? ` Doubtful on ${doubtful.length === 1 ? 'one frame' : `${doubtful.length} frames`}, where others touch it or it is partly covered: ${doubtful.slice(0, TOLD).join(', ')}${doubtful.length > TOLD ? ' …' : ''}.`
          : ' No frame is doubtful.';
  return `Isolated against ${built ? 'a clean plate that was built for it' : 'the clean plate'}, on ${there.length} of ${bodies.length} frames: matte, traces, a track in its middle, its height. ${shadow === 'dropped' ? 'Its shadow is left out.' : 'Its shadow is kept with it: dropping it took parts of the body too.'}${where}`;
}

/** Isolates the body at a place of the picture (whole-shot pixels) through the whole clip: see `keepIsolated` for what it makes. */
export async function isolate(at: readonly [number, number]): Promise<void> {
  const { id, shot, frame, set } = useShot.getState(),
    clip = shot && clipWithRole(shot, 'performance');
  if (!shot || !clip || useIsolating.getState().state) return;
  const own = onClip(appearanceOf(shot, clip, frame), at),
    pressed = clipFrame(shot, clip, frame);
  await working('Isolating', clip.frames, async (signal, tell) => {
    let built = false;
    if (!clipWithRole(shot, 'clean')) {
      tell('Building the clean plate first', 0);
      await useBuilding.getState().build(clip.id);
      const { id: open, shot: after } = useShot.getState();
      // Cancelled, or why it was not built has been told.
      if (signal.aborted || open !== id || !after || !clipWithRole(after, 'clean')) return;
      built = true;
    }
    const now = useShot.getState().shot!,
      // The mattes that it is found by: with its shadow and without, before anybody else is left out.
      kept = freshId(now.mattes, 'k'),
      first = applyEdit(now, addMatte({ id: kept, name: 'Isolating', source: 'difference', clip: null })).shot,
      dropped = freshId(first.mattes, 'k'),
      tried = applyEdit(
        first,
        together(
          'Isolating',
          addMatte({ id: dropped, name: 'Isolating', source: 'difference', clip: null }),
          setSourceValues(kept, { shadow: 'kept' }),
        ),
      ).shot,
      answer = await measurer().ask(
        { kind: 'isolate', shot: tried, mattes: { kept, dropped }, at: own, frame: pressed },
        20,
        signal,
        undefined,
        (share) => tell('Following the body', Math.round(share * clip.frames)),
      );
    if (answer.kind !== 'isolated' || signal.aborted) return;
    const { bodies, shadow } = answer,
      { hash } = await call(keepSamples, { body: bodySamples(bodies, pressed) }),
      current = useShot.getState();
    // Another shot is looked at by now.
    if (current.id !== id || !current.shot?.clips[clip.id]) return;
    current.edit(keepIsolated({ name: 'Body', clip: clip.id, bodies, pressed, samples: hash, shadow }));
    const after = useShot.getState().shot!,
      matte = Object.values(after.subjects).find((s) => s.clip === clip.id && s.matte && !now.mattes[s.matte])?.matte;
    set({
      ...(matte ? { selection: { kind: 'matte', id: matte }, outline: 'o1', matteView: 'overlay' as const } : {}),
      notice: wordsOf(bodies, built, shadow, (f) => shotFrame(after, after.clips[clip.id]!, f)),
    });
  });
}
