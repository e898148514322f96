import { exp } from './exactMath';
import { bytesOf, channelsOf, type Picture, type Plane, type Raster } from './picture';
import type { Pictures } from './arena';
import { withAddresses } from './kernelCall';
import { takeLike } from './resize';

/** Above this sigma two levels are taken at a time on the way up. */
const FOURFOLD = 8;
/** Above this sigma a level of the pyramid is used. */
const DIRECT = 2;
/** Variance that one level adds: the filter 1 3 3 1 has 0.75 in fine pixels, and it is used down and up. */
const LEVEL_VARIANCE = 1.5;

function gaussian(sigma: number): Float64Array {
  const reach = Math.max(1, Math.ceil(sigma * 3)),
    taps = new Float64Array(reach + 1);
  let sum = 0;
  for (let i = 0; i <= reach; i++) {
    taps[i] = exp((-0.5 * i * i) / (sigma * sigma));
    sum += i ? 2 * taps[i]! : taps[i]!;
  }
  return taps.map((t) => t / sum);
}

/** Half size by the filter 1 3 3 1. */
export function halfSize<R extends Raster>(source: R, pictures: Pictures): R {
  const channels = channelsOf(source),
    { width, height } = source;
  const out = takeLike(pictures, source, (width + 1) >> 1, (height + 1) >> 1);
  withAddresses(pictures, [source, out], (from, to) => pictures.run('halve', out.height, from!, to!, width, height, channels));
  return out;
}

/** Half size (rounded up) by the mean of two by two; edge pixels go on. */
export function meanHalf(source: Picture, pictures: Pictures): Picture {
  const { width, height } = source,
    out = pictures.takePicture((width + 1) >> 1, (height + 1) >> 1);
  withAddresses(pictures, [source, out], (from, to) => pictures.run('meanHalf', out.height, from!, to!, width, height));
  return out;
}

/** Twice the size, by the same filter turned round (three parts of the near pixel, one of the far one). */
export function twiceSize<R extends Raster>(source: R, width: number, height: number, pictures: Pictures): R {
  const channels = channelsOf(source),
    out = takeLike(pictures, source, width, height);
  withAddresses(pictures, [source, out], (from, to) =>
    pictures.run('double', height, from!, to!, source.width, source.height, channels, width, height),
  );
  return out;
}

/**
 * Some rows of what `twiceSize` gives, to the bit; what the other rows hold is not defined.
 * @param width @param height of the whole result, pixels. @param from the first row, from 0. @param to the one after the last, at most `height`.
 * @returns a picture of the whole size.
 */
export function twiceRows(source: Picture, width: number, height: number, from: number, to: number, pictures: Pictures): Picture {
  const out = takeLike(pictures, source, width, height),
    // A row reads the one beside it: with one more on each side, no row that is asked for takes the part's end for the picture's.
    top = Math.max(0, (from >> 1) - 1),
    bottom = Math.min(source.height, ((to + 1) >> 1) + 1),
    rows = Math.min(height - 2 * top, 2 * (bottom - top));
  withAddresses(pictures, [source, out], (small, large) =>
    pictures.run(
      'double',
      rows,
      small! + (top * bytesOf(source)) / source.height,
      large! + (2 * top * bytesOf(out)) / height,
      source.width,
      bottom - top,
      4,
      width,
      rows,
    ),
  );
  return out;
}

/**
 * Gaussian blur of standard deviation `sigma` pixels, into a new raster; the edge pixel goes on beyond the edge. Small sigmas are
 * summed directly. Large ones go through a pyramid of halvings whose own variance is counted in, so the result stays a smooth
 * Gaussian without blocks at the cost of about two passes, whatever the sigma.
 */
export function blur<R extends Picture | Plane>(source: R, sigma: number, pictures: Pictures): R {
  if (sigma > FOURFOLD && source.kind === 'picture' && Math.min(source.width, source.height) > 8)
    return blurFourfold(source, sigma, pictures) as R;
  if (sigma > DIRECT && Math.min(source.width, source.height) > 4) {
    const small = halfSize(source, pictures);
    const soft = blur(small, Math.sqrt((sigma * sigma - LEVEL_VARIANCE) / 4), pictures);
    pictures.give(small);
    const out = twiceSize(soft, source.width, source.height, pictures);
    pictures.give(soft);
    return out;
  }
  const out = takeLike(pictures, source);
  if (!(sigma > 0.05)) {
    out.data.set(source.data);
    return out;
  }
  const { width, height } = source,
    channels = channelsOf(source),
    weights = gaussian(sigma),
    reach = weights.length - 1;
  const taps = pictures.takePlane(weights.length, 1),
    between = takeLike(pictures, source);
  taps.data.set(weights);
  withAddresses(pictures, [source, between, out, taps], (from, middle, to, weightsAt) => {
    pictures.run('blurRows', height, from!, middle!, width, channels, weightsAt!, reach);
    pictures.run('blurColumns', height, middle!, to!, width * channels, height, weightsAt!, reach);
  });
  for (const working of [between, taps]) pictures.give(working);
  return out;
}

/** Above this sigma a picture that is mostly empty is blurred as any other. */
const DRAWN = 2;
/** The same blur of a picture of which most is empty, as what effects draw is: only where something is. */
export function soften(source: Picture, sigma: number, pictures: Pictures): Picture {
  if (sigma > DRAWN || !(sigma > 0.05)) return blur(source, sigma, pictures);
  const { width, height } = source,
    weights = gaussian(sigma),
    taps = pictures.takePlane(weights.length, 1),
    spans = pictures.takePlane(2 * height, 1),
    out = pictures.takePicture(width, height);
  taps.data.set(weights);
  withAddresses(pictures, [source, spans, taps, out], (from, within, weightsAt, to) => {
    pictures.run('rowSpans', height, from!, within!, width);
    pictures.run('softenDrawn', height, from!, to!, within!, width, height, weightsAt!, weights.length - 1);
  });
  for (const working of [taps, spans]) pictures.give(working);
  return out;
}

/** A quarter of the size, each pixel the mean of four by four. */
export function quarterSize(source: Picture, pictures: Pictures): Picture {
  const { width, height } = source,
    small = pictures.takePicture((width + 3) >> 2, (height + 3) >> 2);
  withAddresses(pictures, [source, small], (from, to) => pictures.run('quarter', small.height, from!, to!, width, height));
  return small;
}
/** The same of a plane. */
export function quarterPlane(source: Plane, pictures: Pictures): Plane {
  const { width, height } = source,
    small = pictures.takePlane((width + 3) >> 2, (height + 3) >> 2);
  withAddresses(pictures, [source, small], (from, to) => pictures.run('quarterPlane', small.height, from!, to!, width, height));
  return small;
}
/** Variance of means of four by four (1.25) and of the enlarging back (0.75 + 4 x 0.75), in fine pixels. */
const FOURFOLD_VARIANCE = 5;
/** Two levels of the pyramid in one step down and one step up: what lies between is never written. */
function blurFourfold(source: Picture, sigma: number, pictures: Pictures): Picture {
  const { width, height } = source,
    small = quarterSize(source, pictures),
    out = pictures.takePicture(width, height);
  const soft = blur(small, Math.sqrt((sigma * sigma - FOURFOLD_VARIANCE) / 16), pictures);
  pictures.give(small);
  withAddresses(pictures, [soft, out], (from, to) => pictures.run('fourfold', height, from!, to!, soft.width, soft.height, width, height));
  pictures.give(soft);
  return out;
}

/** One blur of a sum: its sigma and what each channel of it is worth. */
export interface BlurPart {
  sigma: number;
  weight: readonly [number, number, number, number];
}

/** a ka + b kb, each channel with its own weight; into `out`, which may be one of them. */
export function weighedSum(
  a: Picture,
  ka: BlurPart['weight'],
  b: Picture,
  kb: BlurPart['weight'],
  pictures: Pictures,
  out = pictures.takePicture(a.width, a.height),
): Picture {
  const weights = pictures.takePlane(8, 1);
  weights.data.set([...ka, ...kb]);
  withAddresses(pictures, [a, b, weights], (x, y, w) => pictures.run('weighedSum', out.height, x!, y!, w!, out.address!, out.width));
  pictures.give(weights);
  return out;
}

/**
 * The sigma at half the size that gives `sigma` at the whole one, for light that is halved by means of two by two (variance 0.25) and laid on by the
 * filter of `double` (0.75).
 */
export const halfSigma = (sigma: number): number => Math.sqrt(Math.max(0, sigma * sigma - 1) / 4);

/** Sigmas one level down the pyramid, the level's own variance taken off. */
const atHalf = (parts: readonly BlurPart[]): BlurPart[] =>
  parts.map((p) => ({ ...p, sigma: Math.sqrt((p.sigma * p.sigma - LEVEL_VARIANCE) / 4) }));

const WHOLE = [1, 1, 1, 1] as const,
  NONE = [0, 0, 0, 0] as const;

/**
 * Weighed sum of Gaussian blurs of one picture. They share one pyramid: each is added at the level where its sigma is small, so that the widest
 * costs no more than the halvings down to it. @throws Error without parts.
 */
export function blurSum(source: Picture, parts: readonly BlurPart[], pictures: Pictures): Picture {
  const smallest = Math.min(source.width, source.height) <= 4,
    here = parts.filter((p) => p.sigma <= DIRECT || smallest),
    below = parts.filter((p) => !here.includes(p));
  let sum: Picture | null = null;
  if (below.length) {
    const half = halfSize(source, pictures),
      coarse = blurSum(half, atHalf(below), pictures);
    pictures.give(half);
    sum = twiceSize(coarse, source.width, source.height, pictures);
    pictures.give(coarse);
  }
  for (const { sigma, weight } of here) {
    const soft = blur(source, sigma, pictures);
    if (sum) weighedSum(sum, WHOLE, soft, weight, pictures, sum);
    else sum = weighedSum(soft, weight, soft, NONE, pictures, soft);
    if (sum !== soft) pictures.give(soft);
  }
  if (!sum) throw new Error('blurSum: there is nothing to sum');
  return sum;
}
