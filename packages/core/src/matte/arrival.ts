import { cos, radians, sin } from '../image/exactMath';
import { fractal2 } from '../image/noise';

/** How a dissolve spreads over a body. Lengths in whole-shot pixels, in the coordinates of the body's mount. */
export interface Arrival {
  shape: 'direction' | 'radius';
  from: [number, number];
  direction: number;
  reach: number;
  ragged: number;
  raggedSize: number;
  seed: number;
}

/** The noise moves the order of a point by at most this share of `ragged`. */
export const MOST_EATEN = 1.35;

/**
 * The order 0..1 in which points of a body are reached: along a direction, or outwards from a point; eaten at by noise that is
 * fixed to the body. Takes whole-shot pixels relative to the mount. 0 is reached first.
 */
export function orderField(arrival: Arrival): (x: number, y: number) => number {
  const { from, reach, ragged, seed } = arrival,
    angle = radians(arrival.direction),
    dx = cos(angle),
    dy = sin(angle),
    k = 1 / Math.max(1, reach),
    size = Math.max(2, arrival.raggedSize);
  return (x, y) => {
    const u = x - from[0],
      v = y - from[1],
      way = arrival.shape === 'radius' ? Math.sqrt(u * u + v * v) : u * dx + v * dy;
    const eaten =
      ragged > 0
        ? ((fractal2(x / size, y / size, 3, seed) - 0.5) * 2 + (fractal2((x / size) * 3.7, (y / size) * 3.7, 2, seed + 61) - 0.5) * 0.7) *
          ragged
        : 0;
    return (way + eaten) * k;
  };
}
