import { hypot } from '../image/exactMath';
import type { TrackSample } from './pointTracker';
import { isPlaced, type Correction, type Placed } from './samples';

/** Frames of a track that a person should look at. */
export interface Doubt {
  kind: 'lost' | 'weak' | 'jump';
  /** Frames of the clip. */
  first: number;
  last: number;
  /** How far a jump goes from between its neighbours, pixels; 0 for the others. */
  size: number;
}

/**
 * A jump is this many times what is usual of the track, by robust statistics, at least so many pixels, and more than this share of the way from frame to
 * frame: whatever moves fast may also turn fast.
 */
const TIMES = 10,
  LEAST = 2,
  OF_WAY = 0.6;
/** From the median of distances to the deviation of a normal distribution. */
const DEVIATION = 1.4826;

const isSound = (s: TrackSample | undefined): s is Placed => isPlaced(s) && s.state !== 'weak' && s.state !== 'lost';

/** How far each sample lies from the middle between its two neighbours, and the shorter of the ways to them; null where one of the three is not there. */
function bends(samples: readonly TrackSample[]): ({ by: number; way: number } | null)[] {
  return samples.map((s, i) => {
    const a = samples[i - 1],
      b = samples[i + 1];
    if (!isSound(s) || !isSound(a) || !isSound(b) || b.frame - a.frame !== 2) return null;
    return {
      by: hypot(s.x - (a.x + b.x) / 2, s.y - (a.y + b.y) / 2),
      way: Math.min(hypot(s.x - a.x, s.y - a.y), hypot(b.x - s.x, b.y - s.y)),
    };
  });
}

/**
 * What is doubtful of a track, in order of frames: where it was lost or weak, and where it jumps. A jump is told by how far a sample lies from between
 * its neighbours, against the median of that over the track, so that fast motion that lasts is none.
 * @param samples in order of frames.
 */
export function doubtsOf(samples: readonly TrackSample[]): Doubt[] {
  const out: Doubt[] = [];
  for (const s of samples) {
    if (s.state !== 'lost' && s.state !== 'weak') continue;
    const run = out.at(-1);
    if (run?.kind === s.state && run.last === s.frame - 1) run.last = s.frame;
    else out.push({ kind: s.state, first: s.frame, last: s.frame, size: 0 });
  }
  const bent = bends(samples),
    known = bent.flatMap((b) => (b ? [b.by] : [])).sort((a, b) => a - b),
    most = Math.max(LEAST, TIMES * DEVIATION * (known[known.length >> 1] ?? 0));
  bent.forEach((b, i) => {
    // A jump bends the track at its neighbours too, by half as much.
    if (!b || b.by <= Math.max(most, OF_WAY * b.way) || b.by < (bent[i - 1]?.by ?? 0) || b.by <= (bent[i + 1]?.by ?? 0)) return;
    // What a person set is as it should be, and what is beside it is bent by that.
    if (![i - 1, i, i + 1].some((k) => samples[k]!.state === 'keyed'))
      out.push({ kind: 'jump', first: samples[i]!.frame, last: samples[i]!.frame, size: b.by });
  });
  return out.sort((a, b) => a.first - b.first);
}

/** How far apart the samples may be that a way's direction is taken from, frames. */
const DIRECTION = 3;
/**
 * What a person would set on frames of a track from those before and after: along a smooth way (cubic, with the speeds at both ends), or straight on from
 * the one side that is there; turn, growth and corners evenly from one to the other. Empty where neither is.
 */
export function placesBetween(samples: readonly TrackSample[], first: number, last: number): Map<number, Correction> {
  const before = samples.filter((s): s is Placed => s.frame < first && isSound(s)),
    after = samples.filter((s): s is Placed => s.frame > last && isSound(s)),
    a = before.at(-1),
    b = after[0],
    out = new Map<number, Correction>(),
    speed = (one: Placed | undefined, two: Placed | undefined): [number, number] | null =>
      one && two && two.frame - one.frame <= DIRECTION && two.frame > one.frame
        ? [(two.x - one.x) / (two.frame - one.frame), (two.y - one.y) / (two.frame - one.frame)]
        : null,
    into = speed(before.at(-2), a),
    from = speed(b, after[1]);
  /** The rest of what is set with a place: between the two sides by `t`, or as on the one that is there. */
  const set = (at: [number, number], one: Placed, two: Placed, t: number): Correction => {
    const mid = (p: number, q: number) => p + (q - p) * t;
    return {
      at,
      ...(one.rotation || two.rotation ? { turn: mid(one.rotation, two.rotation) } : {}),
      ...(one.scale !== 1 || two.scale !== 1 ? { growth: mid(one.scale, two.scale) } : {}),
      ...(one.corners && two.corners
        ? {
            corners: one.corners.map(([x, y], i): [number, number] => [
              at[0] + mid(x - one.x, two.corners![i]![0] - two.x),
              at[1] + mid(y - one.y, two.corners![i]![1] - two.y),
            ]),
          }
        : {}),
    };
  };
  for (let f = first; f <= last; f++) {
    if (a && b) {
      const span = b.frame - a.frame,
        t = (f - a.frame) / span,
        straight: [number, number] = [(b.x - a.x) / span, (b.y - a.y) / span],
        [va, vb] = [into ?? straight, from ?? straight],
        h = [2 * t * t * t - 3 * t * t + 1, t * t * t - 2 * t * t + t, -2 * t * t * t + 3 * t * t, t * t * t - t * t] as const,
        at = (pa: number, sa: number, pb: number, sb: number) => h[0] * pa + h[1] * span * sa + h[2] * pb + h[3] * span * sb;
      out.set(f, set([at(a.x, va[0], b.x, vb[0]), at(a.y, va[1], b.y, vb[1])], a, b, t));
    } else if (a) out.set(f, set([a.x + (into?.[0] ?? 0) * (f - a.frame), a.y + (into?.[1] ?? 0) * (f - a.frame)], a, a, 0));
    else if (b) out.set(f, set([b.x - (from?.[0] ?? 0) * (b.frame - f), b.y - (from?.[1] ?? 0) * (b.frame - f)], b, b, 0));
  }
  return out;
}
