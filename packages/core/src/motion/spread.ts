import { atan2 } from '../image/exactMath';

/** How something is spread over a picture: what it covers (pixels), its middle, and its mean squares and product about that. */
export interface Spread {
  area: number;
  x: number;
  y: number;
  xx: number;
  xy: number;
  yy: number;
}

/** How much longer than wide something must be for its turn to say anything. */
const LONG = 1.25;
/** Direction of the longer axis, radians; null where it is about as wide as long. */
export function axisOf({ xx, xy, yy }: Spread): number | null {
  const half = (xx + yy) / 2,
    by = Math.sqrt((xx - yy) * (xx - yy) + 4 * xy * xy) / 2;
  return half + by > LONG * LONG * Math.max(1e-9, half - by) ? atan2(2 * xy, xx - yy) / 2 : null;
}
