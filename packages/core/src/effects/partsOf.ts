import { clamp } from '../image/exactMath';
import type { Plane } from '../image/picture';
import { CELL } from '../particles';
import type { Box } from '../image/extent';

/** Coverage from which a cell belongs to the body, and how often what was found is made even with the rows above and below. */
const IN = 0.5,
  PASSES = 6;

/** The parts of a body by rows of cells: for each cell of the body the middle and half the width of the run of cells that it lies in, in cells; a half of 0 beside the body. */
export interface Parts {
  width: number;
  height: number;
  middle: Float32Array;
  half: Float32Array;
}

/**
 * What a ring would go round at each height: arm, leg or trunk, as runs of a body's rows. Neighbouring rows of one part agree nearly, so that a ring of many rows has one shape.
 * @param within a box that holds all of the body, pixels of the matte.
 * @param scale pixels of the matte for each whole-shot pixel; a cell is 4 of those.
 */
export function partsOf(matte: Plane, scale: number, within: Box = [0, 0, matte.width, matte.height]): Parts {
  const width = Math.ceil(matte.width / scale / CELL),
    height = Math.ceil(matte.height / scale / CELL),
    half = new Float32Array(width * height),
    middle = new Float32Array(width * height),
    across = Int32Array.from({ length: width }, (_, x) => Math.min(matte.width - 1, Math.floor((x + 0.5) * CELL * scale)));
  let [first, last] = [height, -1];
  const cells = (pixels: number) => pixels / scale / CELL,
    [left, right] = [Math.max(0, Math.floor(cells(within[0])) - 1), Math.min(width, Math.ceil(cells(within[2])) + 1)],
    [top, bottom] = [Math.max(0, Math.floor(cells(within[1])) - 1), Math.min(height, Math.ceil(cells(within[3])) + 1)];
  for (let y = top; y < bottom; y++) {
    const row = Math.min(matte.height - 1, Math.floor((y + 0.5) * CELL * scale)) * matte.width;
    for (let x = left; x < right; x++) {
      if (!(matte.data[row + across[x]!]! >= IN)) continue;
      let end = x + 1;
      while (end < width && matte.data[row + across[end]!]! >= IN) end++;
      middle.fill((x + end) / 2, y * width + x, y * width + end);
      half.fill((end - x) / 2, y * width + x, y * width + end);
      x = end;
      first = Math.min(first, y);
      last = y;
    }
  }
  const own = { width, height, middle, half };
  for (let pass = 0; pass < PASSES; pass++) evenDown(own, first, last);
  return own;
}
/** Each cell takes on the mean of itself and of those cells above and below that are in the body too: in place. */
function evenDown({ width, height, middle, half }: Parts, first: number, last: number): void {
  const from = Math.max(0, first - 1) * width,
    to = Math.min(height, last + 2) * width,
    m = middle.slice(from, to),
    h = half.slice(from, to);
  for (let p = first * width, k = p - from; p < (last + 1) * width; p++, k++) {
    if (!(h[k]! > 0)) continue;
    let sm = m[k]!,
      sh = h[k]!,
      n = 1;
    // Beyond the rows that were taken there is none of the body.
    for (const q of [k - width, k + width])
      if (h[q]! > 0) {
        sm += m[q]!;
        sh += h[q]!;
        n++;
      }
    middle[p] = sm / n;
    half[p] = sh / n;
  }
}
/** Middle (from the left) and half width of the part of a body at a place, whole-shot pixels; null beside the body. */
export function partAt({ width, height, middle, half }: Parts, x: number, y: number): readonly [number, number] | null {
  const at = clamp(Math.floor(y / CELL), 0, height - 1) * width + clamp(Math.floor(x / CELL), 0, width - 1);
  return half[at]! > 0 ? [middle[at]! * CELL, half[at]! * CELL] : null;
}
