import type { Thumb } from './protocol';

const WIDTH = 160,
  /** Pixels of a side that a point of the small picture is the mean of. */
  TAPS = 3;

/** A small copy of RGBA pixels: for each of its points the mean of a few pixels spread over what it stands for. */
export function thumbOf(pixels: Uint8ClampedArray, width: number, height: number, most = WIDTH): Thumb {
  const w = Math.min(most, width),
    h = Math.max(1, Math.round((w * height) / width)),
    out = new Uint8ClampedArray(w * h * 4);
  for (let y = 0, o = 0; y < h; y++)
    for (let x = 0; x < w; x++, o += 4) {
      const sums = [0, 0, 0];
      for (let j = 0; j < TAPS; j++)
        for (let i = 0; i < TAPS; i++) {
          const px = Math.floor(((x + (i + 0.5) / TAPS) * width) / w),
            py = Math.floor(((y + (j + 0.5) / TAPS) * height) / h),
            p = (py * width + px) * 4;
          for (let c = 0; c < 3; c++) sums[c]! += pixels[p + c]!;
        }
      for (let c = 0; c < 3; c++) out[o + c] = sums[c]! / (TAPS * TAPS);
      out[o + 3] = 255;
    }
  return { width: w, height: h, pixels: out };
}
