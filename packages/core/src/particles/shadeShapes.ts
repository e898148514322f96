import type { Pictures } from '../image/arena';
import { blur } from '../image/blur';
import { withAddresses } from '../image/kernelCall';
import type { Plane } from '../image/picture';

/** Side of a cell in which the cover of shapes is counted, pixels of the picture. */
const CELL = 8;
/**
 * Darkens shapes (16 numbers each, see `assembly/flakes.ts`) where many others lie above them, as light from the sky would leave them. Their cover is
 * counted in coarse cells, so that it costs next to nothing beside drawing them. What burns keeps its light.
 * @param share of the light that can be taken, 0..1. @param reach how far down a shadow falls, pixels.
 */
export function shadeShapes(
  shapes: Plane,
  count: number,
  share: number,
  reach: number,
  width: number,
  height: number,
  pictures: Pictures,
): void {
  const w = Math.ceil(width / CELL),
    h = Math.ceil(height / CELL),
    dense = pictures.takePlane(w, h);
  dense.data.fill(0);
  pictures.kernels.countCover(shapes.address!, count, dense.address!, w, h, CELL);
  const soft = blur(dense, Math.max(0.7, reach / CELL / 2), pictures);
  withAddresses(pictures, [soft], (cells) =>
    pictures.run('shadeCovered', count, shapes.address!, cells!, w, h, CELL, Math.max(CELL, reach), share),
  );
  pictures.give(dense);
  pictures.give(soft);
}
