import { clamp, cos, hypot, radians, sin } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Plane } from '../image/picture';
import type { Region } from '../image/resize';
import { inverseSlopes, type Frame } from '../motion/frame';
import { cellAt, distanceAlong } from './alongBody';
import { orderByStrokes, type OrderStroke } from './strokeOrder';

/**
 * How a front spreads: along a direction, outwards from a point, from a point along the body (up its arms and not across gaps), by strokes that say where it
 * stands on which frame, or where a matte is bright first.
 */
export const spreads = ['radius', 'direction', 'along the body', 'strokes', 'a matte'] as const;
/** How a dissolve spreads over a body. Lengths in whole-shot pixels, in the coordinates of the body's mount. */
export interface Arrival {
  shape: (typeof spreads)[number];
  from: [number, number];
  direction: number;
  reach: number;
  ragged: number;
  raggedSize: number;
  seed: number;
  /** Lines that the front reaches at once, each with its place in the order; in the coordinates of the body's mount. */
  strokes: readonly OrderStroke[];
}
/** What a front that does not spread by a formula needs: the body's matte, with its pixels to a whole-shot pixel, and the matte whose values it follows. */
export interface Spreading {
  matte: Plane;
  scale: number;
  pattern: Plane | null;
}

/** All orders: where one is wanted exactly at every pixel. */
export const EVERYWHERE: readonly [number, number] = [-1e9, 1e9];
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
 * `cover` is empty. Outside of `within` it says nothing.
 * @param spreading what a front needs that runs along the body, by strokes or by a matte; without it that one spreads outwards.
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
  spreading: Spreading | null = null,
  within: Region = { x: 0, y: 0, width, height },
): Plane {
  const order = spreading && orderAt(arrival, body, spreading),
    params = pictures.takePlane(16, 1),
    out = pictures.takePlane(width, height),
    // What is added moves the order: it must be exact everywhere before.
    [from, to] = order ? EVERYWHERE : [low, high];
  params.data.set(arrivalParams(arrival, body, scale));
  withAddresses(pictures, [params, out, ...(cover ? [cover] : [])], (given, at, where = 0) =>
    pictures.run('arrivalOrder', within.height, given!, from, to, where, at!, width, within.x, within.x + within.width, within.y),
  );
  if (order) putOrder(order, arrival, body, scale, out, within);
  pictures.give(params);
  return out;
}

/** The order at a place, whole-shot pixels, of a front that spreads by no formula; null where it does, or where it misses what it spreads by. */
function orderAt(arrival: Arrival, body: Frame, { matte, scale, pattern }: Spreading): ((x: number, y: number) => number) | null {
  const grown = Math.max(1e-3, body.scaleAt(arrival.from)),
    reach = Math.max(1, arrival.reach);
  switch (arrival.shape) {
    case 'along the body': {
      const field = distanceAlong(matte, scale, [body.toPicture(arrival.from)]);
      return (x, y) => cellAt(field, x, y) / grown / reach;
    }
    case 'strokes': {
      const { strokes } = arrival;
      if (!strokes.length) return null;
      const field = orderByStrokes(
        matte,
        scale,
        strokes.map((s) => ({ order: s.order, points: s.points.map((p) => body.toPicture(p)) })),
        reach * grown,
      );
      return (x, y) => cellAt(field, x, y);
    }
    case 'a matte': {
      if (!pattern) return null;
      const { width, height, data } = pattern;
      return (x, y) => 1 - data[clamp(Math.floor(y * scale), 0, height - 1) * width + clamp(Math.floor(x * scale), 0, width - 1)]!;
    }
    default:
      return null;
  }
}

/** Puts an order in the place of that outwards from a point, and leaves the noise, in place. */
function putOrder(at: (x: number, y: number) => number, arrival: Arrival, body: Frame, scale: number, order: Plane, within: Region): void {
  const { width, data } = order,
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
    reach = Math.max(1, arrival.reach);
  for (let y = within.y; y < within.y + within.height; y++)
    for (let x = within.x, p = y * width + x; x < within.x + within.width; x++, p++) {
      const [px, py] = [x + 0.5, y + 0.5],
        straight = hypot(a * px + b * py + c - fromX, d * px + e * py + f - fromY);
      data[p]! += at(px / scale, py / scale) - straight / reach;
    }
}
