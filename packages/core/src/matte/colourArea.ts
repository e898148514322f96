import type { Pictures } from '../image/arena';
import { smoothstep } from '../image/exactMath';
import type { Picture, Plane } from '../image/picture';
import { decodeValue } from '../image/transfer';

export interface ColourArea {
  /** Display-encoded, 0..1. */
  colour: readonly [number, number, number];
  /** How far a pixel's largest channel may be from it, percent of the display range. */
  similarity: number;
  /** Only what is connected to this place of the picture (its pixels); null is everywhere. */
  connected: readonly [number, number] | null;
}

/** Width of the ramp beyond the similarity, percent: the soft edge that anti-aliased drawings have. */
const RAMP = 14;

/**
 * Matte of a flat colour, 0..1, times what the picture covers. Square roots stand for display values, as in the difference matte. An area is
 * connected where more than half of a pixel is of the colour, and includes the soft edge around it.
 */
export function colourArea(plate: Picture, { colour, similarity, connected }: ColourArea, pictures: Pictures): Plane {
  const { width, height, data } = plate,
    out = pictures.takePlane(width, height),
    o = out.data,
    key = colour.map((v) => Math.sqrt(decodeValue(v))),
    low = similarity / 100,
    high = (similarity + RAMP) / 100;
  for (let p = 0, i = 0; p < o.length; p++, i += 4) {
    const a = data[i + 3]!;
    if (!(a > 1e-4)) {
      o[p] = 0;
      continue;
    }
    let d = 0;
    for (let c = 0; c < 3; c++) d = Math.max(d, Math.abs(Math.sqrt(Math.max(0, data[i + c]! / a)) - key[c]!));
    o[p] = smoothstep(high, low, d) * a;
  }
  if (!connected) return out;
  const kept = new Uint8Array(width * height),
    x = Math.floor(connected[0]),
    y = Math.floor(connected[1]),
    stack: number[] = [];
  if (x >= 0 && y >= 0 && x < width && y < height && o[y * width + x]! > 0.5) stack.push(y * width + x);
  while (stack.length) {
    const p = stack.pop()!;
    if (kept[p]) continue;
    kept[p] = 1;
    const px = p % width;
    if (px > 0 && o[p - 1]! > 0.5) stack.push(p - 1);
    if (px + 1 < width && o[p + 1]! > 0.5) stack.push(p + 1);
    if (p >= width && o[p - width]! > 0.5) stack.push(p - width);
    if (p + width < o.length && o[p + width]! > 0.5) stack.push(p + width);
  }
  for (let py = 0, p = 0; py < height; py++)
    for (let px = 0; px < width; px++, p++) {
      if (kept[p] || o[p] === 0) continue;
      const edge =
        (px > 0 && kept[p - 1]) || (px + 1 < width && kept[p + 1]) || (py > 0 && kept[p - width]) || (py + 1 < height && kept[p + width]);
      if (!edge) o[p] = 0;
    }
  return out;
}
