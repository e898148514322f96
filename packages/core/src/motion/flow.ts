import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Plane } from '../image/picture';

/** A plane at the whole size and at halves of it, the finest first. */
export type Pyramid = readonly Plane[];

/**
 * Halves of a plane, each the mean of two by two: `levels` of them, or fewer where it becomes too small. They come from `pictures`; whoever asked
 * gives them back (givePyramid).
 */
export function pyramidOf(plane: Plane, levels: number, pictures: Pictures): Pyramid {
  const out = [plane];
  for (let from = plane; out.length <= levels && Math.min(from.width, from.height) > 32; from = out.at(-1)!) {
    const { width, height } = from,
      small = pictures.takePlane(width >> 1, height >> 1);
    withAddresses(pictures, [from, small], (src, dst) => pictures.run('meanHalfPlane', small.height, src!, dst!, width));
    out.push(small);
  }
  return out;
}
/** Gives the halves back; the plane that they were made from stays whoever's it is. */
export function givePyramid(pyramid: Pyramid, pictures: Pictures): void {
  for (const half of pyramid.slice(1)) pictures.give(half);
}

/** Where a point went: its place, and whether the step settled on a surface that has structure. */
export interface Followed {
  x: number;
  y: number;
  found: boolean;
}
/** What the contrast of a window may become against what it was: beyond that it is something else. */
const DIMMEST = [0.2, 5] as const;
const STEPS = 12,
  ENOUGH = 0.01,
  /** On the way to the finest level: what is left is made good by the next one. */
  NEARLY = 0.04;

/**
 * Follows points from one picture to the next by pyramidal Lucas-Kanade: at each level, from the coarsest, the shift of a square window is
 * improved by the least squares of its grey differences until it moves by less than a hundredth of a pixel of the finest level (Bouguet's inverse form: gradients of
 * the first picture only). Points in pixel coordinates, centres at +0.5; `size` is the window's odd side.
 */
export function followPoints(from: Pyramid, to: Pyramid, points: readonly (readonly [number, number])[], size: number): Followed[] {
  const levels = Math.min(from.length, to.length),
    window = new FollowedWindow(size);
  return points.map(([px, py]) => {
    let sx = 0,
      sy = 0,
      found = true;
    for (let level = levels - 1; level >= 0; level--) {
      const k = 1 / (1 << level);
      found = window.at(from[level]!, px * k, py * k);
      [sx, sy] = window.follow(to[level]!, sx * 2, sy * 2, level ? NEARLY : ENOUGH);
    }
    const x = px + sx,
      y = py + sy,
      { width, height } = to[0]!;
    return { x, y, found: found && x > 0 && y > 0 && x < width && y < height };
  });
}

/** What a picture says of a window at a shift: its differences times the window's slopes, and the mean of their squares. */
export interface Pull {
  x: number;
  y: number;
  left: number;
  /** The deviation of the differences in that of the window itself, which grain raises: 0 is the same, about 1 has nothing to do with it. */
  unlike: number;
}
/** How a step on a window goes on the picture that it is taken from: [x by x, y by x, x by y, y by y]. */
export type View = readonly [number, number, number, number];

/** A square window of one picture, with all that following it into another needs: made once and used for one place after the other. */
export class FollowedWindow {
  private readonly half: number;
  private readonly wide: number;
  private readonly patch: Float32Array;
  private readonly gx: Float32Array;
  private readonly gy: Float32Array;
  private x = 0;
  private y = 0;
  private slopes = { xx: 0, xy: 0, yy: 0 };
  private determinant = 0;

  /** @param size its odd side, pixels. */
  constructor(private readonly size: number) {
    this.half = (size - 1) / 2;
    this.wide = size + 2;
    this.patch = new Float32Array(this.wide * this.wide);
    this.gx = new Float32Array(size * size);
    this.gy = new Float32Array(size * size);
  }

  /**
   * Takes the window about a place; true where it has structure in both directions: the smaller eigenvalue says so.
   * @param view how it is turned, scaled and slanted before it is looked for; as it is where nothing is said.
   */
  at(plane: Plane, x: number, y: number, view?: View): boolean {
    const { size, half } = this;
    this.x = x;
    this.y = y;
    if (view) slanted(plane, x, y, this.wide, view, this.patch);
    else window(plane, x - half - 1, y - half - 1, this.wide, this.patch);
    this.slopes = gradients(this.patch, size, this.gx, this.gy);
    const { xx, xy, yy } = this.slopes;
    this.determinant = xx * yy - xy * xy;
    return this.strength() > 1e-4 * size;
  }
  /** Takes another place for that from which shifts count. */
  stand(x: number, y: number): void {
    this.x = x;
    this.y = y;
  }
  /** The place that it was taken from. */
  get place(): [number, number] {
    return [this.x, this.y];
  }
  /** Its structure: sums of the products of its slopes, [x x, x y, y y]. */
  get structure(): readonly [number, number, number] {
    const { xx, xy, yy } = this.slopes;
    return [xx, xy, yy];
  }
  /** The smaller eigenvalue of its structure: how well its weaker direction is held. */
  strength(): number {
    const { xx, xy, yy } = this.slopes;
    return (xx + yy - Math.sqrt((xx - yy) * (xx - yy) + 4 * xy * xy)) / 2;
  }
  /** Where it went in another picture, from a first guess on, until a step is smaller than `enough` pixels. */
  follow(to: Plane, sx: number, sy: number, enough: number, steps = STEPS): [number, number] {
    const { half, determinant } = this,
      { xx, xy, yy } = this.slopes;
    if (!(determinant > 0)) return [sx, sy];
    for (let step = 0; step < steps; step++) {
      const [ex, ey] = mismatch(to, this.x + sx - half, this.y + sy - half, this.size, this.patch, this.wide, this.gx, this.gy),
        dx = (yy * ex - xy * ey) / determinant,
        dy = (xx * ey - xy * ex) / determinant;
      sx += dx;
      sy += dy;
      if (dx * dx + dy * dy < enough * enough) break;
    }
    return [sx, sy];
  }
  /**
   * What the picture says at a shift, whatever the light: brightness and contrast of the window are fitted to what stands there.
   * @param noise variance of the grain.
   */
  pull(to: Plane, sx: number, sy: number, noise: number): Pull {
    const { size, half, wide, patch, gx, gy } = this,
      n = size * size;
    if (seen.length < n) seen = new Float32Array(n);
    window(to, this.x + sx - half, this.y + sy - half, size, seen);
    let sum = 0,
      cross = 0,
      mean = 0,
      square = 0;
    for (let j = 0, p = 0; j < size; j++)
      for (let i = 0, q = (j + 1) * wide + 1; i < size; i++, p++, q++) {
        const v = patch[q]!;
        mean += v;
        square += v * v;
        sum += seen[p]!;
        cross += seen[p]! * v;
      }
    mean /= n;
    const variance = Math.max(1e-9, square / n - mean * mean),
      other = sum / n,
      by = 1 / Math.min(DIMMEST[1], Math.max(DIMMEST[0], (cross / n - other * mean) / variance));
    let x = 0,
      y = 0,
      squares = 0;
    for (let j = 0, p = 0; j < size; j++)
      for (let i = 0, q = (j + 1) * wide + 1; i < size; i++, p++, q++) {
        const e = patch[q]! - mean - (seen[p]! - other) * by;
        x += e * gx[p]!;
        y += e * gy[p]!;
        squares += e * e;
      }
    return { x, y, left: squares / n, unlike: Math.sqrt(squares / n / (variance + noise)) };
  }
  /**
   * As `follow`, whatever the light.
   * @param held a share of its structure that holds it to the guess where the picture says nothing, as along an edge (Levenberg 1944).
   * @returns the shift, and how unlike the two are there.
   */
  followLit(to: Plane, sx: number, sy: number, enough: number, steps: number, held: number, noise: number): [number, number, number] {
    const more = held * (this.slopes.xx + this.slopes.yy),
      { xy } = this.slopes,
      xx = this.slopes.xx + more,
      yy = this.slopes.yy + more,
      determinant = xx * yy - xy * xy;
    for (let step = 0; ; step++) {
      const { x, y, unlike } = this.pull(to, sx, sy, noise);
      if (step >= steps || !(determinant > 0)) return [sx, sy, unlike];
      const dx = (yy * x - xy * y) / determinant,
        dy = (xx * y - xy * x) / determinant;
      sx += dx;
      sy += dy;
      if (dx * dx + dy * dy < enough * enough) return [sx, sy, unlike];
    }
  }
  /** Mean grey difference to what stands at a shift in another picture. */
  difference(to: Plane, sx: number, sy: number): number {
    const { size, half, wide, patch } = this;
    if (seen.length < size * size) seen = new Float32Array(size * size);
    window(to, this.x + sx - half, this.y + sy - half, size, seen);
    let sum = 0;
    for (let j = 0, p = 0; j < size; j++)
      for (let i = 0, q = (j + 1) * wide + 1; i < size; i++, p++, q++) sum += Math.abs(patch[q]! - seen[p]!);
    return sum / (size * size);
  }
}

/** Slopes of a patch (which has a border of one), and the sums of their products. */
function gradients(patch: Float32Array, size: number, gx: Float32Array, gy: Float32Array): { xx: number; xy: number; yy: number } {
  const wide = size + 2;
  let xx = 0,
    xy = 0,
    yy = 0;
  for (let j = 0, p = 0; j < size; j++)
    for (let i = 0, q = (j + 1) * wide + 1; i < size; i++, p++, q++) {
      const u = (patch[q + 1]! - patch[q - 1]!) / 2,
        v = (patch[q + wide]! - patch[q - wide]!) / 2;
      gx[p] = u;
      gy[p] = v;
      xx += u * u;
      xy += u * v;
      yy += v * v;
    }
  return { xx, xy, yy };
}

/** A square of grey values from (left, top) on, read between pixels; edges hold. */
function window(plane: Plane, left: number, top: number, size: number, out: Float32Array): void {
  const { width, height, data } = plane,
    xi = Math.floor(left - 0.5),
    yi = Math.floor(top - 0.5),
    u = left - 0.5 - xi,
    v = top - 0.5 - yi,
    inside = xi >= 0 && yi >= 0 && xi + size < width && yi + size < height;
  if (inside) {
    for (let j = 0, p = 0; j < size; j++) {
      let q = (yi + j) * width + xi;
      for (let i = 0; i < size; i++, p++, q++) {
        const a = data[q]!,
          c = data[q + width]!,
          above = a + (data[q + 1]! - a) * u;
        out[p] = above + (c + (data[q + width + 1]! - c) * u - above) * v;
      }
    }
    return;
  }
  for (let j = 0, p = 0; j < size; j++) {
    const y0 = clamp(yi + j, height),
      y1 = clamp(yi + j + 1, height);
    for (let i = 0; i < size; i++, p++) {
      const x0 = clamp(xi + i, width),
        x1 = clamp(xi + i + 1, width),
        a = data[y0 * width + x0]!,
        c = data[y1 * width + x0]!,
        above = a + (data[y0 * width + x1]! - a) * u;
      out[p] = above + (c + (data[y1 * width + x1]! - c) * u - above) * v;
    }
  }
}
/** A square of grey values about a place, its columns and rows along two given steps; edges hold. */
function slanted({ width, height, data }: Plane, x: number, y: number, size: number, [xx, yx, xy, yy]: View, out: Float32Array): void {
  const h = (size - 1) / 2;
  for (let j = 0, p = 0; j < size; j++) {
    let px = x - 0.5 - h * xx + (j - h) * xy,
      py = y - 0.5 - h * yx + (j - h) * yy;
    for (let i = 0; i < size; i++, p++, px += xx, py += yx) {
      const xi = clamp(Math.floor(px), width - 1),
        yi = clamp(Math.floor(py), height - 1),
        u = Math.min(1, Math.max(0, px - xi)),
        v = Math.min(1, Math.max(0, py - yi)),
        q = yi * width + xi,
        above = data[q]! + (data[q + 1]! - data[q]!) * u,
        below = data[q + width]! + (data[q + width + 1]! - data[q + width]!) * u;
      out[p] = above + (below - above) * v;
    }
  }
}
const clamp = (i: number, size: number): number => (i < 0 ? 0 : i >= size ? size - 1 : i);

/**
 * Sums of grey differences times the gradients, for the window of `plane` at (left, top) against the patch (which has a border of one). Inside of the
 * picture each column is read once and serves both of its neighbours: a third of the time of reading the window first.
 */
function mismatch(
  plane: Plane,
  left: number,
  top: number,
  size: number,
  patch: Float32Array,
  wide: number,
  gx: Float32Array,
  gy: Float32Array,
): [number, number] {
  const { width, height, data } = plane,
    xi = Math.floor(left - 0.5),
    yi = Math.floor(top - 0.5),
    u = left - 0.5 - xi,
    v = top - 0.5 - yi;
  let ex = 0,
    ey = 0;
  if (xi >= 0 && yi >= 0 && xi + size < width && yi + size < height) {
    for (let j = 0, p = 0; j < size; j++) {
      let above = (yi + j) * width + xi,
        below = above + width,
        q = (j + 1) * wide + 1,
        here = data[above]! + (data[below]! - data[above]!) * v;
      for (let i = 0; i < size; i++, p++, q++) {
        const upper = data[++above]!,
          next = upper + (data[++below]! - upper) * v,
          d = patch[q]! - (here + (next - here) * u);
        ex += d * gx[p]!;
        ey += d * gy[p]!;
        here = next;
      }
    }
    return [ex, ey];
  }
  if (seen.length < size * size) seen = new Float32Array(size * size);
  window(plane, left, top, size, seen);
  for (let j = 0, p = 0; j < size; j++)
    for (let i = 0, q = (j + 1) * wide + 1; i < size; i++, p++, q++) {
      const d = patch[q]! - seen[p]!;
      ex += d * gx[p]!;
      ey += d * gy[p]!;
    }
  return [ex, ey];
}
let seen = new Float32Array(0);
