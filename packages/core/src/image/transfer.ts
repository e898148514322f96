import { pow } from './exactMath';
import { uniform } from './random';
import type { Codes, Picture, Plane } from './picture';

/** Transfer curves: IEC 61966-2-1 (sRGB), ITU-R BT.709-6 (OETF and its inverse), and none. */
export const transferNames = ['srgb', 'rec709', 'linear'] as const;
export type Transfer = (typeof transferNames)[number];

const ALPHA = 1.09929682680944,
  BETA = 0.018053968510807;
const curves: Record<Transfer, { decode(v: number): number; encode(x: number): number }> = {
  srgb: {
    decode: (v) => (v <= 0.04045 ? v / 12.92 : pow((v + 0.055) / 1.055, 2.4)),
    encode: (x) => (x <= 0.0031308 ? x * 12.92 : 1.055 * pow(x, 1 / 2.4) - 0.055),
  },
  // The standard's rounded constants leave a small step between the two parts; these digits (as in ITU-R BT.2020) join them.
  rec709: {
    decode: (v) => (v < 4.5 * BETA ? v / 4.5 : pow((v + ALPHA - 1) / ALPHA, 1 / 0.45)),
    encode: (x) => (x < BETA ? x * 4.5 : ALPHA * pow(x, 0.45) - (ALPHA - 1)),
  },
  linear: { decode: (v) => v, encode: (x) => x },
};

const decodeTables = new Map<string, Float32Array>();
function decodeTable(transfer: Transfer, bits: 8 | 16): Float32Array {
  const key = `${transfer}${bits}`;
  let table = decodeTables.get(key);
  if (!table) {
    const top = bits === 8 ? 255 : 65535;
    table = new Float32Array(top + 1).map((_, i) => curves[transfer].decode(i / top));
    decodeTables.set(key, table);
  }
  return table;
}

/**
 * The encoding curve as a table over the float's own bits: 4096 steps to each octave from 2^-14 to 1, linear between. The error
 * stays below 0.002 of a 16-bit step, far inside the half step that reading and writing the same codes needs, and a picture costs
 * one look-up a value in place of one power.
 */
const FIRST = 0x38800000; // the bits of 2^-14
const SHIFT = 11;
const ENTRIES = (0x3f800000 - FIRST) >> SHIFT;
const encodeTables = new Map<Transfer, Float64Array>();
function encodeTable(transfer: Transfer): Float64Array {
  let table = encodeTables.get(transfer);
  if (!table) {
    const bits = new Uint32Array(1),
      value = new Float32Array(bits.buffer);
    table = new Float64Array(ENTRIES + 2);
    for (let i = 0; i <= ENTRIES + 1; i++) {
      bits[0] = FIRST + (i << SHIFT);
      table[i] = curves[transfer].encode(value[0]!);
    }
    encodeTables.set(transfer, table);
  }
  return table;
}

const lowSlope: Record<Transfer, number> = { srgb: 12.92, rec709: 4.5, linear: 1 };

/** One linear value to its encoded value, clamped to 0..1; not a number becomes 0. For a few values; pictures use `encodeCodes`. */
export function encodeValue(x: number, transfer: Transfer = 'srgb'): number {
  return x > 0 ? (x >= 1 ? 1 : curves[transfer].encode(x)) : 0;
}
/** One encoded value (0..1) to linear light. */
export const decodeValue = (v: number, transfer: Transfer = 'srgb'): number => curves[transfer].decode(v);

/** Codes to linear premultiplied light. `out` has the codes' size. */
export function decodeCodes(codes: Codes, transfer: Transfer, out: Picture): Picture {
  const table = decodeTable(transfer, codes.bits),
    top = codes.bits === 8 ? 255 : 65535;
  const from = codes.data,
    to = out.data,
    n = codes.width * codes.height,
    channels = codes.channels;
  if (channels === 4) {
    for (let i = 0, j = 0; i < n * 4; i += 4, j += 4) {
      const a = from[j + 3]! / top;
      to[i] = table[from[j]!]! * a;
      to[i + 1] = table[from[j + 1]!]! * a;
      to[i + 2] = table[from[j + 2]!]! * a;
      to[i + 3] = a;
    }
  } else {
    const green = channels === 1 ? 0 : 1,
      blue = channels === 1 ? 0 : 2;
    for (let i = 0, j = 0; i < n * 4; i += 4, j += channels) {
      to[i] = table[from[j]!]!;
      to[i + 1] = table[from[j + green]!]!;
      to[i + 2] = table[from[j + blue]!]!;
      to[i + 3] = 1;
    }
  }
  return out;
}

/** Display-encoded luma (Rec.709 weights on the codes, 0..1): what trackers and difference mattes look at. */
export function lumaOfCodes(codes: Codes, out: Plane): Plane {
  const { data: from, channels } = codes,
    k = 1 / (codes.bits === 8 ? 255 : 65535),
    to = out.data,
    n = to.length;
  if (channels === 1) for (let i = 0; i < n; i++) to[i] = from[i]! * k;
  else for (let i = 0, j = 0; i < n; i++, j += channels) to[i] = (0.2126 * from[j]! + 0.7152 * from[j + 1]! + 0.0722 * from[j + 2]!) * k;
  return out;
}

export interface EncodeOptions {
  bits: 8 | 16;
  channels: 3 | 4;
  transfer?: Transfer;
  frame?: number;
}

/**
 * Linear premultiplied light to codes (straight alpha where there are four channels). Going to 8 bits it is dithered by uniform
 * noise of at most 0.46 of a step keyed by pixel and frame, which never moves a value that is a code already.
 */
export function encodeCodes(picture: Picture, options: EncodeOptions): Uint8Array | Uint16Array {
  const { bits, channels, transfer = 'srgb', frame = 0 } = options;
  const n = picture.width * picture.height,
    top = bits === 8 ? 255 : 65535,
    table = encodeTable(transfer),
    low = lowSlope[transfer];
  const out = bits === 8 ? new Uint8Array(n * channels) : new Uint16Array(n * channels);
  const from = picture.data,
    raw = new Uint32Array(from.buffer, from.byteOffset, from.length);
  const straight = new Float32Array(1),
    straightBits = new Uint32Array(straight.buffer);
  for (let p = 0, i = 0, j = 0; p < n; p++, i += 4, j += channels) {
    const alpha = from[i + 3]!;
    const divide = channels === 4 && alpha > 0 && alpha < 1;
    const noise = bits === 8 ? (uniform(p, frame) - 0.5) * 0.92 + 0.5 : 0.5;
    for (let c = 0; c < 3; c++) {
      let x = from[i + c]!,
        w = raw[i + c]!;
      if (divide) {
        straight[0] = x / alpha;
        x = straight[0]!;
        w = straightBits[0]!;
      }
      let v = 0;
      if (x >= 1) v = 1;
      else if (x > 0) {
        if (w < FIRST) v = x * low;
        else {
          const at = (w - FIRST) >>> SHIFT,
            a = table[at]!;
          v = a + (table[at + 1]! - a) * ((w & 0x7ff) / 2048);
        }
      }
      out[j + c] = v * top + noise;
    }
    if (channels === 4) out[j + 3] = (alpha > 0 ? Math.min(1, alpha) : 0) * top + 0.5;
  }
  return out;
}

/**
 * Codes to linear premultiplied light at 1/`factor` of the size: the mean of blocks, taken in linear light, in one pass over the
 * codes. Edge blocks take the mean of what there is.
 */
export function decodeReduced(codes: Codes, transfer: Transfer, factor: number, out: Picture): Picture {
  const table = decodeTable(transfer, codes.bits),
    top = codes.bits === 8 ? 255 : 65535,
    { width, height, channels, data: from } = codes,
    to = out.data;
  const green = channels === 1 ? 0 : 1,
    blue = channels === 1 ? 0 : 2;
  for (let cy = 0, o = 0; cy < out.height; cy++) {
    const y0 = cy * factor,
      y1 = Math.min(height, y0 + factor);
    for (let cx = 0; cx < out.width; cx++, o += 4) {
      const x0 = cx * factor,
        x1 = Math.min(width, x0 + factor);
      let r = 0,
        g = 0,
        b = 0,
        alpha = 0;
      for (let y = y0; y < y1; y++)
        for (let x = x0, j = (y * width + x0) * channels; x < x1; x++, j += channels) {
          const a = channels === 4 ? from[j + 3]! / top : 1;
          r += table[from[j]!]! * a;
          g += table[from[j + green]!]! * a;
          b += table[from[j + blue]!]! * a;
          alpha += a;
        }
      const k = 1 / ((y1 - y0) * (x1 - x0));
      to[o] = r * k;
      to[o + 1] = g * k;
      to[o + 2] = b * k;
      to[o + 3] = alpha * k;
    }
  }
  if (channels !== 4) for (let i = 3; i < to.length; i += 4) to[i] = 1;
  return out;
}
