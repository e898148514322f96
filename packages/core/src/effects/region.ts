import type { Pictures } from '../image/arena';
import type { Picture } from '../image/picture';
import type { Box } from './body';

/** A part of a picture that is worked on by itself: its upper left pixel, and its size. */
export interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
}

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
