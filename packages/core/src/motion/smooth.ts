import { solved } from '../image/solve';
import type { TrackSample } from './pointTracker';
import { isPlaced, type Placed } from './samples';

/** Frames to either side that are looked at where all is smoothed. */
const WIDEST = 12;
/** How many deviations of its own unrest a value may be moved by: what goes further than that is motion. */
const MOST = 3;
/** From the median of distances to the deviation of a normal distribution; and the deviation of third differences of even unrest. */
const DEVIATION = 1.4826,
  THIRD = Math.sqrt(20);

/** Deviation of the unrest of a row of numbers, by the median of its third differences: even acceleration says nothing. */
function unrest(values: readonly number[]): number {
  const off: number[] = [];
  for (let i = 3; i < values.length; i++) off.push(Math.abs(values[i]! - 3 * values[i - 1]! + 3 * values[i - 2]! - values[i - 3]!));
  off.sort((a, b) => a - b);
  return off.length ? (DEVIATION * off[off.length >> 1]!) / THIRD : 0;
}

/** What is left of a parabola, in deviations of the unrest, above which it is taken through fewer frames: it would round off a blow. */
const FITS = 1.7;
/** The parabola of least squares through the numbers around one, within a reach: its value there against it, and what is left of it. */
function fitted(frames: readonly number[], values: readonly number[], i: number, reach: number): { by: number; left: number } | null {
  const h = new Float64Array(9),
    b = new Float64Array(3),
    around: [u: number, w: number, v: number][] = [];
  let from = i;
  while (from > 0 && frames[i]! - frames[from - 1]! <= reach) from--;
  for (let j = from; j < values.length && frames[j]! - frames[i]! <= reach; j++) {
    const u = (frames[j]! - frames[i]!) / (reach + 1),
      w = (1 - u * u) * (1 - u * u),
      v = values[j]! - values[i]!,
      row = [1, u, u * u];
    around.push([u, w, v]);
    for (let r = 0; r < 3; r++) {
      b[r]! += w * row[r]! * v;
      for (let c = 0; c <= r; c++) h[3 * r + c]! += w * row[r]! * row[c]!;
    }
  }
  const p = around.length > 3 ? solved(h, b, 3) : null;
  if (!p) return null;
  let squares = 0,
    used = 0;
  for (const [u, w, v] of around) {
    const off = v - p[0]! - p[1]! * u - p[2]! * u * u;
    squares += w * off * off;
    used += w;
  }
  return { by: p[0]!, left: Math.sqrt(squares / used) };
}

/** Each number by the parabola of least squares through those around it (Savitzky and Golay 1964), through as many as it fits. */
function calmed(frames: readonly number[], values: readonly number[], strength: number): number[] {
  const sigma = unrest(values);
  return values.map((value, i) => {
    for (let reach = Math.max(2, Math.round(strength * WIDEST)); reach >= 2; reach = Math.floor(reach / 1.5)) {
      const fit = fitted(frames, values, i, reach);
      if (fit && fit.left < FITS * sigma) return value + Math.max(-MOST * sigma, Math.min(MOST * sigma, fit.by));
    }
    return value;
  });
}

/**
 * A track without its small unrest. Nothing is moved further than its unrest explains, so that a throw, a stop or a blow stays as fast as it was; frames
 * set by hand stay as they are.
 * @param strength 0..1.
 */
export function smoothed(samples: readonly TrackSample[], strength: number): TrackSample[] {
  const placed = samples.filter((s): s is Placed => isPlaced(s)),
    frames = placed.map((s) => s.frame),
    of = (value: (s: Placed) => number) => calmed(frames, placed.map(value), strength),
    x = of((s) => s.x),
    y = of((s) => s.y),
    turn = of((s) => s.rotation),
    growth = of((s) => s.scale),
    corners = placed.every((s) => s.corners)
      ? [0, 1, 2, 3].map((c) => [of((s) => s.corners![c]![0]), of((s) => s.corners![c]![1])] as const)
      : null;
  let i = -1;
  return samples.map((s) => {
    if (!isPlaced(s)) return s;
    i++;
    if (s.state === 'keyed') return s;
    const n = i;
    return {
      ...{ ...s, x: x[n]!, y: y[n]!, rotation: turn[n]!, scale: growth[n]! },
      ...(corners ? { corners: corners.map(([u, v]): [number, number] => [u[n]!, v[n]!]) } : {}),
    };
  });
}
