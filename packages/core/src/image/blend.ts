import type { Pictures } from './arena';
import { withAddresses } from './kernelCall';
import type { Picture, Plane } from './picture';
import { curveOf, curveTable, slopeAtBlack } from './transfer';

/** Separable blends B(backdrop, source): W3C Compositing and Blending Level 1, section 9.1. */
export const blendNames = [
  'normal',
  'add',
  'screen',
  'multiply',
  'lighten',
  'darken',
  'overlay',
  'soft light',
  'hard light',
  'difference',
] as const;
export type Blend = (typeof blendNames)[number];

/** The kernels' numbers for blends on display-encoded values (see assembly/encoded.ts). */
const encodedModes: Partial<Record<Blend, number>> = {
  lighten: 0,
  darken: 1,
  overlay: 2,
  'hard light': 3,
  'soft light': 4,
  difference: 5,
};
const SHIFT = 14;

/** The address of what a kernel writes. @throws Error where a raster from elsewhere was given to write into. */
function placeOf(out: Picture): number {
  if (out.address === undefined) throw new Error('blend: the result must lie in the arena');
  return out.address;
}
const like = (picture: Picture, pictures: Pictures): Picture => pictures.takePicture(picture.width, picture.height);

/**
 * Blends `source` over `backdrop` with `opacity` 0..1, with the standard's alpha composition:
 * co = cs as (1 - ab) + cb ab (1 - as) + as ab B(cb, cs). `normal`, `add`, `multiply` and `screen` work on linear light (screen keeps values
 * above 1 by taking the larger); the others on display-encoded values clamped to 0..1, as the standard means them. Add is the plus operator on
 * premultiplied values. `out` may be the backdrop itself.
 */
export function blendOver(
  source: Picture,
  backdrop: Picture,
  blend: Blend,
  opacity: number,
  pictures: Pictures,
  out = like(backdrop, pictures),
): Picture {
  const { width, height } = backdrop,
    to = placeOf(out);
  withAddresses(pictures, [source, backdrop], (front, back) => {
    const a = front!,
      b = back!;
    if (blend === 'normal' && out === backdrop) pictures.run('overInto', height, a, b, opacity, width);
    else if (blend === 'normal' && opacity === 1) pictures.run('over', height, a, b, to, width);
    else if (blend === 'normal') pictures.run('overPart', height, a, b, opacity, to, width);
    else if (blend === 'add') pictures.run('plus', height, a, b, opacity, to, width);
    else if (blend === 'multiply' || blend === 'screen') pictures.run('blendLinear', height, a, b, opacity, blend === 'screen', to, width);
    else {
      const { encode, decode } = curveOf('srgb'),
        low = slopeAtBlack('srgb'),
        into = pictures.constant('blend encode', () => curveTable(encode, SHIFT)),
        outOf = pictures.constant('blend decode', () => curveTable(decode, SHIFT)),
        lows = pictures.constant('blend lows', () => [low, 1 / low]);
      pictures.run('blendEncoded', height, encodedModes[blend]!, a, b, opacity, into, outOf, lows, SHIFT, to, width);
    }
  });
  return out;
}

/**
 * Lays light (which has no alpha of its own) on a picture: by linear screen (a + b - ab up to 1, and never below either), or added. Light may be of
 * half the picture's size, since it is soft. `out` may be `below`.
 */
export function layLight(
  light: Picture,
  below: Picture,
  blend: 'screen' | 'add',
  opacity: number,
  pictures: Pictures,
  out = like(below, pictures),
): Picture {
  const { width, height } = below,
    to = placeOf(out);
  withAddresses(pictures, [light, below], (from, under) => {
    if (light.width !== width || light.height !== height)
      pictures.run('layHalfLight', height, from!, light.width, light.height, under!, opacity, blend === 'add', to, width);
    else if (blend === 'add') pictures.run('plus', height, from!, under!, opacity, to, width);
    else pictures.run('screenLight', height, from!, under!, opacity, to, width);
  });
  return out;
}

/** `before` where the mask is 0, `after` where it is 1; exact at both ends. `out` may be either. */
export function mixByMask(before: Picture, after: Picture, mask: Plane, pictures: Pictures, out = like(before, pictures)): Picture {
  const to = placeOf(out);
  withAddresses(pictures, [before, after, mask], (a, b, m) => pictures.run('mixByMask', out.height, a!, b!, m!, to, out.width));
  return out;
}

/** `base + weight (after - before)`: what an effect changed, laid onto another picture. `base` may be `before`; `out` may be the base. */
export function addDifference(
  base: Picture,
  before: Picture,
  after: Picture,
  weight: Plane,
  pictures: Pictures,
  out = like(base, pictures),
): Picture {
  const to = placeOf(out);
  withAddresses(pictures, out === base ? [before, after, weight] : [before, after, weight, base], (a, b, w, from = to) =>
    pictures.run('addDifference', out.height, from, a!, b!, w!, to, out.width),
  );
  return out;
}

/** A layer laid over what stands behind something (`before`), and so seen in `base` by `weight`: base + weight (over(front, before) - before). */
export function overBehind(
  front: Picture,
  base: Picture,
  before: Picture,
  weight: Plane,
  opacity: number,
  pictures: Pictures,
  out = like(base, pictures),
): Picture {
  const to = placeOf(out);
  withAddresses(pictures, out === base ? [front, before, weight] : [front, before, weight, base], (f, b, w, from = to) =>
    pictures.run('overBehind', out.height, f!, from, b!, w!, opacity, to, out.width),
  );
  return out;
}
