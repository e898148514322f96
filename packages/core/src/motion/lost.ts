import { exp } from '../image/exactMath';
import { isPlaced, type Placed } from './samples';
import type { TrackSample } from './pointTracker';

/** What a mount does on frames on which its track was not found. */
export const lostWays = ['goes between', 'stays', 'goes on'] as const;
export type LostWay = (typeof lostWays)[number];

/** Frames before a loss that say where it was going, and by how much slower it goes with every frame after it. */
const SAYS = 4,
  SLOWER = 0.94;

/** A sample that a place is given to which nobody saw. */
const guessed = (s: TrackSample, from: Placed, x: number, y: number): TrackSample => ({
  ...{ ...from, frame: s.frame, confidence: 0, state: 'lost' },
  ...{ x, y },
  ...(from.corners ? { corners: from.corners.map(([u, v]): [number, number] => [u + x - from.x, v + y - from.y]) } : {}),
});

/**
 * Samples with a place on frames on which nothing was found: where it was seen last, or on along its way, ever slower. Where it goes between, or where
 * nothing was seen before, they stay without one.
 */
export function withLost(samples: readonly TrackSample[], way: LostWay): readonly TrackSample[] {
  if (way === 'goes between') return samples;
  let last: Placed | null = null,
    vx = 0,
    vy = 0,
    gone = 0;
  const seen: Placed[] = [];
  return samples.map((s) => {
    if (isPlaced(s) && s.state !== 'lost') {
      seen.push(s);
      last = s;
      gone = 0;
      return s;
    }
    if (!last) return s;
    if (way === 'goes on') {
      if (gone === 0) {
        const then = seen.findLast((p) => p.frame <= last!.frame - SAYS + 1 || p === seen[0])!,
          frames = Math.max(1, last.frame - then.frame);
        [vx, vy] = last === then ? [0, 0] : [(last.x - then.x) / frames, (last.y - then.y) / frames];
      }
      gone++;
    }
    // The sum of the steps so far, each slower than the one before.
    let steps = 0;
    for (let k = 0, step = 1; k < gone; k++, step *= SLOWER) steps += step;
    return guessed(s, last, last.x + vx * steps, last.y + vy * steps);
  });
}

/**
 * How much of what hangs on a track shows at a frame, where it fades out over some frames from its loss on and comes back when it is found: 0..1.
 * @param frames over which it fades; 0 keeps it.
 */
export function shownThrough(samples: readonly TrackSample[], frame: number, frames: number): number {
  if (!(frames > 0)) return 1;
  const found = (s: TrackSample) => isPlaced(s) && s.state !== 'lost';
  let since = Infinity,
    back = Infinity,
    wasLost = false;
  for (const s of samples) {
    if (s.frame > frame) break;
    if (found(s)) {
      if (wasLost) back = s.frame;
      wasLost = false;
      since = s.frame;
    } else wasLost = true;
  }
  if (since === Infinity) return 0;
  if (since < frame) return Math.max(0, 1 - (frame - since) / frames);
  return back === Infinity ? 1 : Math.min(1, (frame - back + 1) / frames);
}

/** Frames that are looked back at, in times of the lag, and the shares that they have: a spring that follows without swinging over. */
const BACK = 5;
export function trailOf(lag: number): number[] {
  const weights: number[] = [];
  let sum = 0;
  for (let k = 0; k <= BACK * lag; k++) {
    // The answer of a critically damped spring to a step, from frame to frame: 1 - (1 + t) e^-t, with a mean delay of two time constants.
    const at = (t: number) => (t <= 0 ? 0 : 1 - (1 + t) * exp(-t)),
      w = at((2 * (k + 1)) / lag) - at((2 * k) / lag);
    weights.push(w);
    sum += w;
  }
  return weights.map((w) => w / sum);
}
