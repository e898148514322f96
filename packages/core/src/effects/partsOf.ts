import { clamp } from '../image/exactMath';
import type { Plane } from '../image/picture';
import { CELL } from '../particles';

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
 * @param scale pixels of the matte for each whole-shot pixel; a cell is 4 of those.
 */
export function partsOf(matte: Plane, scale: number): Parts {
  const width = Math.ceil(matte.width / scale / CELL),
    height = Math.ceil(matte.height / scale / CELL),
    half = new Float32Array(width * height),
    middle = new Float32Array(width * height),
    across = Int32Array.from({ length: width }, (_, x) => Math.min(matte.width - 1, Math.floor((x + 0.5) * CELL * scale)));
  let [first, last] = [height, -1];
  for (let y = 0; y < height; y++) {
    const row = Math.min(matte.height - 1, Math.floor((y + 0.5) * CELL * scale)) * matte.width;
    for (let x = 0; x < width; x++) {
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
  const [m, h] = [middle.slice(), half.slice()];
  for (let p = first * width; p < (last + 1) * width; p++) {
    if (!(h[p]! > 0)) continue;
    let [sm, sh, n] = [m[p]!, h[p]!, 1];
    for (let q = p - width; q <= p + width; q += 2 * width)
      if (q >= 0 && q < width * height && h[q]! > 0) {
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
