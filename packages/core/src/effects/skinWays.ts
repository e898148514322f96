import { quarterPlane } from '../image/blur';
import { clamp } from '../image/exactMath';
import { withoutHoles } from './holes';
import type { Pictures } from '../image/arena';
import type { Plane } from '../image/picture';
import type { Region } from '../image/resize';
import { standsOut } from '../lighting';

/** Pixels of the picture from one place of the ways to the next. */
export const APART = 4;
/** The steepest slope that skin comes to: at a body's edge it is steeper than any, and a way over it would be as long as it likes. */
const STEEPEST = 3;

/** `standsOut` gives R² - r² for a ball and twice that across a post; limbs and trunks are posts. */
const ROUND = 2;

/** Where places of a body lie on its skin: x y of cells of APART by APART pixels, one after another, in pixels of the picture from the middle of it. */
export interface SkinWays {
  data: Float32Array;
  width: number;
  height: number;
}
/**
 * A body's skin laid flat from one of its places: how far it is along the surface to other places, to the right and down. The body stands out as its matte is
 * round (`standsOut`), so that what hangs on a turning body and rides on its skin keeps its place there: on an upright cylinder the ways are its arcs, exactly.
 * Off the body a way is as long as it looks.
 * @param about the place, pixels of the picture; the nearest one of the region where it lies beside it.
 * @param region the part of the picture whose cells are wanted; it begins at a multiple of APART.
 * @param closed height of the figure, pixels of the picture, where small holes of the matte are body.
 */
export function skinWays(matte: Plane, about: readonly [number, number], region: Region, pictures: Pictures, closed = 0): SkinWays {
  const open = quarterPlane(matte, pictures),
    small = closed > 0 ? withoutHoles(open, closed / APART, pictures) : open,
    rises = standsOut(small),
    whole = small.width,
    [left, top] = [region.x / APART, region.y / APART],
    width = Math.min(small.width - left, Math.ceil(region.width / APART)),
    height = Math.min(small.height - top, Math.ceil(region.height / APART)),
    data = new Float32Array(2 * width * height),
    ax = clamp(about[0] / APART - 0.5 - left, 0, width - 1),
    ay = clamp(about[1] / APART - 0.5 - top, 0, height - 1);
  pictures.give(open);
  if (small !== open) pictures.give(small);
  for (let y = top; y < top + height; y++)
    for (let p = y * whole + left, end = p + width; p < end; p++) rises[p] = rises[p]! > 0 ? Math.sqrt(rises[p]! / ROUND) : 0;
  // Along rows, then along columns: sums from the first cell, less what they are at the place.
  const lay = (n: number, lines: number, step: readonly [number, number], next: readonly [number, number], at: number, channel: number) => {
    const sums = new Float64Array(n),
      before = Math.max(0, Math.min(n - 2, Math.floor(at)));
    for (let line = 0; line < lines; line++) {
      for (let i = 1, p = top * whole + left + line * next[0]; i < n; i++, p += step[0]) {
        const slope = Math.min(STEEPEST, Math.abs(rises[p + step[0]]! - rises[p]!));
        sums[i] = sums[i - 1]! + Math.sqrt(1 + slope * slope);
      }
      const zero = n > 1 ? sums[before]! + (at - before) * (sums[before + 1]! - sums[before]!) : 0;
      for (let i = 0, q = line * next[1] + channel; i < n; i++, q += step[1]) data[q] = (sums[i]! - zero) * APART;
    }
  };
  lay(width, height, [1, 2], [whole, 2 * width], ax, 0);
  lay(height, width, [whole, 2 * width], [1, 2], ay, 1);
  return { data, width, height };
}
