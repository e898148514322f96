import { hypot } from '../image/exactMath';
import { after, back, seenAt, toCorners } from '../image/homography';
import { hash } from '../image/random';
import { solved } from '../image/solve';
import type { Homography } from '../image/warp';
import type { Point } from './frame';

/**
 * Two places that are the same, and by how much less each direction says: [x x, x y, y y], whose larger eigenvalue is 1. An edge says nothing of the
 * way along it.
 */
export type Pair = readonly [from: Point, to: Point, says: readonly [number, number, number]];
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
/** How far two quads differ in shape, pixels: a shift of all corners counts nothing. */
export function shapeOff(a: Quad, b: Quad): number {
  const by = a.map((p, i) => [p[0] - b[i]![0], p[1] - b[i]![1]] as const),
    mean = [0, 1].map((k) => by.reduce((sum, d) => sum + d[k]! / 4, 0));
  return Math.max(...by.map((d) => hypot(d[0] - mean[0]!, d[1] - mean[1]!)));
}
/** Where the diagonals of a quad cross: the middle of a rectangle in perspective. */
export function crossingOf([a, b, c, d]: Quad): [number, number] {
  const [ux, uy, vx, vy] = [c[0] - a[0], c[1] - a[1], d[0] - b[0], d[1] - b[1]],
    det = ux * vy - uy * vx,
    t = det ? ((b[0] - a[0]) * vy - (b[1] - a[1]) * vx) / det : 0.5;
  return [a[0] + t * ux, a[1] + t * uy];
}
/** The same map with depths about 1, and so above 0, at the middle of a quad. */
function scaled(m: Homography, corners: Quad): Homography {
  const depth = corners.reduce((sum, c) => sum + seenAt(m, c).depth / 4, 0);
  return m.map((v) => v / depth) as unknown as Homography;
}

/** Squared distance from where a map takes a place to where it is, as far as that place says anything; endless behind who looks. */
function off(m: Homography, [[x, y], [u, v], [xx, xy, yy]]: Pair): number {
  const w = m[6] * x + m[7] * y + m[8];
  if (!(w > 0)) return Infinity;
  const dx = (m[0] * x + m[1] * y + m[2]) / w - u,
    dy = (m[3] * x + m[4] * y + m[5]) / w - v;
  return xx * dx * dx + 2 * xy * dx * dy + yy * dy * dy;
}

/** The eight freedoms of a map about it: shift, stretch and turn, perspective. */
const FREE = 8;

/**
 * The equations of least squares for a small change of a map, in freedoms that count about the middle of a quad in its half size, so that all are alike
 * (Hartley & Zisserman, section 4.5, maps composed).
 */
export class MapChange {
  private readonly h = new Float64Array(FREE * FREE);
  private readonly b = new Float64Array(FREE);
  private readonly ux = new Float64Array(FREE);
  private readonly uy = new Float64Array(FREE);
  private readonly cx: number;
  private readonly cy: number;
  private readonly unit: number;

  constructor(
    private readonly map: Homography,
    private readonly corners: Quad,
  ) {
    const seen = corners.map((c) => seenAt(map, c).at);
    this.cx = seen.reduce((s, p) => s + p[0], 0) / 4;
    this.cy = seen.reduce((s, p) => s + p[1], 0) / 4;
    this.unit = Math.max(1, ...seen.map((p) => Math.max(Math.abs(p[0] - this.cx), Math.abs(p[1] - this.cy))));
  }
  /** What a place of the picture moves by with each freedom, pixels. */
  private movesAt([px, py]: Point): void {
    const { unit } = this,
      x = (px - this.cx) / unit,
      y = (py - this.cy) / unit;
    this.ux.set([unit, unit * x, unit * y, 0, 0, 0, unit * x * x, unit * x * y]);
    this.uy.set([0, 0, 0, unit, unit * x, unit * y, unit * x * y, unit * y * y]);
  }
  /** Adds what is known at a place of the picture: how much each direction counts ([x x, x y, y y], per square pixel), and that times the shift it wants. */
  add(at: Point, [xx, xy, yy]: Pair[2], px: number, py: number): void {
    const { h, b, ux, uy } = this;
    this.movesAt(at);
    for (let k = 0; k < FREE; k++) {
      const sx = xx * ux[k]! + xy * uy[k]!,
        sy = xy * ux[k]! + yy * uy[k]!;
      b[k]! += px * ux[k]! + py * uy[k]!;
      for (let j = 0; j <= k; j++) h[k * FREE + j]! += sx * ux[j]! + sy * uy[j]!;
    }
  }
  /** Lets the perspective stay as it is where nothing speaks for another one: a weight, per square pixel at a corner. */
  keepPerspective(weight: number): void {
    for (const k of [6, 7]) this.h[k * FREE + k]! += weight * this.unit * this.unit;
  }
  /**
   * Draws all but the shift towards another map, which is expected.
   * @param weight for each square pixel by which a corner would be off.
   */
  expect(other: Homography, weight: number): void {
    const { cx, cy, unit } = this,
      undone = back(other);
    if (!undone) return;
    const inUnits: Homography = [1 / unit, 0, -cx / unit, 0, 1 / unit, -cy / unit, 0, 0, 1],
      inPixels: Homography = [unit, 0, cx, 0, unit, cy, 0, 0, 1],
      m = after(inUnits, after(after(this.map, undone), inPixels)),
      by = [0, m[0] / m[8] - 1, m[1] / m[8], 0, m[3] / m[8], m[4] / m[8] - 1, -m[6] / m[8], -m[7] / m[8]],
      each = weight * unit * unit;
    for (const k of [1, 2, 4, 5, 6, 7]) {
      this.h[k * FREE + k]! += each;
      this.b[k]! -= each * by[k]!;
    }
  }
  /** The changed map, and pixels by which it moves at the most; null where the equations do not say enough. */
  solved(): { map: Homography; by: number } | null {
    const p = solved(Float64Array.from(this.h), this.b, FREE);
    if (!p) return null;
    const { cx, cy, unit } = this,
      small: Homography = [1 + p[1]!, p[2]!, p[0]!, p[4]!, 1 + p[5]!, p[3]!, -p[6]!, -p[7]!, 1],
      inUnits: Homography = [1 / unit, 0, -cx / unit, 0, 1 / unit, -cy / unit, 0, 0, 1],
      inPixels: Homography = [unit, 0, cx, 0, unit, cy, 0, 0, 1];
    return {
      map: scaled(after(inPixels, after(small, after(inUnits, this.map))), this.corners),
      by: unit * Math.max(...Array.from(p, Math.abs)),
    };
  }
  /** Deviation of the worst corner, pixels, by the variance of what the equations were made of; null where they do not say enough. */
  spread(variance: number): number | null {
    let worst = 0;
    for (const corner of this.corners) {
      const { at, depth } = seenAt(this.map, corner);
      if (!(depth > 0)) return null;
      this.movesAt(at);
      let sum = 0;
      for (const u of [this.ux, this.uy]) {
        const x = solved(Float64Array.from(this.h), u, FREE);
        if (!x) return null;
        for (let k = 0; k < FREE; k++) sum += x[k]! * u[k]!;
      }
      worst = Math.max(worst, Math.sqrt(variance * sum));
    }
    return worst;
  }
}

/** Rounds of least squares, and pixels by which nothing moves any more. */
const ROUNDS = 8,
  ENOUGH = 0.002;
/** A pull on the perspective, against the weight of one pair a unit away: what nothing speaks for stays as it was. */
const PULL = 0.02;
/**
 * Improves a map through pairs of places by least squares of the distances on the picture, with Tukey's weights: the nearer a pair is to what all say, the
 * more it says itself.
 * @param within pixels by which a pair may be off and still has a say.
 */
function improved(pairs: readonly Pair[], map: Homography, within: number, corners: Quad): Agreed | null {
  const limit = within * within;
  let squares = 0,
    used = 0,
    change = new MapChange(map, corners);
  for (let round = 0; round < ROUNDS; round++) {
    change = new MapChange(map, corners);
    squares = used = 0;
    for (const pair of pairs) {
      const d2 = off(map, pair);
      if (!(d2 < limit)) continue;
      const q = 1 - d2 / limit,
        w = q * q,
        [from, to, [xx, xy, yy]] = pair,
        { at } = seenAt(map, from),
        rx = w * (to[0] - at[0]),
        ry = w * (to[1] - at[1]);
      used += w * (xx + yy);
      squares += w * d2;
      change.add(at, [w * xx, w * xy, w * yy], xx * rx + xy * ry, xy * rx + yy * ry);
    }
    if (used < 6) return null;
    change.keepPerspective(PULL);
    const next = change.solved();
    if (!next) return null;
    map = next.map;
    if (next.by < ENOUGH) break;
  }
  const variance = squares / Math.max(1, used - FREE) + 1e-6,
    spread = change.spread(variance);
  return spread === null ? null : { map, agrees: pairs.map((pair) => off(map, pair) <= limit), spread, deviation: Math.sqrt(variance) };
}

/** The least that a pair's weaker direction must say, of all that it says, for it to be one of four that are tried out. */
const FIRM = 0.12;
/** True for a pair that says something in every direction. */
export const isFirm = ([, , [xx, xy, yy]]: Pair): boolean =>
  (xx + yy - Math.sqrt((xx - yy) * (xx - yy) + 4 * xy * xy)) / 2 > FIRM * (xx + yy);
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
    firm = pairs.filter(isFirm),
    // What is expected, as it is, and drawn nearer to what the pairs say.
    nearer = improved(pairs, like, 3 * within, corners)?.map ?? like;
  let best = like,
    least = cost(like, Infinity);
  const tried = cost(nearer, least);
  if (tried < least) [best, least] = [nearer, tried];
  for (let k = 0; k < TRIALS && firm.length >= 6; k++) {
    const chosen: number[] = [];
    for (let j = 0; chosen.length < 4 && j < 12; j++) {
      const i = (hash(k, n, 21 + j) >>> 0) % firm.length;
      if (!chosen.includes(i)) chosen.push(i);
    }
    if (chosen.length < 4) continue;
    const four = chosen.map((i) => firm[i]!),
      m = quadToQuad(four.map((p) => p[0]) as never, four.map((p) => p[1]) as never);
    if (!m || !m.every((v) => Number.isFinite(v)) || !corners.every((c) => seenAt(m, c).depth > 0)) continue;
    const sum = cost(m, least);
    if (sum < least) [best, least] = [m, sum];
  }
  return improved(pairs, best, within, corners);
}
