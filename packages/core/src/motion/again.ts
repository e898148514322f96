import { hypot } from '../image/exactMath';
import type { TrackSample } from './pointTracker';
import { isPlaced, type Placed } from './samples';

/** Pixels within which two ways to the same frame say the same. */
const SAME = 3;

/**
 * One run of samples from two: one followed forwards from a good frame before, one backwards from a good frame after. Where both say the same it goes
 * evenly over from the first to the second; where they differ, the surer one counts and is weak.
 */
export function fromBothSides(forwards: readonly TrackSample[], backwards: readonly TrackSample[]): TrackSample[] {
  const others = new Map(backwards.map((s) => [s.frame, s])),
    frames = forwards.map((s) => s.frame).filter((f) => others.has(f)),
    first = Math.min(...frames),
    last = Math.max(...frames);
  return forwards
    .filter((s) => others.has(s.frame))
    .map((a): TrackSample => {
      const b = others.get(a.frame)!;
      if (!isPlaced(a) || !isPlaced(b)) return isPlaced(b) ? b : a;
      if (hypot(a.x - b.x, a.y - b.y) > SAME) return { ...(a.confidence >= b.confidence ? a : b), state: 'weak' };
      return mixed(a, b, last > first ? (a.frame - first) / (last - first) : 0.5);
    })
    .sort((a, b) => a.frame - b.frame);
}

function mixed(a: Placed, b: Placed, t: number): TrackSample {
  const mid = (p: number, q: number) => p + (q - p) * t,
    good = (s: Placed) => s.state !== 'weak' && s.state !== 'lost';
  return {
    ...{ frame: a.frame, x: mid(a.x, b.x), y: mid(a.y, b.y), rotation: mid(a.rotation, b.rotation), scale: mid(a.scale, b.scale) },
    ...(a.corners && b.corners
      ? { corners: a.corners.map(([x, y], i): [number, number] => [mid(x, b.corners![i]![0]), mid(y, b.corners![i]![1])]) }
      : {}),
    confidence: Math.max(a.confidence, b.confidence),
    // Two ways that meet confirm each other.
    state: good(a) || good(b) ? 'good' : 'weak',
  };
}
