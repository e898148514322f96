import { createRequire } from 'node:module';
import { createCanvas, GlobalFonts, type SKRSContext2D } from '@napi-rs/canvas';

/** Our own font, so that a label looks the same wherever it is drawn. */
const FONT = '@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-500-normal.woff2',
  FAMILY = 'Label';
let known = false;
/** A canvas whose letters are `size` pixels; drawn on one pixel first, to measure. */
function lettered(width: number, height: number, size: number): SKRSContext2D {
  if (!known) known = GlobalFonts.registerFromPath(createRequire(import.meta.url).resolve(FONT), FAMILY) !== null;
  const context = createCanvas(width, height).getContext('2d');
  context.font = `${size}px ${FAMILY}`;
  context.fillStyle = '#fff';
  return context;
}

/** Coverage of a line of text, 0 to 255, one a pixel. */
export interface Label {
  width: number;
  height: number;
  cover: Uint8Array;
}
/**
 * Draws a line of text.
 * @param size height of its line in pixels; the letters are about half as tall.
 */
export function drawLabel(text: string, size: number): Label {
  const letters = (size * 10) / 16,
    width = Math.max(1, Math.ceil(lettered(1, 1, letters).measureText(text).width) + 2),
    height = Math.max(1, Math.ceil(size)),
    context = lettered(width, height, letters);
  context.fillText(text, 0, size * 0.68);
  const { data } = context.getImageData(0, 0, width, height);
  return { width, height, cover: Uint8Array.from({ length: width * height }, (_, p) => data[4 * p + 3]!) };
}

/** How dark the band behind a burnt-in label is made: what is below it stays to be seen. */
const BAND = 0.35;
/**
 * Burns a label into codes, at the lower left, light on a darkened band; in place.
 * @param codes interleaved, straight or without alpha.
 */
export function burnIn(codes: Uint8Array | Uint16Array, width: number, height: number, label: Label): void {
  const channels = codes.length / (width * height),
    full = codes instanceof Uint8Array ? 255 : 65535,
    pad = Math.round(label.height * 0.35),
    top = Math.max(0, height - label.height - pad),
    left = pad;
  for (let y = top; y < height; y++)
    for (let x = 0; x < Math.min(width, left + label.width + pad); x++) {
      const lx = x - left,
        ly = y - top,
        inside = lx >= 0 && lx < label.width && ly < label.height,
        a = inside ? label.cover[ly * label.width + lx]! / 255 : 0,
        i = (y * width + x) * channels;
      for (let c = 0; c < Math.min(3, channels); c++) codes[i + c] = Math.round(codes[i + c]! * BAND * (1 - a) + full * 0.94 * a);
      // A label is seen over nothing too.
      if (channels === 4) codes[i + 3] = Math.round(Math.max(codes[i + 3]!, full * (0.6 + 0.4 * a)));
    }
}
/** Height of a burnt-in line for a picture, pixels: a twentieth of it, and never too small to read. */
export const labelSize = (height: number): number => Math.max(18, Math.round(height / 24));
