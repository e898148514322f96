/*
 * Grain of one frame: an average of many frames is smoother than any picture that a camera makes, and a patch of it is seen among grain. So what one
 * frame has beyond the average is laid over it; where the character stands in that frame, the nearest frame in which the background is seen lends its own.
 */

/** A cell's light may differ so much (of 255) between a frame and the plate for the frame to show the background there. */
const SAME = 4;
/** Grain beyond this, of 65535, is something else: 14 of 255. */
const MOST = 14 * 257;

/**
 * Which frame lends its grain to each cell.
 * @param luma brightness of the frames' cells, 0..255, and that of the plate.
 * @param order the frames, those that are asked first first.
 * @returns indices into `luma`; -1 where no frame shows the background.
 */
export function grainLenders(luma: readonly Float32Array[], plate: Float32Array, order: readonly number[]): Int16Array {
  const out = new Int16Array(plate.length).fill(-1);
  for (const f of order) {
    const of = luma[f]!;
    let open = 0;
    for (let i = 0; i < out.length; i++) {
      if (out[i]! >= 0) continue;
      if (of[i]! >= 0 && Math.abs(of[i]! - plate[i]!) < SAME) out[i] = f;
      else open++;
    }
    if (!open) break;
  }
  return out;
}

/**
 * Grain of a row: what the lender's codes have beyond the plate's, without what changes slowly along the row (light that differs between the frames).
 * @param codes red, green and blue of the lender in this row; `plate` those of the plate.
 * @param at pixels of the row that this lender lends to, as pairs of from and to.
 */
export function grainOfRow(codes: Uint16Array, plate: Float32Array, at: readonly (readonly [number, number])[], out: Int16Array): void {
  for (const [from, to] of at)
    for (let c = 0; c < 3; c++) {
      const low = Math.max(0, from - AROUND),
        high = Math.min(plate.length / 3, to + AROUND);
      // A running mean over the pixels around, of what may be grain.
      let sum = 0,
        n = 0;
      const beyond = (x: number) => {
        const d = codes[3 * x + c]! - plate[3 * x + c]!;
        return d > MOST || d < -MOST ? NaN : d;
      };
      const take = (x: number, sign: number) => {
        if (x < low || x >= high) return;
        const d = beyond(x);
        if (d === d) {
          sum += sign * d;
          n += sign;
        }
      };
      for (let x = from - AROUND; x < from + AROUND; x++) take(x, 1);
      for (let x = from; x < to; x++) {
        take(x + AROUND, 1);
        const d = beyond(x);
        out[3 * x + c] = d === d && n > 0 ? Math.round(d - sum / n) : 0;
        take(x - AROUND, -1);
      }
    }
}
const AROUND = 12;
