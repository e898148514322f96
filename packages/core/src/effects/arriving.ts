import { clamp, cos, radians, sin, smoothstep } from '../image/exactMath';
import type { Plane } from '../image/picture';
import { arrivalOrder, type Arrival } from '../matte/arrival';
import type { Frame } from '../motion/frame';
import type { Canvas, Front, FrontStroke, OwnRecipe, Site, Suggestion } from './describe';

/** Values by which a body goes or comes part by part. Lengths and places in one unit of length. */
interface Arriving {
  shape: Arrival['shape'];
  from: readonly [number, number];
  direction: number;
  extent: number;
  ragged: number;
  raggedSize: number;
  seed: number;
}

/**
 * The arrival of these values, with lengths divided by `scale` so that it always speaks of whole-shot pixels.
 * @param strokes where its front stands, and @param reached the order that it has come to at a progress.
 */
export const arrivalOf = (
  v: Arriving,
  scale: number,
  strokes: readonly FrontStroke[] = [],
  reached: (progress: number) => number = (progress) => progress,
): Arrival => ({
  strokes: v.shape === 'strokes' ? strokes.map(({ progress, points }) => ({ order: clamp(reached(progress), 0, 1), points })) : [],
  shape: v.shape,
  from: [v.from[0] / scale, v.from[1] / scale],
  direction: v.direction,
  reach: v.extent / scale,
  ragged: v.ragged / scale,
  raggedSize: v.raggedSize / scale,
  seed: v.seed,
});

/** How much of each pixel has been passed where the order `reached` was come to: 0 ahead of the front, 1 behind it, over `soft` pixels of the picture. */
export function passedBy(arrival: Arrival, reached: number, soft: number, mount: Frame, { pictures, width, height, scale }: Canvas): Plane {
  const edge = soft / scale / arrival.reach,
    order = arrivalOrder(arrival, mount.resized(1 / scale), scale, [reached - edge, reached + edge], width, height, pictures),
    d = order.data;
  for (let i = 0; i < d.length; i++) d[i] = 1 - smoothstep(reached - edge, reached + edge, d[i]!);
  return order;
}

/** Where the front of it stands once it has gone `way` (the values' unit); null where it has not begun. */
export function frontOf(v: Arriving, way: number): Front | null {
  const a = radians(v.direction);
  // Others have no simple line.
  if (v.shape !== 'radius' && v.shape !== 'direction') return null;
  if (v.shape === 'radius') return way > 0 ? { shape: 'circle', about: v.from, radius: way } : null;
  return { shape: 'line', about: [v.from[0] + cos(a) * way, v.from[1] + sin(a) * way], direction: v.direction };
}

/** Inputs that an arrival of these values does without. */
export const withoutPattern = <N extends string>({ shape }: Pick<Arriving, 'shape'>, names: readonly N[]): readonly N[] =>
  shape === 'a matte' ? [] : names;

/** Progress from 0 to 100 % over 1.83 s, or as long as there is room for: how a new arrival runs. */
export function arrivingCurves({ rest, framesPerSecond }: Site): Suggestion['curves'] {
  const run = Math.max(8, Math.min(rest - 2, Math.round(1.83 * framesPerSecond)));
  return {
    progress: {
      points: [
        { frame: 0, value: 0, ease: 'smooth' },
        { frame: run, value: 100, ease: 'linear' },
      ],
    },
  };
}

/** A body that has wholly gone, or come, 44 frames after its row began: how our own recipes of arrivals run. */
export const leaves: NonNullable<OwnRecipe['curves']> = {
  progress: [
    [0, 0],
    [44, 100],
  ],
};
