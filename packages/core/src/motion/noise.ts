import type { Plane } from '../image/picture';

/** Share of a normal distribution's places that lie nearer to its middle than 0.3186 of its deviation. */
const QUARTER = 0.3186;
/** Length of the kernel [1 -2 1; -2 4 -2; 1 -2 1], by which it raises noise. */
export const KERNEL = 6;
/** Places that are looked at. */
const LOOKED = 4096;

/** What the kernel finds at a place of a raster of one channel, `w` wide: `KERNEL` times the deviation of grain, nothing on slopes and straight edges. */
export const finestAt = (d: ArrayLike<number>, p: number, w: number): number =>
  4 * d[p]! - 2 * (d[p - 1]! + d[p + 1]! + d[p - w]! + d[p + w]!) + d[p - w - 1]! + d[p - w + 1]! + d[p + w - 1]! + d[p + w + 1]!;
/** Deviation of the grain by what the kernel found at some places, without signs; 0 without any. */
export const deviationOf = (found: readonly number[]): number =>
  found.length ? Float32Array.from(found).sort()[found.length >> 2]! / (QUARTER * KERNEL) : 0;

/**
 * Deviation of the grain in a square of a picture, by a kernel that is blind to slopes and straight edges (Immerkær 1996), from its quieter quarter, so
 * that texture raises it little.
 * @param x, y the middle of the square, pixels. @param reach half of its side.
 */
export function grainOf({ width, height, data }: Plane, x: number, y: number, reach: number): number {
  const left = Math.max(1, Math.floor(x) - reach),
    right = Math.min(width - 1, Math.floor(x) + reach),
    top = Math.max(1, Math.floor(y) - reach),
    bottom = Math.min(height - 1, Math.floor(y) + reach);
  if (right - left < 3 || bottom - top < 3) return 0;
  const step = Math.max(1, Math.floor(Math.sqrt(((right - left) * (bottom - top)) / LOOKED))),
    found: number[] = [];
  for (let j = top; j < bottom; j += step)
    for (let i = left; i < right; i += step) {
      found.push(Math.abs(finestAt(data, j * width + i, width)));
    }
  return deviationOf(found);
}
