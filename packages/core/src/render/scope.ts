import type { Picture } from '../image/picture';
import { encodeValue } from '../image/transfer';

/** What is measured of a whole picture: how its values are spread. Values are display-encoded (sRGB). */
export interface Scope {
  /** Counts of red, green, blue and luma by value, 256 steps each, one after another; what is brighter or darker counts at the ends. */
  histogram: Uint32Array;
  /** Counts of luma by column (`SCOPE_COLUMNS`) and value (`SCOPE_STEPS`, the darkest first), column by column. */
  waveform: Uint16Array;
  /** Counts by hue and strength: `SCOPE_PLOT` squared, blue difference to the right and red difference upwards, no colour in the middle. */
  plot: Uint16Array;
  /** Pixels that were counted. */
  counted: number;
}
export const SCOPE_COLUMNS = 256,
  SCOPE_STEPS = 100,
  SCOPE_PLOT = 101;

/** Pixels that are looked at, at the most: enough for every plot to be even. */
const MOST = 18_000;
const FINE = 2048;
let codes: Float32Array | null = null;
/** Display-encoded value of linear light, 0..1, by a table over its square root. */
function encoded(x: number): number {
  codes ??= Float32Array.from({ length: FINE + 1 }, (_, i) => encodeValue((i / FINE) * (i / FINE)));
  return x > 0 ? (x >= 1 ? 1 : codes[Math.round(Math.sqrt(x) * FINE)]!) : 0;
}

/**
 * How the values of a picture are spread. Luma and colour differences as in ITU-R BT.709-6, section 3, on the codes: (B' - Y') / 1.8556 and
 * (R' - Y') / 1.5748, from -0.5 to 0.5.
 */
export function scopeOf({ width, height, data }: Picture): Scope {
  const step = Math.max(1, Math.ceil(Math.sqrt((width * height) / MOST))),
    histogram = new Uint32Array(4 * 256),
    waveform = new Uint16Array(SCOPE_COLUMNS * SCOPE_STEPS),
    plot = new Uint16Array(SCOPE_PLOT * SCOPE_PLOT),
    middle = (SCOPE_PLOT - 1) / 2;
  let counted = 0;
  for (let y = step >> 1; y < height; y += step)
    for (let x = step >> 1; x < width; x += step) {
      const i = (y * width + x) * 4,
        r = encoded(data[i]!),
        g = encoded(data[i + 1]!),
        b = encoded(data[i + 2]!),
        luma = 0.2126 * r + 0.7152 * g + 0.0722 * b;
      histogram[Math.round(255 * r)]!++;
      histogram[256 + Math.round(255 * g)]!++;
      histogram[512 + Math.round(255 * b)]!++;
      histogram[768 + Math.round(255 * luma)]!++;
      waveform[Math.floor((x * SCOPE_COLUMNS) / width) * SCOPE_STEPS + Math.min(SCOPE_STEPS - 1, Math.floor(luma * SCOPE_STEPS))]!++;
      const u = middle + Math.round(((b - luma) / 1.8556) * (SCOPE_PLOT - 1)),
        v = middle - Math.round(((r - luma) / 1.5748) * (SCOPE_PLOT - 1));
      plot[v * SCOPE_PLOT + u]!++;
      counted++;
    }
  return { histogram, waveform, plot, counted };
}

/** The mean of a box of a picture (whole pixels; right and bottom are outside): linear red, green, blue and alpha; null where it is empty. */
export function meanOf(
  { width, height, data }: Picture,
  [left, top, right, bottom]: readonly [number, number, number, number],
): [number, number, number, number] | null {
  const x0 = Math.max(0, Math.floor(left)),
    y0 = Math.max(0, Math.floor(top)),
    x1 = Math.min(width, Math.ceil(right)),
    y1 = Math.min(height, Math.ceil(bottom));
  if (!(x1 > x0 && y1 > y0)) return null;
  const sums: [number, number, number, number] = [0, 0, 0, 0];
  for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) for (let c = 0; c < 4; c++) sums[c]! += data[(y * width + x) * 4 + c]!;
  const n = (x1 - x0) * (y1 - y0);
  return sums.map((s) => s / n) as typeof sums;
}
