import type { Codes } from '../image/picture';
import type { Frame } from './frame';

/** Pixels of a small square picture, RGBA, 8 bits each. */
export interface PatchPicture {
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
}

/** What a track carries, cut out of a frame of its clip as it would look without its motion: where it stands still in all of them, the track is right. */
export function patchPicture(codes: Codes, frame: Pick<Frame, 'toPicture'>, side: number, size: number): PatchPicture {
  const { width, height, channels, bits, data } = codes,
    pixels = new Uint8ClampedArray(4 * size * size),
    k = side / size,
    most = bits === 8 ? 255 : bits === 16 ? 65535 : 1,
    colour = channels >= 3 ? [0, 1, 2] : [0, 0, 0];
  for (let j = 0, p = 0; j < size; j++)
    for (let i = 0; i < size; i++, p += 4) {
      const [x, y] = frame.toPicture([(i + 0.5) * k - side / 2, (j + 0.5) * k - side / 2]),
        xi = Math.min(width - 1, Math.max(0, Math.floor(x))),
        yi = Math.min(height - 1, Math.max(0, Math.floor(y))),
        at = (yi * width + xi) * channels,
        inside = x >= 0 && y >= 0 && x < width && y < height;
      for (let c = 0; c < 3; c++) {
        const v = data[at + colour[c]!]! / most;
        pixels[p + c] = inside ? 255 * (bits === 32 ? Math.sqrt(Math.max(0, v)) : v) : 0;
      }
      pixels[p + 3] = 255;
    }
  return { width: size, height: size, pixels };
}
