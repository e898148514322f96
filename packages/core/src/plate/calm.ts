import { seenAt } from '../image/homography';
import type { Homography } from '../image/warp';
import type { Cells } from './footage';

/** Cells of a frame as they would be if the camera stood where the anchor's stood; -1 where the frame does not reach. */
export function steadied(cells: Cells, map: Homography | null): Float32Array {
  const { columns, rows, data } = cells,
    out = new Float32Array(data.length);
  if (!map) {
    for (let i = 0; i < out.length; i++) out[i] = data[i]!;
    return out;
  }
  for (let y = 0, i = 0; y < rows; y++)
    for (let x = 0; x < columns; x++, i += 3) {
      const [px, py] = seenAt(map, [x + 0.5, y + 0.5]).at,
        sx = px - 0.5,
        sy = py - 0.5;
      if (!(sx >= 0 && sy >= 0 && sx <= columns - 1 && sy <= rows - 1)) {
        out[i] = out[i + 1] = out[i + 2] = -1;
        continue;
      }
      const xi = Math.min(columns - 2, Math.floor(sx)),
        yi = Math.min(rows - 2, Math.floor(sy)),
        tx = sx - xi,
        ty = sy - yi,
        p = (yi * columns + xi) * 3;
      for (let c = 0; c < 3; c++) {
        const upper = data[p + c]! + (data[p + 3 + c]! - data[p + c]!) * tx,
          q = p + 3 * columns + c,
          lower = data[q]! + (data[q + 3]! - data[q]!) * tx;
        out[i + c] = upper + (lower - upper) * ty;
      }
    }
  return out;
}

/** Frames that a frame is compared with, before and after it. */
const LAGS = [1, 2, 4];
/** Cells around a cell, and frames around a frame, over which restlessness is spread. */
const AROUND = 1,
  FRAMES_AROUND = 2;
/** Restlessness of grain alone, of 255: below it nothing is calmer than another thing. */
const GRAIN = 0.3;

/**
 * How much each frame's word counts at each cell: what stands before the background fidgets, and the background does not. A frame's vote is the power
 * of -1.5 of how much it changes over one, two and four frames in its surroundings. (Measured on 120 frames of a street against the background of 795:
 * powers of 1, 1.5 and 2 leave 0.072, 0.067 and 0.074 % of the pixels wrong, a plain median 0.48 %.)
 * @param luma brightness of the frames' cells, 0..255, below 0 where a frame does not reach; taken over and written to.
 */
export function calmVotes(luma: readonly Float32Array[], columns: number, rows: number): Float32Array[] {
  const count = luma.length,
    n = columns * rows,
    restless: Float32Array[] = [],
    change = new Float32Array(n),
    across = new Float32Array(n);
  for (let f = 0; f < count; f++) {
    const here = luma[f]!,
      others = LAGS.flatMap((k) => [f - k, f + k])
        .filter((g) => g >= 0 && g < count)
        .map((g) => luma[g]!),
      spread = new Float32Array(n);
    change.fill(0);
    for (const there of others)
      for (let i = 0; i < n; i++) {
        const a = here[i]!,
          b = there[i]!;
        if (a >= 0 && b >= 0) change[i]! += a > b ? a - b : b - a;
      }
    // Mean of the cells around, one way and then the other.
    for (let y = 0; y < rows; y++)
      for (let x = 0; x < columns; x++) {
        const from = Math.max(0, x - AROUND),
          to = Math.min(columns - 1, x + AROUND);
        let s = 0;
        for (let k = from; k <= to; k++) s += change[y * columns + k]!;
        across[y * columns + x] = s / (to - from + 1);
      }
    for (let y = 0; y < rows; y++) {
      const from = Math.max(0, y - AROUND),
        to = Math.min(rows - 1, y + AROUND),
        share = 1 / ((to - from + 1) * Math.max(1, others.length));
      for (let x = 0; x < columns; x++) {
        let s = 0;
        for (let k = from; k <= to; k++) s += across[k * columns + x]!;
        spread[y * columns + x] = s * share;
      }
    }
    restless.push(spread);
  }
  const sum = new Float32Array(n),
    within = new Set<number>(),
    votes: Float32Array[] = [];
  for (let f = 0; f < count; f++) {
    for (let g = f - FRAMES_AROUND - 1; g <= f + FRAMES_AROUND; g++) {
      if (g < 0 || g >= count) continue;
      const inside = g >= f - FRAMES_AROUND;
      if (inside === within.has(g)) continue;
      const r = restless[g]!;
      if (inside) {
        within.add(g);
        for (let i = 0; i < n; i++) sum[i]! += r[i]!;
      } else {
        within.delete(g);
        for (let i = 0; i < n; i++) sum[i]! -= r[i]!;
      }
    }
    const vote = new Float32Array(n),
      here = luma[f]!;
    for (let i = 0; i < n; i++) {
      const r = GRAIN + 6 * Math.max(0, sum[i]! / within.size);
      vote[i] = here[i]! < 0 ? 0 : 1 / (r * Math.sqrt(r));
    }
    votes.push(vote);
  }
  return votes;
}
