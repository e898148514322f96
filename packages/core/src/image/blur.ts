import { exp } from './exactMath';
import { channelsOf, type Picture, type Plane, type Raster } from './picture';
import type { Pictures } from './arena';
import { withAddresses } from './kernelCall';
import { takeLike } from './resize';

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
  const out = takeLike(pictures, source, (width + 1) >> 1, (height + 1) >> 1),
    line = pictures.takePlane(width * channels, 1);
  withAddresses(pictures, [source, out, line], (from, to, working) =>
    pictures.kernels.halve(from!, to!, width, height, channels, 0, out.height, working!),
  );
  pictures.give(line);
  return out;
}

/** Twice the size, by the same filter turned round (three parts of the near pixel, one of the far one). */
export function twiceSize<R extends Raster>(source: R, width: number, height: number, pictures: Pictures): R {
  const channels = channelsOf(source),
    out = takeLike(pictures, source, width, height),
    line = pictures.takePlane(source.width * channels, 1);
  withAddresses(pictures, [source, out, line], (from, to, working) =>
    pictures.kernels.double(from!, to!, source.width, source.height, channels, width, height, 0, height, working!),
  );
  pictures.give(line);
  return out;
}

/**
 * Gaussian blur of standard deviation `sigma` pixels, into a new raster; the edge pixel goes on beyond the edge. Small sigmas are
 * summed directly. Large ones go through a pyramid of halvings whose own variance is counted in, so the result stays a smooth
 * Gaussian without blocks at the cost of about two passes, whatever the sigma.
 */
export function blur<R extends Picture | Plane>(source: R, sigma: number, pictures: Pictures): R {
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
    line = pictures.takePlane((width + 2 * reach) * channels + 4, 1),
    between = takeLike(pictures, source);
  taps.data.set(weights);
  withAddresses(pictures, [source, between, out, taps, line], (from, middle, to, weightsAt, working) => {
    pictures.kernels.blurRows(from!, middle!, width, channels, 0, height, weightsAt!, reach, working!);
    pictures.kernels.blurColumns(middle!, to!, width * channels, height, 0, height, weightsAt!, reach);
  });
  for (const working of [between, line, taps]) pictures.give(working);
  return out;
}
