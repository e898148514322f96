import { exp } from './exactMath';
import { channelsOf, type Picture, type Plane, type Raster } from './picture';
import type { Pictures } from './arena';
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

/** Weighted sum along rows or columns; beyond the edge the edge pixel goes on. */
function pass(
  from: Float32Array<ArrayBufferLike>,
  to: Float32Array<ArrayBufferLike>,
  width: number,
  height: number,
  channels: number,
  taps: Float64Array,
  vertical: boolean,
): void {
  const reach = taps.length - 1,
    row = width * channels,
    centre = taps[0]!;
  if (vertical) {
    const sum = new Float64Array(row); // one row stays in the processor's cache while its taps are added
    for (let y = 0; y < height; y++) {
      const at = y * row;
      for (let i = 0; i < row; i++) sum[i] = from[at + i]! * centre;
      for (let k = 1; k <= reach; k++) {
        const above = Math.max(0, y - k) * row,
          below = Math.min(height - 1, y + k) * row,
          w = taps[k]!;
        for (let i = 0; i < row; i++) sum[i]! += (from[above + i]! + from[below + i]!) * w;
      }
      to.set(sum, at);
    }
    return;
  }
  const padded = new Float64Array(row + 2 * reach * channels),
    sum = new Float64Array(row);
  for (let y = 0; y < height; y++) {
    const at = y * row;
    for (let k = 0; k < reach; k++)
      for (let c = 0; c < channels; c++) {
        padded[k * channels + c] = from[at + c]!;
        padded[(reach + width + k) * channels + c] = from[at + row - channels + c]!;
      }
    for (let i = 0; i < row; i++) padded[reach * channels + i] = from[at + i]!;
    for (let i = 0; i < row; i++) sum[i] = padded[reach * channels + i]! * centre;
    for (let k = 1; k <= reach; k++) {
      const w = taps[k]!,
        before = (reach - k) * channels,
        after = (reach + k) * channels;
      for (let i = 0; i < row; i++) sum[i]! += (padded[before + i]! + padded[after + i]!) * w;
    }
    to.set(sum, at);
  }
}

/** Half size by the filter 1 3 3 1. */
function halve<R extends Raster>(source: R, pictures: Pictures): R {
  const channels = channelsOf(source),
    { width, height } = source,
    w = (width + 1) >> 1,
    h = (height + 1) >> 1;
  const out = takeLike(pictures, source, w, h),
    rows = takeLike(pictures, source, width, h),
    from = source.data,
    mid = rows.data,
    to = out.data,
    row = width * channels;
  const edge = (i: number, size: number) => (i < 0 ? 0 : i >= size ? size - 1 : i);
  for (let y = 0; y < h; y++) {
    const a = edge(2 * y - 1, height) * row,
      b = edge(2 * y, height) * row,
      c = edge(2 * y + 1, height) * row,
      d = edge(2 * y + 2, height) * row,
      at = y * row;
    for (let i = 0; i < row; i++) mid[at + i] = 0.125 * (from[a + i]! + from[d + i]!) + 0.375 * (from[b + i]! + from[c + i]!);
  }
  for (let x = 0; x < w; x++) {
    const a = edge(2 * x - 1, width) * channels,
      b = edge(2 * x, width) * channels,
      c = edge(2 * x + 1, width) * channels,
      d = edge(2 * x + 2, width) * channels;
    for (let y = 0; y < h; y++)
      for (let q = 0; q < channels; q++) {
        const at = y * row + q;
        to[(y * w + x) * channels + q] = 0.125 * (mid[at + a]! + mid[at + d]!) + 0.375 * (mid[at + b]! + mid[at + c]!);
      }
  }
  pictures.give(rows);
  return out;
}

/** Twice the size, by the same filter turned round (three parts of the near pixel, one of the far one). */
function double<R extends Raster>(source: R, width: number, height: number, pictures: Pictures): R {
  const channels = channelsOf(source),
    { width: w, height: h } = source;
  const out = takeLike(pictures, source, width, height),
    mixed = new Float64Array(w * channels),
    from = source.data,
    to = out.data;
  for (let y = 0; y < height; y++) {
    const near = y >> 1,
      far = Math.min(h - 1, Math.max(0, y & 1 ? near + 1 : near - 1));
    const a = near * w * channels,
      b = far * w * channels;
    for (let i = 0; i < w * channels; i++) mixed[i] = 0.75 * from[a + i]! + 0.25 * from[b + i]!;
    for (let x = 0; x < width; x++) {
      const p = (x >> 1) * channels,
        q = Math.min(w - 1, Math.max(0, x & 1 ? (x >> 1) + 1 : (x >> 1) - 1)) * channels,
        at = (y * width + x) * channels;
      for (let c = 0; c < channels; c++) to[at + c] = 0.75 * mixed[p + c]! + 0.25 * mixed[q + c]!;
    }
  }
  return out;
}

/**
 * Gaussian blur of standard deviation `sigma` pixels, into a new raster; the edge pixel goes on beyond the edge. Small sigmas are
 * summed directly. Large ones go through a pyramid of halvings whose own variance is counted in, so the result stays a smooth
 * Gaussian without blocks at the cost of about two passes, whatever the sigma.
 */
export function blur<R extends Picture | Plane>(source: R, sigma: number, pictures: Pictures): R {
  if (sigma > DIRECT && Math.min(source.width, source.height) > 4) {
    const small = halve(source, pictures);
    const soft = blur(small, Math.sqrt((sigma * sigma - LEVEL_VARIANCE) / 4), pictures);
    pictures.give(small);
    const out = double(soft, source.width, source.height, pictures);
    pictures.give(soft);
    return out;
  }
  const out = takeLike(pictures, source);
  if (!(sigma > 0.05)) {
    out.data.set(source.data);
    return out;
  }
  const taps = gaussian(sigma),
    between = takeLike(pictures, source),
    channels = channelsOf(source);
  pass(source.data, between.data, source.width, source.height, channels, taps, false);
  pass(between.data, out.data, source.width, source.height, channels, taps, true);
  pictures.give(between);
  return out;
}
