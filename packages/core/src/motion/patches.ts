import type { Codes } from '../image/picture';
import type { Frame } from './frame';

/** Pixels of a small square picture, RGBA, 8 bits each. */
export interface PatchPicture {
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
}
/** Cuts a square of a frame of a clip out, as a picture of `size`: `side` pixels of the clip about a place. Null where that was given up. */
export type SquareCutter = (frame: number, at: readonly [number, number], side: number, size: number) => Promise<PatchPicture | null>;

/**
 * What a track carries, cut out of a frame of its clip as it would look without its motion: where it stands still in all of them, the track is right.
 * Where it becomes smaller, each of its pixels is the mean of those that it stands for.
 * @param side of the square that is cut out, pixels of the body. @param size of the picture, pixels.
 */
export function patchPicture(codes: Codes, frame: Pick<Frame, 'toPicture'>, side: number, size: number): PatchPicture {
  const { width, height, channels, bits, data } = codes,
    pixels = new Uint8ClampedArray(4 * size * size),
    k = side / size,
    each = Math.max(1, Math.round(k)),
    most = bits === 8 ? 255 : bits === 16 ? 65535 : 1,
    colour = channels >= 3 ? [0, 1, 2] : [0, 0, 0];
  for (let j = 0, p = 0; j < size; j++)
    for (let i = 0; i < size; i++, p += 4) {
      const sum = [0, 0, 0];
      for (let n = 0; n < each * each; n++) {
        const u = i + ((n % each) + 0.5) / each,
          v = j + (Math.floor(n / each) + 0.5) / each,
          [x, y] = frame.toPicture([u * k - side / 2, v * k - side / 2]);
        if (!(x >= 0 && y >= 0 && x < width && y < height)) continue;
        const at = (Math.floor(y) * width + Math.floor(x)) * channels;
        for (let c = 0; c < 3; c++) {
          const value = data[at + colour[c]!]! / most;
          sum[c]! += bits === 32 ? Math.sqrt(Math.max(0, value)) : value;
        }
      }
      for (let c = 0; c < 3; c++) pixels[p + c] = (255 * sum[c]!) / (each * each);
      pixels[p + 3] = 255;
    }
  return { width: size, height: size, pixels };
}
