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
  /** Drawn lines that are taken along: the widest, pixels, and the brightest, 0..1 of the display range; null for none. */
  lines?: { width: number; shade: number } | null;
}

/** Width of the ramp beyond the similarity, percent: the soft edge that anti-aliased drawings have. */
const RAMP = 14;

/**
 * Matte of a flat colour, 0..1, times what the picture covers. Square roots stand for display values, as in the difference matte. An area is
 * connected where more than half of a pixel is of the colour, and includes the soft edge around it.
 */
export function colourArea(plate: Picture, { colour, similarity, connected, lines }: ColourArea, pictures: Pictures): Plane {
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
  if (connected) keepConnected(out, connected);
  if (lines) takeLines(plate, out, lines);
  return out;
}

/** Empties what is not connected to a place, in place. */
function keepConnected({ width, height, data: o }: Plane, connected: readonly [number, number]): void {
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
}

/** Adds the dark lines that border an area, as far as they are wide, in place. */
function takeLines(plate: Picture, { width, height, data: o }: Plane, { width: most, shade }: { width: number; shade: number }): void {
  const p = plate.data,
    /** How much of a pixel is line, by its brightness: full a little below the shade. */
    line = (k: number) => {
      const a = p[4 * k + 3]!,
        v = a > 1e-4 ? Math.sqrt(Math.max(0, p[4 * k]!, p[4 * k + 1]!, p[4 * k + 2]!) / a) : 1;
      return smoothstep(shade + 0.15, shade, v) * a;
    };
  let edge: number[] = [];
  for (let k = 0; k < o.length; k++) if (o[k]! > 0.3) edge.push(k);
  const seen = new Uint8Array(o.length);
  for (const k of edge) seen[k] = 1;
  // Pixel by pixel outwards from the area, over what is line.
  for (let step = 0; step < Math.round(most) && edge.length; step++) {
    const next: number[] = [];
    for (const k of edge) {
      const x = k % width;
      for (const q of [x > 0 ? k - 1 : -1, x + 1 < width ? k + 1 : -1, k - width, k + width]) {
        if (q < 0 || q >= width * height || seen[q]) continue;
        seen[q] = 1;
        const covered = line(q);
        if (covered <= 0.05) continue;
        o[q] = Math.max(o[q]!, covered);
        next.push(q);
      }
    }
    edge = next;
  }
}
