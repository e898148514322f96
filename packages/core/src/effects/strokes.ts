import { blurSum, halfSigma, meanHalf } from '../image/blur';
import { layLight } from '../image/blend';
import type { Pictures } from '../image/arena';
import type { Picture } from '../image/picture';
import type { Canvas } from './describe';
import { lightAlong } from './lightAlong';

type Rgb = readonly [number, number, number];

/** A line of light through points, which may thin out along its way. Widths and places in the picture's pixels. */
export interface Stroke {
  x: ArrayLike<number>;
  y: ArrayLike<number>;
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

/**
 * Adds a halo to light, in place: what it is, spread over `radius` (2 sigma) pixels in another colour. Done at half the size, since it is soft.
 * @param everywhere strength of an even light in that colour on all of the picture.
 */
export function addHalo(light: Picture, radius: number, strength: number, colour: Rgb, { pictures, scale }: Canvas, everywhere = 0): void {
  const evenly = (picture: Picture) => {
    const [red, green, blue] = colour.map((c) => everywhere * c) as [number, number, number];
    if (everywhere > 0) pictures.run('brighten', picture.height, picture.address!, red, green, blue, picture.width);
  };
  if (radius <= 1 || strength <= 0) {
    evenly(light);
    return;
  }
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
  evenly(soft);
  layLight(soft, light, 'add', 1, pictures, light);
  for (const p of [half, soft]) pictures.give(p);
}
