import { hypot } from '../image/exactMath';
import type { Plane } from '../image/picture';

/** Side of the cells in which distances are worked out, whole-shot pixels: narrower than a finger at the sizes at which one is seen. */
export const STRIDE = 4;
/** How much longer the way over what is not body counts: an arm is shorter than the gap beside it. */
const OUTSIDE = 30;
/** A part that hangs on nothing is reached too: no way is longer than so many times the straight one, and a little. */
const LONGEST = 4,
  LITTLE = 40;
/** Rounds of four sweeps at the most, and the change, whole-shot pixels, at which they end. */
const ROUNDS = 12,
  SETTLED = 0.5;

/** A value for each cell of a picture: a distance, whole-shot pixels, or a place in an order. */
export interface CellField {
  columns: number;
  rows: number;
  values: Float32Array;
}

/**
 * How far each cell of a picture lies from places along the body: the shortest way that stays in a matte, as a wave runs that is slow outside of it (the
 * eikonal equation, by fast sweeping: H. Zhao, "A fast sweeping method for Eikonal equations", 2005).
 * @param matte at `scale` of its pixels to a whole-shot pixel. @param from the places, whole-shot pixels: the nearest one counts. @param longest how many times the straight way a way is at the most.
 */
export function distanceAlong(matte: Plane, scale: number, from: readonly (readonly [number, number])[], longest = LONGEST): CellField {
  const columns = Math.max(2, Math.ceil(matte.width / scale / STRIDE)),
    rows = Math.max(2, Math.ceil(matte.height / scale / STRIDE)),
    distance = new Float32Array(columns * rows).fill(1e9),
    cost = new Float32Array(columns * rows);
  for (let y = 0, p = 0; y < rows; y++) {
    const line = Math.min(matte.height - 1, Math.floor((y + 0.5) * STRIDE * scale)) * matte.width;
    for (let x = 0; x < columns; x++, p++)
      cost[p] = matte.data[line + Math.min(matte.width - 1, Math.floor((x + 0.5) * STRIDE * scale))]! > 0.5 ? STRIDE : OUTSIDE * STRIDE;
  }
  // Near the beginning the distance is what it is.
  const begins = from.map(([x, y]): [number, number] => [
    Math.min(columns - 0.5, Math.max(0.5, x / STRIDE)),
    Math.min(rows - 0.5, Math.max(0.5, y / STRIDE)),
  ]);
  const [xs, ys] = [begins.map(([x]) => x), begins.map(([, y]) => y)],
    [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  for (const [fx, fy] of begins)
    for (let y = Math.max(0, Math.floor(fy) - 2); y <= Math.min(rows - 1, fy + 2); y++)
      for (let x = Math.max(0, Math.floor(fx) - 2); x <= Math.min(columns - 1, fx + 2); x++) {
        const d = hypot(x + 0.5 - fx, y + 0.5 - fy),
          p = y * columns + x;
        if (d <= 1.5) distance[p] = Math.min(distance[p]!, d * cost[p]!);
      }
  for (let round = 0; round < ROUNDS; round++) {
    let changed = 0;
    for (let sweep = 0; sweep < 4; sweep++) {
      const [down, right] = [sweep < 2, sweep % 2 === 0];
      for (let j = 0; j < rows; j++) {
        const y = down ? j : rows - 1 - j;
        for (let i = 0; i < columns; i++) {
          const x = right ? i : columns - 1 - i,
            p = y * columns + x,
            a = Math.min(x > 0 ? distance[p - 1]! : 1e9, x + 1 < columns ? distance[p + 1]! : 1e9),
            b = Math.min(y > 0 ? distance[p - columns]! : 1e9, y + 1 < rows ? distance[p + columns]! : 1e9),
            f = cost[p]!,
            d = Math.abs(a - b) >= f ? Math.min(a, b) + f : (a + b + Math.sqrt(2 * f * f - (a - b) * (a - b))) / 2;
          if (d < distance[p]!) {
            changed = Math.max(changed, distance[p]! - d);
            distance[p] = d;
          }
        }
      }
    }
    if (changed < SETTLED) break;
  }
  for (let y = 0, p = 0; y < rows; y++)
    for (let x = 0; x < columns; x++, p++) {
      // Only what hangs on nothing is so far that the straight way counts, which is no shorter than that to the box about all places.
      const beside = hypot(Math.max(0, left - x - 0.5, x + 0.5 - right), Math.max(0, top - y - 0.5, y + 0.5 - bottom));
      if (distance[p]! <= longest * STRIDE * beside + LITTLE) continue;
      let straight = 1e9;
      for (const [fx, fy] of begins) straight = Math.min(straight, hypot(x + 0.5 - fx, y + 0.5 - fy));
      distance[p] = Math.min(distance[p]!, longest * STRIDE * straight + LITTLE);
    }
  return { columns, rows, values: distance };
}

/** The value at a place, whole-shot pixels, mixed from the four cells around it. */
export function cellAt({ columns, rows, values }: CellField, x: number, y: number): number {
  const cx = Math.min(columns - 1.001, Math.max(0, x / STRIDE - 0.5)),
    cy = Math.min(rows - 1.001, Math.max(0, y / STRIDE - 0.5)),
    [ix, iy] = [Math.floor(cx), Math.floor(cy)],
    [u, v] = [cx - ix, cy - iy],
    p = iy * columns + ix;
  return (values[p]! * (1 - u) + values[p + 1]! * u) * (1 - v) + (values[p + columns]! * (1 - u) + values[p + columns + 1]! * u) * v;
}
