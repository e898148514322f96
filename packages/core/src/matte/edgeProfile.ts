import type { Plane } from '../image/picture';
import { sampled } from '../image/sampled';

type Point = readonly [number, number];
/** How far a look across an edge reaches inwards and outwards, pixels: what is behind it changes, what is inside does not. */
const INWARDS = 9,
  OUTWARDS = 2;
/** Steps to a pixel. */
const FINE = 2;
/** Places along the line, to both sides, that are taken into the mean of a look, against grain. */
const ALONG = [-2, -1, 0, 1, 2];
/** Contrast below which a look says nothing, of 1. */
const FLAT = 0.004;

function line(plane: Plane, at: Point, inwards: Point, growth: number, from: number, to: number): Float32Array {
  const n = (to - from) * FINE + 1,
    out = new Float32Array(n);
  for (let k = 0; k < n; k++) {
    const d = (from + k / FINE) * growth,
      x = at[0] + inwards[0] * d,
      y = at[1] + inwards[1] * d;
    let sum = 0;
    for (const a of ALONG) sum += sampled(plane, x - inwards[1] * a * growth, y + inwards[0] * a * growth);
    out[k] = sum / ALONG.length;
  }
  return out;
}

/** How a picture looks across an outline at a place, from outside to inside. @param inwards of length 1. */
export const edgeProfile = (plane: Plane, at: Point, inwards: Point): Float32Array => line(plane, at, inwards, 1, -OUTWARDS, INWARDS);

/**
 * How far inwards (pixels of the plane) an edge lies from a place, where it looks most like a look that was taken before, whatever the light; and how
 * alike it is there, -1..1 (normalised cross-correlation).
 * @param growth by how much the body has grown since. @param search how far it is looked for to both sides, pixels of the look.
 */
export function profileShift(
  look: Float32Array,
  plane: Plane,
  at: Point,
  inwards: Point,
  growth: number,
  search: number,
): { shift: number; like: number } {
  const wide = line(plane, at, inwards, growth, -OUTWARDS - search, INWARDS + search),
    n = look.length,
    steps = wide.length - n + 1,
    likes = new Float64Array(steps);
  let mean = 0;
  for (const v of look) mean += v;
  mean /= n;
  let square = 0;
  for (const v of look) square += (v - mean) * (v - mean);
  if (square / n < FLAT * FLAT) return { shift: 0, like: 0 };
  let best = 0;
  for (let s = 0; s < steps; s++) {
    let sum = 0;
    for (let k = 0; k < n; k++) sum += wide[s + k]!;
    const other = sum / n;
    let cross = 0,
      squares = 0;
    for (let k = 0; k < n; k++) {
      const e = wide[s + k]! - other;
      cross += e * (look[k]! - mean);
      squares += e * e;
    }
    // A little is taken off for going far: of two that look alike the nearer one counts.
    const far = (s - (steps - 1) / 2) / steps;
    likes[s] = cross / Math.sqrt(square * Math.max(squares, n * FLAT * FLAT)) - 0.1 * far * far;
    if (likes[s]! > likes[best]!) best = s;
  }
  // The top of a parabola through the best and its neighbours.
  const [a, b, c] = [likes[best - 1], likes[best]!, likes[best + 1]],
    top = a !== undefined && c !== undefined && a + c < 2 * b ? (a - c) / (2 * (a + c - 2 * b)) : 0;
  return { shift: ((best + top - (steps - 1) / 2) / FINE) * growth, like: likes[best]! };
}
