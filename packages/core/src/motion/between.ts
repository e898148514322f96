import { exp } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import { mixByMask } from '../image/blend';
import type { Picture, Plane } from '../image/picture';
import { alphaOf, asAlpha } from '../image/planeMath';
import { warp } from '../image/warp';
import { givePyramid, pyramidOf, FollowedWindow } from './flow';

/**
 * Motion of every part of a picture to the next one, and pictures between the two. Coarse to fine over a grid of overlapping windows, each followed by
 * Lucas-Kanade from the best of its own and its neighbours' guesses, then averaged by how well they fit (after Kroeger, Timofte, Dai and Van Gool 2016,
 * "Fast optical flow using dense inverse search"). Measured from pictures of half the size: fields of a draft and of the whole size are the same.
 */
export interface Field {
  /** Points of the grid across and down, and pixels of the measured picture from one to the next; the first stands in the middle of the first cell. */
  columns: number;
  rows: number;
  step: number;
  /** Where each went, pixels of the measured picture: x, y, one pair a point. */
  shift: Float32Array;
}
const SIZE = 9,
  STEP = 4,
  LEVELS = 5,
  STEPS = 8,
  ENOUGH = 0.05;

/** A field at twice the size of the picture that it was measured on. */
function finer(field: Field | null, width: number, height: number): Field {
  const columns = Math.ceil(width / STEP),
    rows = Math.ceil(height / STEP),
    shift = new Float32Array(columns * rows * 2);
  if (field)
    for (let r = 0, i = 0; r < rows; r++)
      for (let c = 0; c < columns; c++, i += 2) {
        const [x, y] = shiftAt(field, ((c + 0.5) * STEP) / 2, ((r + 0.5) * STEP) / 2);
        shift[i] = 2 * x;
        shift[i + 1] = 2 * y;
      }
  return { columns, rows, step: STEP, shift };
}
const answer: [number, number] = [0, 0];
/** Where a place of the measured picture went; read between the points of the grid in straight lines. The answer is overwritten by the next. */
export function shiftAt({ columns, rows, step, shift }: Field, x: number, y: number): [number, number] {
  const fx = Math.min(columns - 1, Math.max(0, x / step - 0.5)),
    fy = Math.min(rows - 1, Math.max(0, y / step - 0.5)),
    c = Math.min(columns - 2, Math.floor(fx)),
    r = Math.min(rows - 2, Math.floor(fy));
  if (columns < 2 || rows < 2) {
    answer[0] = shift[0]!;
    answer[1] = shift[1]!;
    return answer;
  }
  const u = fx - c,
    v = fy - r,
    a = (r * columns + c) * 2,
    b = a + columns * 2;
  for (let k = 0; k < 2; k++) {
    const top = shift[a + k]! + (shift[a + 2 + k]! - shift[a + k]!) * u,
      low = shift[b + k]! + (shift[b + 2 + k]! - shift[b + k]!) * u;
    answer[k] = top + (low - top) * v;
  }
  return answer;
}

/** The motion from one plane to another of the same size. */
export function motionField(from: Plane, to: Plane, pictures: Pictures): Field {
  const a = pyramidOf(from, LEVELS - 1, pictures),
    b = pyramidOf(to, LEVELS - 1, pictures),
    window = new FollowedWindow(SIZE);
  let field: Field | null = null;
  for (let level = a.length - 1; level >= 0; level--)
    field = settled(window, a[level]!, b[level]!, finer(field, a[level]!.width, a[level]!.height));
  givePyramid(a, pictures);
  givePyramid(b, pictures);
  return field!;
}
/** One level: each window followed from the guess that fits best, then all smoothed by how much each says and how well it fits. */
function settled(window: FollowedWindow, from: Plane, to: Plane, guess: Field): Field {
  const { columns, rows, shift } = guess,
    found = Float32Array.from(shift),
    weight = new Float32Array(columns * rows);
  const one = (c: number, r: number, dc: number, dr: number) => {
    const i = r * columns + c,
      x = (c + 0.5) * STEP,
      y = (r + 0.5) * STEP,
      structured = window.at(from, x, y);
    let sx = found[2 * i]!,
      sy = found[2 * i + 1]!,
      worst = window.difference(to, sx, sy);
    for (const [nc, nr] of [
      [c + dc, r],
      [c, r + dr],
    ] as const) {
      if (nc < 0 || nr < 0 || nc >= columns || nr >= rows) continue;
      const n = (nr * columns + nc) * 2,
        tx = found[n]!,
        ty = found[n + 1]!,
        d = window.difference(to, tx, ty);
      if (d < worst) {
        worst = d;
        sx = tx;
        sy = ty;
      }
    }
    if (structured) {
      const [tx, ty] = window.follow(to, sx, sy, ENOUGH, STEPS),
        // A window that ran away says nothing.
        near = (tx - sx) * (tx - sx) + (ty - sy) * (ty - sy) < SIZE * SIZE,
        d = near ? window.difference(to, tx, ty) : Infinity;
      if (d <= worst) {
        worst = d;
        sx = tx;
        sy = ty;
      }
    }
    found[2 * i] = sx;
    found[2 * i + 1] = sy;
    weight[i] = (1e-4 + Math.sqrt(Math.max(0, window.strength()))) / (0.004 + worst) + 1e-3;
  };
  // Good guesses run on to the right and down, then back.
  for (let r = 0; r < rows; r++) for (let c = 0; c < columns; c++) one(c, r, -1, -1);
  for (let r = rows - 1; r >= 0; r--) for (let c = columns - 1; c >= 0; c--) one(c, r, 1, 1);
  return { ...guess, shift: smoothed(found, weight, columns, rows) };
}
/** Means over three by three by weight, where neighbours that went elsewhere count less: edges of what moves stay sharp. */
function smoothed(found: Float32Array, weight: Float32Array, columns: number, rows: number): Float32Array {
  const out = new Float32Array(found.length);
  for (let r = 0, i = 0; r < rows; r++)
    for (let c = 0; c < columns; c++, i++) {
      let x = 0,
        y = 0,
        sum = 0;
      for (let nr = Math.max(0, r - 1); nr <= Math.min(rows - 1, r + 1); nr++)
        for (let nc = Math.max(0, c - 1); nc <= Math.min(columns - 1, c + 1); nc++) {
          const n = nr * columns + nc,
            dx = found[2 * n]! - found[2 * i]!,
            dy = found[2 * n + 1]! - found[2 * i + 1]!,
            k = (weight[n]! * (n === i ? 2 : 1)) / (1 + 0.5 * (dx * dx + dy * dy) * (weight[i]! / (weight[i]! + weight[n]!)));
          x += k * found[2 * n]!;
          y += k * found[2 * n + 1]!;
          sum += k;
        }
      out[2 * i] = x / sum;
      out[2 * i + 1] = y / sum;
    }
  return out;
}

/** The motion between two pictures, both ways. */
export interface Motion {
  ahead: Field;
  back: Field;
  /** Size of the pictures that it was measured on. */
  width: number;
  height: number;
}
/** Bytes of a motion. */
export const bytesOfMotion = ({ ahead, back }: Motion): number => ahead.shift.byteLength + back.shift.byteLength;
/** What is followed of a picture: light and cover as an eye weighs them, on square roots, where shadows count as much as lights. */
export function followed(picture: Picture, pictures: Pictures): Plane {
  const out = pictures.takePlane(picture.width, picture.height),
    d = picture.data;
  for (let p = 0, i = 0; p < out.data.length; p++, i += 4) {
    const light = 0.2126 * d[i]! + 0.7152 * d[i + 1]! + 0.0722 * d[i + 2]!;
    out.data[p] = Math.sqrt(Math.max(0, light)) + 0.35 * d[i + 3]!;
  }
  return out;
}
/** @param a one picture, in linear light, and @param b the next one, of the same size. */
export function motionBetween(a: Picture, b: Picture, pictures: Pictures): Motion {
  const from = followed(a, pictures),
    to = followed(b, pictures),
    ahead = motionField(from, to, pictures),
    back = motionField(to, from, pictures);
  pictures.give(from);
  pictures.give(to);
  return { ahead, back, width: a.width, height: a.height };
}

/** How far off, in pixels of the measured picture, the way there and back may end before a part counts as covered. */
const APART = 1.2;

/** Where each pixel of a picture at `part` of the way comes from, in both pictures, and how much the second one counts there. */
export function waysAt(
  { ahead, back, width: measured }: Motion,
  part: number,
  width: number,
  height: number,
  pictures: Pictures,
): { ax: Plane; ay: Plane; bx: Plane; by: Plane; share: Plane } {
  const k = measured / width,
    [ax, ay, bx, by, share] = [0, 1, 2, 3, 4].map(() => pictures.takePlane(width, height)) as [Plane, Plane, Plane, Plane, Plane];
  // On a grid of cells, which is what is known; pixels between are read in straight lines.
  const columns = ahead.columns * 2,
    rows = ahead.rows * 2,
    cell = ahead.step / 2,
    grid = new Float32Array(columns * rows * 5);
  for (let r = 0, i = 0; r < rows; r++)
    for (let c = 0; c < columns; c++, i += 5) {
      const x = (c + 0.5) * cell,
        y = (r + 0.5) * cell;
      // The motion through a place is not that at it: two steps towards where it began.
      let [ux, uy] = shiftAt(ahead, x, y),
        [wx, wy] = shiftAt(back, x, y);
      for (let n = 0; n < 3; n++) {
        [ux, uy] = shiftAt(ahead, x - part * ux, y - part * uy);
        [wx, wy] = shiftAt(back, x - (1 - part) * wx, y - (1 - part) * wy);
      }
      const there = apart(back, x + (1 - part) * ux, y + (1 - part) * uy, ux, uy),
        here = apart(ahead, x + part * wx, y + part * wy, wx, wy),
        a = (1 - part) * there + 1e-4,
        b = part * here + 1e-4;
      grid[i] = -part * ux;
      grid[i + 1] = -part * uy;
      grid[i + 2] = -(1 - part) * wx;
      grid[i + 3] = -(1 - part) * wy;
      grid[i + 4] = b / (a + b);
    }
  const planes = [ax, ay, bx, by, share],
    scale = [1 / k, 1 / k, 1 / k, 1 / k, 1];
  for (let y = 0, p = 0; y < height; y++) {
    const fy = Math.min(rows - 1.001, Math.max(0, ((y + 0.5) * k) / cell - 0.5)),
      r = Math.floor(fy),
      v = fy - r;
    for (let x = 0; x < width; x++, p++) {
      const fx = Math.min(columns - 1.001, Math.max(0, ((x + 0.5) * k) / cell - 0.5)),
        c = Math.floor(fx),
        u = fx - c,
        at = (r * columns + c) * 5,
        below = at + columns * 5;
      for (let n = 0; n < 5; n++) {
        const top = grid[at + n]! + (grid[at + 5 + n]! - grid[at + n]!) * u,
          low = grid[below + n]! + (grid[below + 5 + n]! - grid[below + n]!) * u;
        planes[n]!.data[p] = (top + (low - top) * v) * scale[n]!;
      }
    }
  }
  return { ax, ay, bx, by, share };
}
/** How well the way back from where something went leads to where it came from, 1 to 0. */
function apart(field: Field, x: number, y: number, ux: number, uy: number): number {
  const [bx, by] = shiftAt(field, x, y),
    dx = ux + bx,
    dy = uy + by;
  return exp(-(dx * dx + dy * dy) / (2 * APART * APART));
}

/**
 * A picture between two, by their motion: each taken along its part of the way, and mixed by how far it is and by what of it is seen in both. Mattes go
 * the same way as the alpha of a picture.
 */
export function pictureBetween(a: Picture, b: Picture, motion: Motion, part: number, pictures: Pictures): Picture {
  const ways = waysAt(motion, part, a.width, a.height, pictures),
    first = warp(a, ways.ax, ways.ay, 'hold', pictures, 'cubic'),
    second = warp(b, ways.bx, ways.by, 'hold', pictures, 'cubic');
  mixByMask(first, second, ways.share, pictures, first);
  // A cubic overshoots a little at hard edges, and nothing covers less than nothing.
  for (let i = 3, d = first.data; i < d.length; i += 4) if (d[i]! < 0 || d[i]! > 1) d[i] = d[i]! < 0 ? 0 : 1;
  for (const plane of Object.values(ways)) pictures.give(plane);
  pictures.give(second);
  return first;
}

/** The same for a matte, by the motion of the picture that it belongs to. */
export function planeBetween(a: Plane, b: Plane, motion: Motion, part: number, pictures: Pictures): Plane {
  const first = asAlpha(a, pictures),
    second = asAlpha(b, pictures),
    drawn = pictureBetween(first, second, motion, part, pictures),
    out = alphaOf(drawn, pictures);
  for (const picture of [first, second, drawn]) pictures.give(picture);
  return out;
}
