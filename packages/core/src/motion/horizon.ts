import type { Homography } from '../image/warp';
import type { Frame } from './frame';

/**
 * Where a plane vanishes: the heights of its horizon at the left and right side of a picture, pixels; null where it has none (it is seen from straight
 * above, or its horizon stands upright). Hartley & Zisserman, section 8.6: the line at infinity seen through the plane's map.
 * @param map from the plane to the picture.
 */
export function horizonOf(map: Homography, width: number): [number, number] | null {
  const [a, b, , d, e, , g, h] = map,
    // Directions along the plane's two sides, as points at infinity: (a, d, g) and (b, e, h). The line through both.
    line = [d * h - g * e, g * b - a * h, a * e - d * b] as const,
    at = (x: number) => -(line[0] * x + line[2]) / line[1];
  return Math.abs(line[1]) > 1e-9 * Math.max(Math.abs(line[0]), Math.abs(line[2]) / width) ? [at(0), at(width)] : null;
}

/**
 * Metres for each pixel of the picture, from left to right, at a place of the floor.
 * @param floor the frame of the floor. @param pixelsPerMetre of the floor's own plane.
 */
export function metresPerPixel(floor: Pick<Frame, 'toBody'>, pixelsPerMetre: number, [x, y]: readonly [number, number]): number {
  const [u, v] = floor.toBody([x - 0.5, y]),
    [p, q] = floor.toBody([x + 0.5, y]);
  return Math.sqrt((p - u) * (p - u) + (q - v) * (q - v)) / pixelsPerMetre;
}
