import type { Pictures } from '../image/arena';
import { meanHalf } from '../image/blur';
import type { Picture, Plane } from '../image/picture';
import { alphaOf, asAlpha } from '../image/planeMath';
import { warpFlat, type Homography } from '../image/warp';
import { back, cornersOf } from '../image/homography';

import { boxAround, scaleOf } from './place';

/** The map from pixels of a picture of half the size (means of two by two) to where `m` takes those of the whole one. */
const fromHalves = (m: Homography, halves: number): Homography =>
  [m[0] * halves, m[1] * halves, m[2], m[3] * halves, m[4] * halves, m[5], m[6] * halves, m[7] * halves, m[8]] as const;

/**
 * A picture seen through a map from its pixels to those of the result, with smooth edges; empty where it does not reach. Drawn much smaller it is
 * halved first: reading between pixels alone would miss some of them.
 */
export function drawPlaced(source: Picture, forward: Homography, width: number, height: number, pictures: Pictures): Picture {
  // Where a part of it lies behind who looks, the rest is looked for everywhere.
  const corners = cornersOf(forward, source.width, source.height);
  let from = source,
    scale = corners ? scaleOf(forward, [source.width / 2, source.height / 2]) : 1,
    halves = 1;
  while (scale < 0.6 && from.width > 1 && from.height > 1) {
    const next = meanHalf(from, pictures);
    if (from !== source) pictures.give(from);
    from = next;
    scale *= 2;
    halves *= 2;
  }
  const way = back(fromHalves(forward, halves)),
    // Nothing is looked for in an empty box.
    box = !way ? ([0, 0, 0, 0] as const) : corners ? boxAround(corners, 2) : ([0, 0, width, height] as const),
    out = warpFlat(from, way ?? [1, 0, 0, 0, 1, 0, 0, 0, 1], width, height, pictures, { edge: 1 / Math.max(1e-3, scale), box });
  if (from !== source) pictures.give(from);
  return out;
}
/** The same for a matte. */
export function drawPlacedPlane(source: Plane, forward: Homography, width: number, height: number, pictures: Pictures): Plane {
  const picture = asAlpha(source, pictures),
    drawn = drawPlaced(picture, forward, width, height, pictures),
    out = alphaOf(drawn, pictures);
  pictures.give(picture);
  pictures.give(drawn);
  return out;
}
