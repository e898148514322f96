import { encodeCodes, type Arena, type Display, type Picture } from '@wraithos/core/image';
import type { Backdrop } from './protocol';

/** Linear light of the backdrops; a checker has two of them, in squares of so many pixels. */
const LIGHT: Record<Backdrop, readonly [number, number]> = { black: [0, 0], grey: [0.14, 0.14], white: [1, 1], checker: [0.06, 0.12] },
  SQUARE = 12;

/**
 * A picture as the display has it: opaque, on the backdrop. Light that covers nothing is added to it, as it is to whatever a picture with alpha is laid
 * on.
 * @param transfer the curve of the display.
 * @param opaque nothing of it is transparent.
 */
export function shownPixels(
  picture: Picture,
  frame: number,
  backdrop: Backdrop,
  opaque: boolean,
  arena: Arena,
  transfer: Display = 'srgb',
): Uint8ClampedArray<ArrayBuffer> {
  const { width, height } = picture;
  let shown = picture;
  if (backdrop !== 'black') {
    const [dark, light] = LIGHT[backdrop];
    shown = arena.takePicture(width, height);
    const from = picture.data,
      to = shown.data;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i += 4) {
        const behind = ((Math.floor(x / SQUARE) + Math.floor(y / SQUARE)) & 1 ? light : dark) * Math.max(0, 1 - from[i + 3]!);
        to[i] = from[i]! + behind;
        to[i + 1] = from[i + 1]! + behind;
        to[i + 2] = from[i + 2]! + behind;
        to[i + 3] = 1;
      }
  }
  // What is opaque is encoded at once as the display wants it.
  if (opaque) return new Uint8ClampedArray(encodeCodes(shown, { bits: 8, channels: 4, frame, transfer }, arena).buffer as ArrayBuffer);
  const rgb = encodeCodes(shown, { bits: 8, channels: 3, frame, transfer }, arena),
    out = new Uint8ClampedArray((rgb.length / 3) * 4);
  for (let i = 0, o = 0; i < rgb.length; i += 3, o += 4) {
    out[o] = rgb[i]!;
    out[o + 1] = rgb[i + 1]!;
    out[o + 2] = rgb[i + 2]!;
    out[o + 3] = 255;
  }
  if (shown !== picture) arena.give(shown);
  return out;
}
