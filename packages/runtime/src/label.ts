import { createRequire } from 'node:module';
import { loadSync, type Font } from 'opentype.js';
import sharp from 'sharp';

/** Our own font, so that a label looks the same wherever it is drawn. */
const FONT = '@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-500-normal.woff';
let font: Font | null = null;
const theFont = (): Font => (font ??= loadSync(createRequire(import.meta.url).resolve(FONT)));

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
export async function drawLabel(text: string, size: number): Promise<Label> {
  const letters = (size * 10) / 16,
    path = theFont().getPath(text, 0, size * 0.68, letters),
    width = Math.max(1, Math.ceil(theFont().getAdvanceWidth(text, letters)) + 2),
    height = Math.max(1, Math.ceil(size)),
    svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${path.toSVG(2).replace('<path', '<path fill="#fff"')}</svg>`,
    cover = await sharp(Buffer.from(svg)).ensureAlpha().extractChannel('alpha').raw().toBuffer();
  return { width, height, cover: new Uint8Array(cover) };
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
