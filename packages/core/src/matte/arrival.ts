import { cos, radians, sin } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Plane } from '../image/picture';
import { inverseSlopes, type Frame } from '../motion/frame';

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
 * What the kernels need of an arrival on a body, whose frame is in whole-shot pixels: the map from pixels of a picture (`scale` of them to a whole-shot pixel) to the body's own
 * pixels, where it begins and which way it goes, and its noise.
 */
export function arrivalParams(arrival: Arrival, body: Frame, scale: number): number[] {
  const [ux, vx, uy, vy] = inverseSlopes(body, [0, 0]),
    [x, y] = body.toPicture([0, 0]),
    way = radians(arrival.direction);
  return [
    ux / scale,
    uy / scale,
    -ux * x - uy * y,
    vx / scale,
    vy / scale,
    -vx * x - vy * y,
    arrival.shape === 'radius' ? 1 : 0,
    ...arrival.from,
    cos(way),
    sin(way),
    1 / Math.max(1, arrival.reach),
    arrival.ragged,
    1 / Math.max(2, arrival.raggedSize),
    arrival.seed,
    MOST_EATEN,
  ];
}

/**
 * The order, about 0..1, in which points of a body are reached: along a direction, or outwards from a point; eaten at by noise that is
 * fixed to the body. 0 is reached first. Between `low` and `high` it is exact; beyond, it is without noise, on the same side of both; as it is where a
 * `cover` is empty.
 */
export function arrivalOrder(
  arrival: Arrival,
  body: Frame,
  scale: number,
  [low, high]: readonly [number, number],
  width: number,
  height: number,
  pictures: Pictures,
  cover: Plane | null = null,
): Plane {
  const params = pictures.takePlane(16, 1),
    out = pictures.takePlane(width, height);
  params.data.set(arrivalParams(arrival, body, scale));
  withAddresses(pictures, [params, out, ...(cover ? [cover] : [])], (given, to, where = 0) =>
    pictures.run('arrivalOrder', height, given!, low, high, where, to!, width),
  );
  pictures.give(params);
  return out;
}
