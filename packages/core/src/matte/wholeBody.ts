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
  // Cells that are clear are filled; the others are solved, with a cell of what is clear around them.
  for (let y = 0; y < height; y++)
    for (let x = 0, q = (y >> 2) * rough.width; x < width; x += CELL, q++)
      if (rough.mask[q]! > 0.5) out.data.fill(1, y * width + x, y * width + Math.min(width, x + CELL));
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
    // Square roots of both, with a mean of five against the grain.
    let count = 0;
    for (let j = 0; j < 5; j++) {
      const q = j === 0 ? p : j === 1 ? (x > 0 ? p - 1 : -1) : j === 2 ? (x + 1 < width ? p + 1 : -1) : j === 3 ? p - width : p + width;
      if (q < 0 || q >= index.length) continue;
      count++;
      for (let c = 0; c < 3; c++) {
        a[3 * k + c]! += Math.sqrt(Math.max(0, plate.data[4 * q + c]!));
        b[3 * k + c]! += rough.gain[c]! * Math.sqrt(Math.max(0, clean.data[4 * q + c]!));
      }
    }
    for (let c = 0; c < 3; c++) {
      a[3 * k + c]! /= count;
      b[3 * k + c]! /= count;
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
  const relax = (k: number) => {
    const p = at[k]!,
      x = p % width;
    let sum = s.weight[k]! * s.says[k]!,
      all = s.weight[k]!;
    if (x > 0) {
      const q = index[p - 1]!,
        w = q >= 0 ? s.right[q]! : LINK;
      sum += w * u[p - 1]!;
      all += w;
    }
    if (x + 1 < width) {
      sum += s.right[k]! * u[p + 1]!;
      all += s.right[k]!;
    }
    if (p >= width) {
      const q = index[p - width]!,
        w = q >= 0 ? s.below[q]! : LINK;
      sum += w * u[p - width]!;
      all += w;
    }
    if (p + width < index.length) {
      sum += s.below[k]! * u[p + width]!;
      all += s.below[k]!;
    }
    const v = u[p]! + OVER * (sum / all - u[p]!);
    u[p] = v > 1e-6 || v < -1e-6 ? v : 0;
  };
  for (let pass = 0; pass < EDGE_PASSES; pass++) {
    for (let k = 0; k < m; k++) relax(k);
    for (let k = m - 1; k >= 0; k--) relax(k);
  }
  for (let k = 0; k < m; k++) {
    const t = Math.min(1, Math.max(0, (u[at[k]!]! - 0.25) / 0.5));
    u[at[k]!] = t * t * (3 - 2 * t);
  }
}
/** The pixels of open cells, row by row. */
function pixelsOf(open: Uint8Array, cells: number, width: number, height: number): Int32Array {
  const out: number[] = [];
  for (let y = 0; y < height; y++)
    for (let q = 0, row = (y >> 2) * cells; CELL * q < width; q++)
      if (open[row + q]) for (let x = CELL * q; x < Math.min(width, CELL * q + CELL); x++) out.push(y * width + x);
  return Int32Array.from(out);
}
