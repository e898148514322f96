import { create } from 'zustand';
import { drawnBeyond, fromBothEnds, mappedVertex, withCarried, withoutCarried, type CarriedShape, type Vertex } from '@wraithos/core/matte';
import { framesOf, outlineAt, storedPlaces, type Mounts, type Tracks } from '@wraithos/core/render';
import { clipFrame, matteClip, setKeys, shotFrame, type Clip, type Matte, type Outline } from '@wraithos/core/shot';
import { useShot } from '../state/shotStore';
import { Dropped, measurer } from '../workers/pool';

/** An outline that is being carried on, how far it is, and how that is said. */
export interface CarryRun {
  outline: string;
  words: string;
  done: number;
  total: number;
}
interface CarryState {
  state: CarryRun | null;
  error: string | null;
}
const useCarryState = create<CarryState>(() => ({ state: null, error: null }));
let control: AbortController | null = null;

/** Frames in a row on which nothing of an outline is found before it is carried no further, and how sure is nothing. */
const NOTHING_FOR = 8,
  NOTHING = 0.12;

/** Carries an outline from where it stands at a frame of its clip to another one; ends early where nothing of it is found any more. */
async function way(
  clip: Clip,
  vertices: readonly Vertex[],
  from: number,
  to: number,
  signal: AbortSignal,
  seen: (shape: CarriedShape) => void,
): Promise<CarriedShape[]> {
  const shapes: CarriedShape[] = [],
    lost = new AbortController();
  let nothing = 0;
  const stop = () => lost.abort();
  signal.addEventListener('abort', stop, { once: true });
  try {
    await measurer().ask({ kind: 'carry', clip, vertices, from, to }, 20, lost.signal, undefined, undefined, (shape) => {
      if (lost.signal.aborted) return;
      shapes.push(shape);
      const mean = shape.sure.reduce((a, b) => a + b, 0) / shape.sure.length;
      nothing = mean < NOTHING ? nothing + 1 : 0;
      if (nothing >= NOTHING_FOR) lost.abort();
      else seen(shape);
    });
  } catch (error) {
    if (!(error instanceof Dropped)) throw error;
  }
  signal.removeEventListener('abort', stop);
  return nothing >= NOTHING_FOR ? shapes.slice(0, -NOTHING_FOR) : shapes;
}

/** What was found, as the outline's keys store it. */
function stored(outline: Outline, shapes: readonly CarriedShape[], mounts: Mounts): CarriedShape[] {
  return shapes.map((s) => {
    const { store } = storedPlaces(outline, s.frame, mounts);
    return { ...s, vertices: s.vertices.map((v) => mappedVertex(v, store)) };
  });
}

/**
 * Carries an outline on from the playhead in a direction of time: as far as the next frame on which it was drawn by hand, and then from both sides; else to
 * the end of its clip, or of the part that is played. What was found so far stays when it is stopped.
 */
async function carry(matte: Matte, outline: Outline, direction: 1 | -1, tracks: Tracks): Promise<void> {
  const { shot, frame, range } = useShot.getState(),
    clip = shot && matteClip(shot, matte);
  if (!shot || !clip) return;
  const mounts = framesOf(shot, tracks),
    from = clipFrame(shot, clip, frame),
    ends = range && frame >= range[0] && frame <= range[1] ? range.map((f) => clipFrame(shot, clip, f)).sort((a, b) => a - b) : null,
    drawn = drawnBeyond(outline.keys, from, direction),
    end = direction > 0 ? Math.min(clip.frames - 1, ends?.[1] ?? Infinity) : Math.max(0, ends?.[0] ?? 0),
    to = drawn !== null && (end - drawn) * direction >= 0 ? drawn : end,
    both = to === drawn,
    total = Math.abs(to - from) * (both ? 2 : 1);
  if (to === from) return;
  control = new AbortController();
  const { signal } = control;
  let done = 0;
  const tell = () =>
      useCarryState.setState({
        state: { outline: outline.id, words: direction > 0 ? 'Carrying on' : 'Carrying back', done, total },
        error: null,
      }),
    seen = (shape: CarriedShape) => {
      done++;
      tell();
      if (done % 3 === 0) {
        const there = shotFrame(shot, clip, shape.frame);
        if (there !== null) useShot.getState().set({ frame: there });
      }
    };
  tell();
  try {
    const there = await way(clip, outlineAt(outline, from, mounts).vertices, from, to, signal, seen);
    let shapes = direction > 0 ? there : [...there].reverse();
    if (both && !signal.aborted) {
      const back = await way(clip, outlineAt(outline, to, mounts).vertices, to, from, signal, () => {
        done++;
        tell();
      });
      // Stopped before they meet, the first way counts alone.
      if (!signal.aborted) shapes = direction > 0 ? fromBothEnds(there, back) : fromBothEnds(back, there);
    }
    const now = useShot.getState().shot?.mattes[matte.id]?.outlines.find((o) => o.id === outline.id);
    if (!now || shapes.length < 2) return;
    const before = withoutCarried(now.keys, from, direction),
      // The frame that it is carried from is one on which it was drawn: whoever looked at it there lets it count.
      anchored = before.some((k) => k.frame === from && !k.sure)
        ? before
        : [...before.filter((k) => k.frame !== from), keyOf(stored(outline, [shapes.find((s) => s.frame === from)!], mounts)[0]!)].sort(
            (a, b) => a.frame - b.frame,
          );
    useShot.getState().edit(setKeys(matte.id, outline.id, withCarried(anchored, stored(outline, shapes, mounts))));
    const last = direction > 0 ? shapes.at(-1)! : shapes[0]!;
    if (last.frame !== to && !signal.aborted) {
      const shown = shotFrame(shot, clip, last.frame);
      useShot.getState().set({
        ...(shown === null ? {} : { frame: shown }),
        notice: `Nothing of ${outline.name} was found beyond this frame. Draw it where it shows again, and carry it on from there.`,
      });
    }
  } catch (error) {
    useCarryState.setState({ error: (error as Error).message });
  } finally {
    useCarryState.setState({ state: null });
    control = null;
  }
}
const keyOf = (shape: CarriedShape) => ({ frame: shape.frame, ease: 'linear' as const, vertices: shape.vertices, sure: null });

export function useCarry() {
  const { state, error } = useCarryState();
  return {
    ...{ state, error },
    stop: () => control?.abort(),
    carry: (matte: Matte, outline: Outline, direction: 1 | -1, tracks: Tracks) => void carry(matte, outline, direction, tracks),
  };
}
