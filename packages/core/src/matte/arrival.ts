import { cos, hypot, radians, sin } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Plane } from '../image/picture';
import { inverseSlopes, type Frame } from '../motion/frame';
import { alongAt, distanceAlong } from './alongBody';

/** How a front spreads: along a direction, outwards from a point, or from a point along the body, up its arms and not across gaps. */
export const spreads = ['radius', 'direction', 'along the body'] as const;
/** How a dissolve spreads over a body. Lengths in whole-shot pixels, in the coordinates of the body's mount. */
export interface Arrival {
  shape: (typeof spreads)[number];
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
    arrival.shape === 'direction' ? 0 : 1,
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
 * @param held the matte of the body, with its pixels to a whole-shot pixel: what a front that runs along the body needs; without it that one spreads outwards.
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
  held: { matte: Plane; scale: number } | null = null,
): Plane {
  const along = arrival.shape === 'along the body' ? held : null,
    params = pictures.takePlane(16, 1),
    out = pictures.takePlane(width, height),
    // What is added moves the order: it must be exact everywhere before.
    [from, to] = along ? [-1e9, 1e9] : [low, high];
  params.data.set(arrivalParams(arrival, body, scale));
  withAddresses(pictures, [params, out, ...(cover ? [cover] : [])], (given, at, where = 0) =>
    pictures.run('arrivalOrder', height, given!, from, to, where, at!, width),
  );
  if (along) followBody(arrival, body, scale, along, out);
  pictures.give(params);
  return out;
}

/** Turns the order outwards from a point into that along the body, in place: what the way is longer than straight is added, in shares of the reach. */
function followBody(arrival: Arrival, body: Frame, scale: number, held: { matte: Plane; scale: number }, order: Plane): void {
  const { width, height, data } = order,
    [a, b, c, d, e, f, , fromX, fromY] = arrivalParams(arrival, body, scale) as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ],
    field = distanceAlong(held.matte, held.scale, body.toPicture(arrival.from)),
    grown = Math.max(1e-3, body.scaleAt(arrival.from)),
    reach = Math.max(1, arrival.reach);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const [px, py] = [x + 0.5, y + 0.5],
        straight = hypot(a * px + b * py + c - fromX, d * px + e * py + f - fromY);
      data[p]! += (alongAt(field, px / scale, py / scale) / grown - straight) / reach;
    }
}
