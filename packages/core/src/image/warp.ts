import type { Pictures } from './arena';
import { withAddresses } from './kernelCall';
import type { Picture, Plane } from './picture';

/** What lies beyond the edge: the picture turned over, or its edge pixel going on. Neither pulls black in. */
export const edgeNames = ['mirror', 'hold'] as const;
export type Edge = (typeof edgeNames)[number];
/** Between pixels: straight lines, or a cubic (Catmull-Rom) that keeps fine detail. */
export const samplingNames = ['straight', 'cubic'] as const;
export type Sampling = (typeof samplingNames)[number];

/**
 * Moves pixels: out(x, y) = source(x + dx, y + dy), displacements in pixels. One that is not a number counts as none.
 */
export function warp(source: Picture, dx: Plane, dy: Plane, edge: Edge, pictures: Pictures, sampling: Sampling = 'straight'): Picture {
  const { width, height } = source,
    out = pictures.takePicture(width, height);
  withAddresses(pictures, [source, dx, dy, out], (from, x, y, to) =>
    pictures.run('warpByField', height, from!, x!, y!, edge === 'mirror', sampling === 'cubic', to!, width, height),
  );
  return out;
}

/** Nine numbers by rows: takes (x, y, 1) of the result to the source, pixel centres at +0.5. */
export type Homography = readonly [number, number, number, number, number, number, number, number, number];

/** The source seen through a homography, at a size; what lies outside the source is empty. */
export function warpFlat(
  source: Picture,
  matrix: Homography,
  width: number,
  height: number,
  pictures: Pictures,
  sampling: Sampling = 'straight',
): Picture {
  const out = pictures.takePicture(width, height),
    numbers = pictures.takePlane(9, 1);
  numbers.data.set(matrix);
  withAddresses(pictures, [source, numbers, out], (from, m, to) =>
    pictures.run('warpByHomography', height, from!, source.width, source.height, m!, sampling === 'cubic', to!, width),
  );
  pictures.give(numbers);
  return out;
}
