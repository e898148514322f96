import { after, back, seenAt, toCorners } from '../image/homography';
import { hash } from '../image/random';
import { solved } from '../image/solve';
import type { Homography } from '../image/warp';
import type { Point } from './frame';

type Pair = readonly [from: Point, to: Point];
/** Four corners of a plane on the picture, clockwise from the top left one as it was drawn. */
export type Quad = readonly [Point, Point, Point, Point];

/** A map through many pairs of places, which of them agree with it, and how sure it is. */
export interface Agreed {
  map: Homography;
  agrees: boolean[];
  /** Deviation of the place that it gives to the worst of the corners, pixels, by what is left of the pairs that agree. */
  spread: number;
  /** Deviation of a pair that agrees, pixels. */
  deviation: number;
}

/** The map of one quad to another; null where three corners of one lie on a line. */
export function quadToQuad(from: Quad, to: Quad): Homography | null {
  const a = toCorners(1, 1, from),
    b = toCorners(1, 1, to),
    undone = a && back(a);
  return b && undone && scaled(after(b, undone), from);
}
/** The same map with depths about 1, and so above 0, at the middle of a quad. */
function scaled(m: Homography, corners: Quad): Homography {
  const depth = corners.reduce((sum, c) => sum + seenAt(m, c).depth / 4, 0);
  return m.map((v) => v / depth) as unknown as Homography;
}

/** Squared distance from where a map takes a place to where it is; endless behind who looks. */
function off(m: Homography, [[x, y], [u, v]]: Pair): number {
  const w = m[6] * x + m[7] * y + m[8];
  if (!(w > 0)) return Infinity;
  const dx = (m[0] * x + m[1] * y + m[2]) / w - u,
    dy = (m[3] * x + m[4] * y + m[5]) / w - v;
  return dx * dx + dy * dy;
}

/** What a place moves by with each of the eight freedoms of a map about it: shift, stretch and turn, perspective. */
const FREE = 8;
function movesAt(x: number, y: number, ux: Float64Array, uy: Float64Array): void {
  ux.set([1, x, y, 0, 0, 0, x * x, x * y]);
  uy.set([0, 0, 0, 1, x, y, x * y, y * y]);
}
const smallMap = (p: Float64Array): Homography => [1 + p[1]!, p[2]!, p[0]!, p[4]!, 1 + p[5]!, p[3]!, -p[6]!, -p[7]!, 1];

/** Rounds of least squares, and pixels by which nothing moves any more. */
const ROUNDS = 8,
  ENOUGH = 0.002;
/** A pull on the perspective, against the weight of one pair a unit away: what nothing speaks for stays as it was. */
const PULL = 0.02;
/**
 * Improves a map through pairs of places by least squares of the distances on the picture, with Tukey's weights: the nearer a pair is to what all say, the
 * more it says itself (Gauss and Newton's way, maps composed as in Hartley & Zisserman, section 4.5).
 * @param within pixels by which a pair may be off and still has a say.
 */
function improved(pairs: readonly Pair[], map: Homography, within: number, corners: Quad): Agreed | null {
  const n = FREE,
    ux = new Float64Array(n),
    uy = new Float64Array(n),
    limit = within * within;
  // Freedoms count about the middle of the corners on the picture, in their half size, so that all eight are alike.
  const seen = corners.map((c) => seenAt(map, c).at),
    cx = seen.reduce((s, p) => s + p[0], 0) / 4,
    cy = seen.reduce((s, p) => s + p[1], 0) / 4,
    unit = Math.max(1, ...seen.map((p) => Math.max(Math.abs(p[0] - cx), Math.abs(p[1] - cy)))),
    inUnits: Homography = [1 / unit, 0, -cx / unit, 0, 1 / unit, -cy / unit, 0, 0, 1],
    inPixels: Homography = [unit, 0, cx, 0, unit, cy, 0, 0, 1];
  let whole: Float64Array | null = null,
    squares = 0,
    used = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const h = new Float64Array(n * n),
      b = new Float64Array(n);
    squares = used = 0;
    for (const pair of pairs) {
      const d2 = off(map, pair);
      if (!(d2 < limit)) continue;
      const q = 1 - d2 / limit,
        w = q * q,
        [px, py] = seenAt(map, pair[0]).at,
        rx = (pair[1][0] - px) / unit,
        ry = (pair[1][1] - py) / unit;
      movesAt((px - cx) / unit, (py - cy) / unit, ux, uy);
      used += w;
      squares += w * d2;
      for (let k = 0; k < n; k++) {
        b[k]! += w * (ux[k]! * rx + uy[k]! * ry);
        for (let j = 0; j <= k; j++) h[k * n + j]! += w * (ux[k]! * ux[j]! + uy[k]! * uy[j]!);
      }
    }
    if (used < 3) return null;
    h[6 * n + 6]! += PULL;
    h[7 * n + 7]! += PULL;
    whole = Float64Array.from(h);
    const step = solved(h, b, n);
    if (!step) return null;
    map = scaled(after(inPixels, after(smallMap(step), after(inUnits, map))), corners);
    if (step.every((s) => Math.abs(s) * unit < ENOUGH)) break;
  }
  // How far each corner may be off: what is left, through the inverse of the equations.
  const variance = squares / Math.max(1, 2 * used - n) + 1e-6;
  let spread = 0;
  for (const corner of corners) {
    const { at, depth } = seenAt(map, corner);
    if (!(depth > 0)) return null;
    movesAt((at[0] - cx) / unit, (at[1] - cy) / unit, ux, uy);
    let sum = 0;
    for (const u of [ux, uy]) {
      const x = solved(Float64Array.from(whole!), u, n);
      if (!x) return null;
      for (let k = 0; k < n; k++) sum += x[k]! * u[k]!;
    }
    spread = Math.max(spread, Math.sqrt(variance * sum));
  }
  return { map, agrees: pairs.map((pair) => off(map, pair) <= limit), spread, deviation: Math.sqrt(variance) };
}

/** Sets of four pairs that are tried out: enough for two in five to be wrong, many times over. */
const TRIALS = 60;
/**
 * The map in perspective that most pairs of places agree with, whatever the others do (Fischler and Bolles 1981), improved through all that agree; null
 * where there are too few.
 * @param within pixels by which a pair may be off and still agrees. @param like a map that it is near to. @param corners of the quad that is looked for.
 */
export function agreedHomography(pairs: readonly Pair[], within: number, like: Homography, corners: Quad): Agreed | null {
  const n = pairs.length;
  if (n < 4) return null;
  const cost = (m: Homography, most: number) => {
      let sum = 0;
      for (const pair of pairs) {
        sum += Math.min(within * within, off(m, pair));
        if (sum >= most) return sum;
      }
      return sum;
    },
    // What is expected, moved as the pairs say on the median.
    middle = (k: 0 | 1) => pairs.map(([from, to]) => to[k] - seenAt(like, from).at[k]).sort((p, q) => p - q)[n >> 1]!;
  let best = after([1, 0, middle(0), 0, 1, middle(1), 0, 0, 1], like),
    least = cost(best, Infinity);
  for (let k = 0; k < TRIALS; k++) {
    const chosen: number[] = [];
    for (let j = 0; chosen.length < 4 && j < 12; j++) {
      const i = (hash(k, n, 21 + j) >>> 0) % n;
      if (!chosen.includes(i)) chosen.push(i);
    }
    if (chosen.length < 4) continue;
    const four = chosen.map((i) => pairs[i]!),
      m = quadToQuad(four.map((p) => p[0]) as never, four.map((p) => p[1]) as never);
    if (!m || !m.every((v) => Number.isFinite(v)) || !corners.every((c) => seenAt(m, c).depth > 0)) continue;
    const sum = cost(m, least);
    if (sum < least) [best, least] = [m, sum];
  }
  return improved(pairs, best, within, corners);
}
