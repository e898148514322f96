import type { Plane } from '../image/picture';

/** Share of a normal distribution's places that lie nearer to its middle than 0.3186 of its deviation. */
const QUARTER = 0.3186,
  /** Length of the kernel [1 -2 1; -2 4 -2; 1 -2 1], by which it raises noise. */
  KERNEL = 6;
/** Places that are looked at. */
const LOOKED = 4096;

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
      const p = j * width + i;
      found.push(
        Math.abs(
          4 * data[p]! -
            2 * (data[p - 1]! + data[p + 1]! + data[p - width]! + data[p + width]!) +
            data[p - width - 1]! +
            data[p - width + 1]! +
            data[p + width - 1]! +
            data[p + width + 1]!,
        ),
      );
    }
  return Float32Array.from(found).sort()[found.length >> 2]! / (QUARTER * KERNEL);
}
