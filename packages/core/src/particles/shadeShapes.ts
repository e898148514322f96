import type { Pictures } from '../image/arena';
import { blur } from '../image/blur';
import type { Plane } from '../image/picture';

/** Side of a cell in which the cover of shapes is counted, pixels of the picture. */
const CELL = 8;
/** Part of its box that a shape covers, and the cover that takes half of the light that can be taken. */
const FILLS = 0.5,
  HALF = 0.35;
/** What is as bright as this burns, and is lit by itself. */
const BURNS = 0.9;

/**
 * Darkens shapes (16 numbers each, see `assembly/flakes.ts`) where many others lie above them, as light from the sky would leave them. Their cover is
 * counted in coarse cells, so that it costs next to nothing beside drawing them. What burns keeps its light.
 * @param share of the light that can be taken, 0..1. @param reach how far down a shadow falls, pixels.
 */
export function shadeShapes(
  shapes: Float32Array<ArrayBufferLike>,
  count: number,
  share: number,
  reach: number,
  width: number,
  height: number,
  pictures: Pictures,
): void {
  const w = Math.ceil(width / CELL),
    h = Math.ceil(height / CELL),
    dense: Plane = pictures.takePlane(w, h),
    d = dense.data,
    down = Math.max(CELL, reach);
  d.fill(0);
  for (let i = 0, end = 16 * count; i < end; i += 16) {
    const cover = shapes[i + 8]!,
      x = Math.floor(shapes[i]! / CELL),
      y = Math.floor(shapes[i + 1]! / CELL);
    if (!(cover > 0 && x >= 0 && x < w && y >= 0 && y < h)) continue;
    d[y * w + x]! += (cover * Math.abs(shapes[i + 9]!) * shapes[i + 10]! * 4 * FILLS) / (CELL * CELL);
  }
  const soft = blur(dense, Math.max(0.7, reach / CELL / 2), pictures),
    s = soft.data;
  for (let i = 0, end = 16 * count; i < end; i += 16) {
    const x = Math.floor(shapes[i]! / CELL),
      y = Math.floor((shapes[i + 1]! - down) / CELL);
    if (!(shapes[i + 8]! > 0 && x >= 0 && x < w && y >= 0 && y < h)) continue;
    const lies = s[y * w + x]!,
      burning = Math.min(1, Math.max(shapes[i + 12]!, shapes[i + 13]!, shapes[i + 14]!) / BURNS),
      k = 1 - (share * (1 - burning * burning) * lies) / (lies + HALF);
    for (let c = 12; c < 15; c++) shapes[i + c]! *= k;
  }
  pictures.give(dense);
  pictures.give(soft);
}
