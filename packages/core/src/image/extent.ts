import type { Pictures } from './arena';
import { withAddresses } from './kernelCall';
import type { Plane } from './picture';

/** A part of a picture: first column and row, and those after the last. */
export type Box = readonly [x0: number, y0: number, x1: number, y1: number];

/** The box of a plane in which something is above `limit`, looking at every `step`th row; null where nothing is. */
export function extentOf(plane: Plane, limit: number, step: number, pictures: Pictures): Box | null {
  const found = pictures.takePlane(4, 1),
    some = withAddresses(pictures, [plane, found], (from, to) =>
      pictures.kernels.findBox(from!, plane.width, plane.height, limit, step, to!),
    ),
    [x0, y0, x1, y1] = new Int32Array(found.data.buffer, found.data.byteOffset, 4) as unknown as [number, number, number, number];
  pictures.give(found);
  return some ? [x0, y0, x1 + 1, y1 + 1] : null;
}
