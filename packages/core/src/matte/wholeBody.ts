import type { Pictures } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import {
  BEGINS,
  bodyCells,
  CELL,
  cellsOf,
  CERTAIN,
  difference,
  EMPTY,
  LINK,
  link,
  say,
  type LightChanges,
  type Rough,
  type Triple,
} from './bodyCells';
import type { MaskSystem } from './solveMask';

export type { LightChanges } from './bodyCells';

/** Contrast of an edge at which it parts two pixels by half, in deviations of their grain: after a mean of five that is so many times a cell's. */
const PARTS_PIXELS = 1.5,
  PIXEL = 1.4;
/** The shares of the body's own contrast between which a pixel is half body. */
const SHARES = [0.3, 0.7] as const;
/** How much a pixel that differs little where the body differs much says that it is none; what its cell says. */
const CLEAR = 0.25,
  CELL_SAYS = 0.1;
/** Passes over the edge, there and back, and their over-relaxation. */
const EDGE_PASSES = 6,
  OVER = 1.5;

/**
 * A body against its clean plate, whole and with its own edge, 0..1: where it is, by cells (see `bodyCells`), and along their edge the same once more by
 * pixels. The caller gives it back.
 */
export function wholeBody(plate: Picture, clean: Picture, light: LightChanges, pictures: Pictures): Plane {
  const { width, height } = plate,
    rough = bodyCells(cellsOf(plate, pictures), cellsOf(clean, pictures), light),
    out = pictures.takePlane(width, height);
  out.data.fill(0);
  // Cells that are clear are filled, a row of pixels and the same for those below it; the others are solved, with a cell of what is clear around them.
  for (let y = 0; y < height; y++) {
    const row = y * width;
    if (y & 3) {
      out.data.copyWithin(row, row - width, row);
      continue;
    }
    for (let x = 0, q = (y >> 2) * rough.width; x < width; x += CELL, q++)
      if (rough.mask[q]! > 0.5) for (let k = x; k < Math.min(width, x + CELL); k++) out.data[row + k] = 1;
  }
  solveEdge(plate, clean, rough, light, out);
  return out;
}
/** Solves the pixels of open cells, with what lies around them as it is; in place. */
function solveEdge(plate: Picture, clean: Picture, rough: Rough, light: LightChanges, out: Plane): void {
  const { width, height } = plate,
    u = out.data,
    at = pixelsOf(rough.open, rough.width, width, height),
    m = at.length;
  if (!m) return;
  // Where each pixel is in the list; those beside it are what they are.
  const index = new Int32Array(width * height).fill(-1);
  for (let k = 0; k < m; k++) index[at[k]!] = k;
  const a = new Float32Array(3 * m),
    b = new Float32Array(3 * m),
    grain = rough.grain.map((g) => g * PIXEL) as Triple,
    s: MaskSystem = {
      width: m,
      height: 1,
      says: new Float32Array(m),
      weight: new Float32Array(m),
      right: new Float32Array(m),
      below: new Float32Array(m),
    };
  for (let k = 0; k < m; k++) {
    const p = at[k]!,
      x = p % width;
    // Square roots of both, with a mean of five against the grain; beside the picture it is a mean of fewer.
    const left = x > 0 ? p - 1 : -1,
      right = x + 1 < width ? p + 1 : -1,
      above = p - width,
      under = p + width < index.length ? p + width : -1,
      count = 1 + (left >= 0 ? 1 : 0) + (right >= 0 ? 1 : 0) + (above >= 0 ? 1 : 0) + (under >= 0 ? 1 : 0);
    for (let c = 0; c < 3; c++) {
      const gain = rough.gain[c]!;
      a[3 * k + c] = meanRoot(plate.data, c, 1, p, left, right, above, under, count);
      b[3 * k + c] = meanRoot(clean.data, c, gain, p, left, right, above, under, count);
    }
  }
  for (let k = 0; k < m; k++) {
    const p = at[k]!,
      x = p % width,
      y = (p - x) / width,
      i = 3 * k,
      cell = (y >> 2) * rough.width + (x >> 2),
      contrast = rough.contrast[cell]! / PIXEL,
      clear = Math.min(1, Math.max(0, (SHARES[0] * contrast - BEGINS) / (2 * BEGINS))),
      z = difference(a[i]! - b[i]!, a[i + 1]! - b[i + 1]!, a[i + 2]! - b[i + 2]!, b, i, grain, light);
    say(
      s,
      k,
      z,
      rough.kept[cell]!,
      0,
      Math.max(BEGINS, SHARES[0] * contrast),
      Math.max(CERTAIN, SHARES[1] * contrast),
      EMPTY + CLEAR * clear,
    );
    // The cell's own word, weakly: it looked at more.
    s.says[k] = (s.says[k]! * s.weight[k]! + rough.mask[cell]! * CELL_SAYS) / (s.weight[k]! + CELL_SAYS);
    s.weight[k]! += CELL_SAYS;
    const right = x + 1 < width ? index[p + 1]! : -1,
      below = y + 1 < height ? index[p + width]! : -1;
    s.right[k] = right >= 0 ? link(a, b, i, 3 * right, grain, PARTS_PIXELS) : LINK;
    s.below[k] = below >= 0 ? link(a, b, i, 3 * below, grain, PARTS_PIXELS) : LINK;
    u[p] = s.says[k]!;
  }
  relaxEdge(u, at, index, s, width);
  for (let k = 0; k < m; k++) {
    const t = Math.min(1, Math.max(0, (u[at[k]!]! - 0.25) / 0.5));
    u[at[k]!] = t * t * (3 - 2 * t);
  }
}
/** The mean of the roots of a pixel's light and of that of its neighbours (below 0 is none), times a gain, as it is kept in 32 bits. */
function meanRoot(
  data: Float32Array,
  c: number,
  gain: number,
  p: number,
  left: number,
  right: number,
  above: number,
  under: number,
  count: number,
): number {
  const { fround, sqrt } = Math;
  let v = data[4 * p + c]!,
    sum = fround(gain * sqrt(v > 0 ? v : 0));
  if (left >= 0) {
    v = data[4 * left + c]!;
    sum = fround(sum + gain * sqrt(v > 0 ? v : 0));
  }
  if (right >= 0) {
    v = data[4 * right + c]!;
    sum = fround(sum + gain * sqrt(v > 0 ? v : 0));
  }
  if (above >= 0) {
    v = data[4 * above + c]!;
    sum = fround(sum + gain * sqrt(v > 0 ? v : 0));
  }
  if (under >= 0) {
    v = data[4 * under + c]!;
    sum = fround(sum + gain * sqrt(v > 0 ? v : 0));
  }
  return sum / count;
}

/**
 * Passes of over-relaxation over the pixels of a list, there and back, in place; those beside it are held.
 * @param at the list, and @param index where each pixel is in it, below 0 where it is not.
 */
function relaxEdge(u: Float32Array, at: Int32Array, index: Int32Array, s: MaskSystem, width: number): void {
  const m = at.length,
    // Beyond the picture a pixel holds to itself by nothing.
    links = new Float64Array(4 * m),
    beside = new Int32Array(4 * m),
    all = new Float64Array(m),
    said = new Float64Array(m);
  for (let k = 0; k < m; k++) {
    const p = at[k]!,
      x = p % width,
      neighbours = [x > 0 ? p - 1 : -1, x + 1 < width ? p + 1 : -1, p - width, p + width < u.length ? p + width : -1];
    let total = s.weight[k]!;
    for (let n = 0; n < 4; n++) {
      const q = neighbours[n]!;
      beside[4 * k + n] = q >= 0 ? q : p;
      if (q < 0) continue;
      const j = n === 0 || n === 2 ? index[q]! : k;
      links[4 * k + n] = j < 0 ? LINK : n < 2 ? s.right[j]! : s.below[j]!;
      total += links[4 * k + n]!;
    }
    all[k] = total;
    said[k] = s.weight[k]! * s.says[k]!;
  }
  for (let pass = 0; pass < 2 * EDGE_PASSES; pass++)
    for (let n = 0; n < m; n++) {
      const k = pass & 1 ? m - 1 - n : n,
        i = 4 * k,
        p = at[k]!,
        sum =
          said[k]! +
          links[i]! * u[beside[i]!]! +
          links[i + 1]! * u[beside[i + 1]!]! +
          links[i + 2]! * u[beside[i + 2]!]! +
          links[i + 3]! * u[beside[i + 3]!]!,
        v = u[p]! + OVER * (sum / all[k]! - u[p]!);
      u[p] = v > 1e-6 || v < -1e-6 ? v : 0;
    }
}

/** The pixels of open cells, row by row. */
function pixelsOf(open: Uint8Array, cells: number, width: number, height: number): Int32Array {
  let m = 0;
  const each = (put: (from: number, to: number) => void) => {
    for (let y = 0; y < height; y++)
      for (let q = 0, row = (y >> 2) * cells; CELL * q < width; q++)
        if (open[row + q]) put(y * width + CELL * q, y * width + Math.min(width, CELL * q + CELL));
  };
  each((from, to) => (m += to - from));
  const out = new Int32Array(m);
  m = 0;
  each((from, to) => {
    for (let p = from; p < to; p++) out[m++] = p;
  });
  return out;
}
