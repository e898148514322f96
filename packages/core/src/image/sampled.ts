import type { Plane } from './picture';

/**
 * A plane between its pixels, by straight lines both ways; held at its borders.
 * @param x and @param y pixels, whose middles lie at halves.
 * @example sampled(plane, 0.5, 0.5) // the value of the first pixel, to the bit
 */
export function sampled({ data, width, height }: Plane, x: number, y: number): number {
  const fx = Math.min(width - 1, Math.max(0, x - 0.5)),
    fy = Math.min(height - 1, Math.max(0, y - 0.5)),
    ix = Math.max(0, Math.min(width - 2, Math.floor(fx))),
    iy = Math.max(0, Math.min(height - 2, Math.floor(fy))),
    // A plane of one column or row has nothing beside it.
    right = width > 1 ? 1 : 0,
    down = height > 1 ? width : 0,
    [u, v, p] = [fx - ix, fy - iy, iy * width + ix];
  return (data[p]! * (1 - u) + data[p + right]! * u) * (1 - v) + (data[p + down]! * (1 - u) + data[p + down + right]! * u) * v;
}
