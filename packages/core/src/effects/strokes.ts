import { blurSum, halfSigma, meanHalf } from '../image/blur';
import { layLight } from '../image/blend';
import type { Pictures } from '../image/arena';
import type { Picture } from '../image/picture';
import { clamp } from '../image/exactMath';
import type { Canvas } from './describe';
import type { Box } from '../image/extent';
import { lightAlong } from './lightAlong';

type Rgb = readonly [number, number, number];

/** A line of light through points, which may thin out along its way. Widths and places in the picture's pixels. */
export interface Stroke {
  x: readonly number[] | Float64Array;
  y: readonly number[] | Float64Array;
  /** Width at its beginning and at its end. */
  width: readonly [number, number];
  power: number;
}

/** Lays strokes into light without coverage; where they meet, the stronger one counts. A line thinner than a pixel keeps its light by being fainter. */
export function strokeLight(out: Picture, strokes: readonly Stroke[], colour: Rgb, pictures: Pictures): void {
  for (const { x, y, width, power } of strokes) {
    const widest = Math.max(width[0], width[1], 1e-6),
      // The taper is a share of the wider end.
      taper = (width[0] - width[1]) / widest;
    lightAlong(
      out,
      { x, y },
      {
        ...{ core: widest, soft: 0, edge: 0.7, blunt: true, coreColour: colour, gain: 1, taper, power },
        ...{ head: [1, 1] as const, tail: [0, 0] as const, far: Math.max(widest / 2, 0.5) + 1.5 },
      },
      pictures,
    );
  }
}

/** The box of a picture in which strokes lie; an empty one where they lie beside it. */
export function boxOfStrokes(strokes: readonly Stroke[], { width, height }: Pick<Canvas, 'width' | 'height'>): Box {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const s of strokes) {
    const far = Math.max(s.width[0], s.width[1], 1) / 2 + 2;
    for (let i = 0; i < s.x.length; i++) {
      x0 = Math.min(x0, s.x[i]! - far);
      x1 = Math.max(x1, s.x[i]! + far);
      y0 = Math.min(y0, s.y[i]! - far);
      y1 = Math.max(y1, s.y[i]! + far);
    }
  }
  const within = (v: number, most: number) => clamp(Math.round(v), 0, most);
  return [within(x0, width), within(y0, height), within(x1, width), within(y1, height)];
}

/** Adds a halo to light, in place: what it is, spread over `radius` (2 sigma) pixels in another colour. Done at half the size, since it is soft. */
export function addHalo(light: Picture, radius: number, strength: number, colour: Rgb, { pictures, scale }: Canvas): void {
  if (radius <= 1 || strength <= 0) return;
  const half = meanHalf(light, pictures),
    tint = (k: number): [number, number, number, number] => [k * colour[0], k * colour[1], k * colour[2], 0],
    // As much light as the line has, however far it is spread.
    gain = strength * Math.min(12, radius / scale / 3),
    soft = blurSum(
      half,
      [
        { sigma: halfSigma(radius / 2), weight: tint(gain) },
        { sigma: halfSigma(radius / 7), weight: tint(gain * 0.35) },
      ],
      pictures,
    );
  layLight(soft, light, 'add', 1, pictures, light);
  for (const p of [half, soft]) pictures.give(p);
}
