import type { Pictures } from '../image/arena';
import type { Box } from '../image/extent';
import type { Picture, Plane } from '../image/picture';
import { emptyPlane } from '../image/planeMath';
import type { Region } from '../image/resize';
import type { Canvas } from './describe';

/**
 * The part of a picture outside of which a blur of what lies in `box` leaves nothing. It begins at a multiple of the pyramid's largest step, so that
 * every pixel comes out as it would in the whole picture, to the bit.
 * @param sigma of the blur, in the picture's pixels.
 */
export function regionAround(box: Box, sigma: number, width: number, height: number): Region {
  let step = 32;
  while (step < 4 * sigma) step *= 2;
  // Each level of the pyramid reaches three of its own sigmas, and its filter two pixels, on the way down and up.
  const reach = Math.ceil(10 * sigma) + 32,
    down = (v: number) => Math.max(0, Math.floor((v - reach) / step) * step),
    up = (v: number, most: number) => Math.min(most, Math.ceil((v + reach) / step) * step),
    x = down(box[0]),
    y = down(box[1]);
  return { x, y, width: up(box[2], width) - x, height: up(box[3], height) - y };
}

/** A picture of a region with nothing in it yet. */
export function emptyRegion({ width, height }: Pick<Region, 'width' | 'height'>, pictures: Pictures): Picture {
  const out = pictures.takePicture(width, height);
  pictures.run('clear', height, out.address!, width * 4);
  return out;
}

/** Puts a picture into a larger one that is otherwise empty, its upper left pixel at (x, y). */
export function placed(part: Picture, x: number, y: number, width: number, height: number, pictures: Pictures): Picture {
  const out = emptyRegion({ width, height }, pictures),
    w = part.width * 4;
  for (let row = 0; row < part.height; row++) out.data.set(part.data.subarray(row * w, row * w + w), ((y + row) * width + x) * 4);
  return out;
}

/** A plane that has a part where the region lies, and nothing elsewhere. */
export function planeWith(part: Plane, { x, y }: Region, width: number, height: number, pictures: Pictures): Plane {
  const out = emptyPlane(width, height, pictures);
  for (let row = 0; row < part.height; row++)
    out.data.set(part.data.subarray(row * part.width, (row + 1) * part.width), (y + row) * width + x);
  return out;
}

/**
 * Light that lies within a box and spreads by a blur: drawn in a picture of the region about it, which is put into a whole one. What it costs follows the box, and
 * every pixel comes out as it would in the whole picture.
 */
export function litWithin(
  box: Box,
  sigma: number,
  { pictures, width, height }: Canvas,
  work: (part: Picture, region: Region) => void,
): Picture {
  const region = regionAround(box, sigma, width, height),
    part = emptyRegion(region, pictures);
  work(part, region);
  if (region.width === width && region.height === height) return part;
  const out = placed(part, region.x, region.y, width, height, pictures);
  pictures.give(part);
  return out;
}
