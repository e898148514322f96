import { smoothstep } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import { blur } from '../image/blur';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { decodeValue } from '../image/transfer';

export interface DifferenceOptions {
  /** Difference that counts as subject, percent of the display range. */
  threshold: number;
  /** Width of the ramp around the threshold, same unit. */
  softness: number;
  /** Radius (2 sigma) in pixels that the difference is smoothed by first, against grain. */
  smooth: number;
  shadow: 'kept' | 'dropped';
}

/**
 * Difference matte, 0..1: how far the plate is from its clean plate, by the largest channel. Square roots stand for display values
 * (a display gamma of 2), so that a threshold means the same in dark and bright parts. With shadows dropped, pixels that are the
 * clean plate made darker by about the same factor in every channel do not count.
 */
export function differenceMatte(plate: Picture, clean: Picture, options: DifferenceOptions, pictures: Pictures): Plane {
  const { width, height } = plate,
    difference = pictures.takePicture(width, height);
  withAddresses(pictures, [plate, clean, difference], (a, c, to) => pictures.run('rootDifference', height, a!, c!, to!, width));
  const soft = options.smooth > 0.1 ? blur(difference, options.smooth / 2, pictures) : difference,
    out = pictures.takePlane(width, height),
    low = (options.threshold - options.softness / 2) / 100,
    high = (options.threshold + options.softness / 2) / 100 + 1e-6;
  withAddresses(pictures, [soft, clean, out], (d, c, to) =>
    pictures.run('differenceAmount', height, d!, c!, low, high, options.shadow === 'dropped', to!, width),
  );
  if (soft !== difference) pictures.give(soft);
  pictures.give(difference);
  return out;
}

/**
 * Chroma key, 0..1 (1 = subject): distance of each pixel's colour difference from the backing's, so that shading of the backing
 * matters little. `tolerance` and `softness` in percent of the backing's own colour strength.
 */
export function chromaMatte(
  plate: Picture,
  backing: readonly [number, number, number],
  options: { tolerance: number; softness: number },
  pictures: Pictures,
): Plane {
  const key = backing.map((v) => Math.sqrt(decodeValue(v))) as [number, number, number],
    out = pictures.takePlane(plate.width, plate.height),
    luma = 0.2126 * key[0] + 0.7152 * key[1] + 0.0722 * key[2],
    blue = key[2] - luma,
    red = key[0] - luma,
    strength = Math.max(0.05, Math.sqrt(blue * blue + red * red)),
    low = options.tolerance / 100,
    high = low + options.softness / 100 + 1e-6;
  withAddresses(pictures, [plate, out], (p, to) =>
    pictures.run('chromaDistance', plate.height, p!, blue, red, strength, low, high, to!, plate.width),
  );
  return out;
}

/** What a luma key can measure of a pixel. */
export const lumaParts = ['brightness', 'red', 'green', 'blue', 'saturation'] as const;
export interface LumaOptions {
  of: (typeof lumaParts)[number];
  /** Values that are in the matte, and the width of the ramps that are centred on both, percent of the display range. */
  low: number;
  high: number;
  softness: number;
}
/**
 * Luma key, 0..1: what lies between two values. Square roots stand for display values; brightness has the weights of Rec. 709. From 0 and to 100 are open
 * ends: nothing is too dark or too bright, also beyond white.
 */
export function lumaMatte(plate: Picture, { of, low, high, softness }: LumaOptions, pictures: Pictures): Plane {
  const out = pictures.takePlane(plate.width, plate.height),
    a = plate.data,
    half = softness / 200 + 5e-7,
    [from, to] = [low / 100, high / 100],
    channel = lumaParts.indexOf(of) - 1;
  for (let p = 0, i = 0; p < out.data.length; p++, i += 4) {
    const r = Math.max(0, a[i]!),
      g = Math.max(0, a[i + 1]!),
      b = Math.max(0, a[i + 2]!),
      most = Math.max(r, g, b),
      v =
        of === 'brightness'
          ? Math.sqrt(0.2126 * r + 0.7152 * g + 0.0722 * b)
          : of === 'saturation'
            ? most > 1e-6
              ? 1 - Math.sqrt(Math.min(r, g, b) / most)
              : 0
            : Math.sqrt(channel === 0 ? r : channel === 1 ? g : b);
    out.data[p] = (low > 0 ? smoothstep(from - half, from + half, v) : 1) * (high < 100 ? 1 - smoothstep(to - half, to + half, v) : 1);
  }
  return out;
}
