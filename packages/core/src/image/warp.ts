import type { Pictures } from './arena';
import type { Picture } from './picture';

/** What lies beyond the edge: the picture turned over, or its edge pixel going on. Neither pulls black in. */
export const edgeNames = ['mirror', 'hold'] as const;
export type Edge = (typeof edgeNames)[number];

function fold(x: number, size: number): number {
  const span = 2 * size;
  let t = x - Math.floor(x / span) * span;
  if (t > size) t = span - t;
  return t;
}

/**
 * Moves pixels: out(x, y) = source(x + dx, y + dy), bilinear. `field` holds dx, dy in pixels for each pixel, interleaved.
 * A field that is not a number counts as no displacement.
 */
export function warp(source: Picture, field: Float32Array<ArrayBufferLike>, edge: Edge, pictures: Pictures): Picture {
  const { width, height, data: from } = source,
    out = pictures.takePicture(width, height),
    to = out.data;
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const dx = field[2 * p]!,
        dy = field[2 * p + 1]!,
        o = p * 4;
      let sx = x + (dx === dx ? dx : 0),
        sy = y + (dy === dy ? dy : 0);
      if (edge === 'mirror') {
        sx = fold(sx + 0.5, width) - 0.5;
        sy = fold(sy + 0.5, height) - 0.5;
      }
      sx = sx < 0 ? 0 : sx > width - 1 ? width - 1 : sx;
      sy = sy < 0 ? 0 : sy > height - 1 ? height - 1 : sy;
      const xi = Math.floor(sx),
        yi = Math.floor(sy),
        tx = sx - xi,
        ty = sy - yi;
      const a = (yi * width + xi) * 4,
        right = xi + 1 < width ? 4 : 0,
        down = yi + 1 < height ? width * 4 : 0;
      for (let c = 0; c < 4; c++) {
        const top = from[a + c]! + (from[a + right + c]! - from[a + c]!) * tx;
        const bottom = from[a + down + c]! + (from[a + down + right + c]! - from[a + down + c]!) * tx;
        to[o + c] = top + (bottom - top) * ty;
      }
    }
  return out;
}
