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

/** Displacements (the caller gives them back) that show a picture through a homography, which `warp` then does with any edge. */
export function fieldOfMap(matrix: Homography, width: number, height: number, pictures: Pictures): { dx: Plane; dy: Plane } {
  const numbers = pictures.takePlane(9, 1),
    dx = pictures.takePlane(width, height),
    dy = pictures.takePlane(width, height);
  numbers.data.set(matrix);
  withAddresses(pictures, [numbers, dx, dy], (m, x, y) => pictures.run('fieldOfMap', height, m!, x!, y!, width));
  pictures.give(numbers);
  return { dx, dy };
}

/** Nine numbers by rows: takes (x, y, 1) of the result to the source, pixel centres at +0.5. */
export type Homography = readonly [number, number, number, number, number, number, number, number, number];

/** What a picture seen through a homography is made with. */
export interface Seen {
  sampling?: Sampling;
  /** Width of the ramp at the source's edges, in its pixels, half of it outside; 0 (as where nothing is said) cuts hard. */
  edge?: number;
  /** Where the result is looked for, pixels: left, top, right, bottom; everywhere where nothing is said. It is empty outside. */
  box?: readonly [number, number, number, number];
}
/** The source seen through a homography, at a size; what lies outside the source is empty. */
export function warpFlat(
  source: Picture,
  matrix: Homography,
  width: number,
  height: number,
  pictures: Pictures,
  { sampling = 'straight', edge = 0, box: [left, top, right, bottom] = [0, 0, width, height] }: Seen = {},
): Picture {
  const out = pictures.takePicture(width, height),
    numbers = pictures.takePlane(9, 1),
    within = (v: number, most: number) => Math.min(most, Math.max(0, v));
  numbers.data.set(matrix);
  withAddresses(pictures, [source, numbers, out], (from, m, to) =>
    pictures.run(
      'warpByHomography',
      height,
      from!,
      source.width,
      source.height,
      m!,
      sampling === 'cubic',
      edge,
      within(Math.floor(left), width),
      within(Math.floor(top), height),
      within(Math.ceil(right), width),
      within(Math.ceil(bottom), height),
      to!,
      width,
    ),
  );
  pictures.give(numbers);
  return out;
}
