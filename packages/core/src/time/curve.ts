import { clamp } from '../image/exactMath';

/** How the way from a point to the next is eased. `bend` gives the two handles of a cubic: x 0..1 of the time, y 0..1 of the rise (beyond overshoots). */
export const easings = ['linear', 'smooth', 'ease in', 'ease out', 'hold', 'bend'] as const;
export type Easing = (typeof easings)[number];
export type Bend = [x1: number, y1: number, x2: number, y2: number];
export interface CurvePoint {
  frame: number;
  /** The cue that it hangs on, from which its frame is counted where it is stored; none where that is a frame of its row. */
  cue?: string | null;
  value: number;
  ease: Easing;
  bend?: Bend;
}
/** A parameter over time. Frames count from the row's first frame, so that a row that moves takes its curves along. Sorted by frame. */
export interface Curve {
  points: CurvePoint[];
}

const bends: Record<Exclude<Easing, 'bend' | 'hold' | 'linear'>, Bend> = {
  smooth: [0.42, 0, 0.58, 1],
  'ease in': [0.42, 0, 1, 1],
  'ease out': [0, 0, 0.58, 1],
};
/** The handles of an easing; `hold` has none. */
export function bendOf(point: CurvePoint): Bend | null {
  if (point.ease === 'hold') return null;
  if (point.ease === 'linear') return [1 / 3, 1 / 3, 2 / 3, 2 / 3];
  return point.ease === 'bend' ? (point.bend ?? bends.smooth) : bends[point.ease];
}

/** Value (rise 0..1) of a cubic with end points (0,0) and (1,1) at the time share `t`, by bisection: exact in every engine. */
export function easeAt([x1, y1, x2, y2]: Bend, t: number): number {
  const cubic = (a: number, b: number, u: number) => {
    const w = 1 - u;
    return 3 * w * w * u * a + 3 * w * u * u * b + u * u * u;
  };
  const ax = clamp(x1, 0, 1),
    bx = clamp(x2, 0, 1);
  let low = 0,
    high = 1;
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (cubic(ax, bx, middle) < t) low = middle;
    else high = middle;
  }
  return cubic(y1, y2, (low + high) / 2);
}

/** Value of a curve at a frame (fractions allowed); before the first point and after the last it stays. */
export function valueAt(curve: Curve, frame: number): number {
  const points = curve.points,
    last = points[points.length - 1]!;
  if (frame <= points[0]!.frame) return points[0]!.value;
  if (frame >= last.frame) return last.value;
  let i = 0;
  while (points[i + 1]!.frame <= frame) i++;
  const a = points[i]!,
    b = points[i + 1]!,
    bend = bendOf(a);
  if (!bend || frame === a.frame) return a.value;
  const t = (frame - a.frame) / (b.frame - a.frame);
  return a.value + (b.value - a.value) * (a.ease === 'linear' ? t : easeAt(bend, t));
}

/** A copy of the curve with a point at `frame`, in place of one that is there already. */
export function withPoint(curve: Curve, point: CurvePoint): Curve {
  return { points: [...curve.points.filter((p) => p.frame !== point.frame), point].sort((a, b) => a.frame - b.frame) };
}

/** How the way on from a point at a frame is eased; undefined where there is no point. */
export const easeOf = (curve: Curve, frame: number): Easing | undefined => curve.points.findLast((p) => p.frame === frame)?.ease;
