import { cos, radians, sin } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Plane } from '../image/picture';

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

/** Where a body stands on the picture: turns and grows the order with it. Places in whole-shot pixels, degrees. */
export interface Standing {
  x: number;
  y: number;
  rotation: number;
  scale: number;
}

/**
 * What the kernels need of an arrival: the map from pixels of a picture (`scale` of them to a whole-shot pixel) to the body's own
 * pixels, where it begins and which way it goes, and its noise.
 */
export function arrivalParams(arrival: Arrival, body: Standing | null, scale: number): number[] {
  const turn = radians(-(body?.rotation ?? 0)),
    k = 1 / (body?.scale ?? 1),
    c = k * cos(turn),
    s = k * sin(turn),
    x = body?.x ?? 0,
    y = body?.y ?? 0,
    way = radians(arrival.direction);
  return [
    c / scale,
    -s / scale,
    s * y - c * x,
    s / scale,
    c / scale,
    -s * x - c * y,
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
  body: Standing | null,
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
