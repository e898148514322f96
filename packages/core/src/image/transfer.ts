import { cos, exp, log, PI, pow } from './exactMath';
import type { Codes, Plane } from './picture';

/**
 * Transfer curves of material: IEC 61966-2-1 (sRGB), ITU-R BT.709-6 (OETF and its inverse), none, SMPTE ST 2084 (PQ), and ACEScct
 * (Academy S-2016-001). Values are fractions of the largest code; light 1 is a white surface, and what is brighter lies above.
 */
export const transferNames = ['srgb', 'rec709', 'linear', 'pq', 'acescct'] as const;
export type Transfer = (typeof transferNames)[number];
/** Curves that pictures are shown with: sRGB, and the 2.4 of a grading monitor (ITU-R BT.1886 with a black of 0). */
export const displayNames = ['srgb', 'gamma24'] as const;
export type Display = (typeof displayNames)[number];
/** Curves that whole pictures are written with; their codes end at light 1. */
export type OutCurve = 'srgb' | 'rec709' | 'linear' | 'gamma24';

const ALPHA = 1.09929682680944,
  BETA = 0.018053968510807;
interface Curve {
  decode(v: number): number;
  encode(x: number): number;
}
/** PQ in cd/m² (SMPTE ST 2084), with light 1 at 203 cd/m², the white of ITU-R BT.2408. */
const M1 = 2610 / 16384,
  M2 = (2523 / 4096) * 128,
  C1 = 3424 / 4096,
  C2 = (2413 / 4096) * 32,
  C3 = (2392 / 4096) * 32,
  WHITE = 203 / 10000;
/** ACEScct: a straight line below, powers of two above. */
const LINE = 10.5402377416545,
  OFFSET = 0.0729055341958355,
  BREAK = 0.0078125,
  LN2 = 0.6931471805599453;
const curves: Record<Transfer | Display, Curve> = {
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
  pq: {
    decode(v) {
      if (!(v > 0)) return 0;
      const p = pow(v, 1 / M2),
        n = p - C1;
      return n > 0 ? pow(n / (C2 - C3 * p), 1 / M1) / WHITE : 0;
    },
    encode(x) {
      const y = x > 0 ? pow(x * WHITE, M1) : 0;
      return pow((C1 + C2 * y) / (1 + C3 * y), M2);
    },
  },
  acescct: {
    decode: (v) => (v > LINE * BREAK + OFFSET ? exp((v * 17.52 - 9.72) * LN2) : (v - OFFSET) / LINE),
    encode: (x) => (x > BREAK ? (log(x) / LN2 + 9.72) / 17.52 : LINE * x + OFFSET),
  },
  gamma24: { decode: (v) => (v > 0 ? pow(v, 2.4) : 0), encode: (x) => (x > 0 ? pow(x, 1 / 2.4) : 0) },
};

/** A table of float32 with the linear value of every code. */
export function decodeTable(transfer: Transfer, bits: 8 | 16): Float32Array {
  const top = bits === 8 ? 255 : 65535;
  return new Float32Array(top + 1).map((_, i) => curves[transfer].decode(i / top));
}

/** The bits of 2^-14, where a stored curve begins; below it the curve is a straight line. */
const FIRST = 0x38800000;
/**
 * A curve over 0..1 as kernels read it: pairs of float32 (value, step for each of the float's own last bits), `1 << (23 - shift)` of them to
 * an octave from 2^-14 to 1, and one at 1. With a shift of 11 (4096 steps an octave) the sRGB curve is off by 0.002 of a
 * 16-bit step: far inside the half step that reading and writing the same codes needs.
 */
export function curveTable(curve: (x: number) => number, shift: number): Float32Array {
  const entries = (0x3f800000 - FIRST) >> shift,
    bits = new Uint32Array(1),
    value = new Float32Array(bits.buffer),
    table = new Float32Array(2 * (entries + 1));
  const at = (i: number) => {
    bits[0] = FIRST + i * (1 << shift);
    return curve(value[0]!);
  };
  for (let i = 0, here = at(0); i <= entries; i++) {
    const next = i < entries ? at(i + 1) : here;
    table[2 * i] = here;
    table[2 * i + 1] = (next - here) / (1 << shift);
    here = next;
  }
  return table;
}
/**
 * The encoding curve as kernels take it for 8-bit codes: a polynomial of the fifth degree in the fourth root of the light, through the curve at
 * Chebyshev's points, which is off by 0.0025 of an 8-bit step; below its toe it is a straight line. Gives c0 to c5, the toe, and the slope.
 */
export function rootCurve(transfer: OutCurve): number[] {
  const degree = 5,
    low = lowSlope[transfer],
    toe = toes[transfer],
    from = Math.sqrt(Math.sqrt(toe)),
    rows = Array.from({ length: degree + 1 }, (_, k) => {
      const t = (from + 1) / 2 + ((1 - from) / 2) * cos(((2 * k + 1) * PI) / (2 * degree + 2)),
        powers = Array.from({ length: degree + 1 }, () => 1);
      for (let n = 1; n <= degree; n++) powers[n] = powers[n - 1]! * t;
      return [...powers, curves[transfer].encode(t * t * t * t)];
    });
  return [...solved(rows), toe, low];
}
/** Solves linear equations, given as rows of coefficients and the right side, by elimination with the largest pivot. */
function solved(rows: number[][]): number[] {
  const n = rows.length;
  for (let i = 0; i < n; i++) {
    let best = i;
    for (let j = i + 1; j < n; j++) if (Math.abs(rows[j]![i]!) > Math.abs(rows[best]![i]!)) best = j;
    [rows[i], rows[best]] = [rows[best]!, rows[i]!];
    const pivot = rows[i]!;
    for (let j = 0; j < n; j++) {
      if (j === i) continue;
      const k = rows[j]![i]! / pivot[i]!;
      for (let c = i; c <= n; c++) rows[j]![c]! -= k * pivot[c]!;
    }
  }
  return rows.map((row, i) => row[n]! / row[i]!);
}
/** The encoding curve and its inverse as functions. */
export const curveOf = (transfer: Transfer | Display): Curve => curves[transfer];
/** The slope of an encoding curve near 0. */
export const slopeAtBlack = (transfer: OutCurve): number => lowSlope[transfer];

/** Light below which the encoding curve is a straight line; that of a pure power is one where a display shows black. */
const toes: Record<OutCurve, number> = { srgb: 0.0031308, rec709: BETA, linear: 0, gamma24: 0.0001 };
const lowSlope: Record<OutCurve, number> = { srgb: 12.92, rec709: 4.5, linear: 1, gamma24: curves.gamma24.encode(0.0001) / 0.0001 };

/** One linear value to its encoded value, clamped to 0..1; not a number becomes 0. For a few values; pictures use `encodeCodes`. */
export function encodeValue(x: number, transfer: Transfer | Display = 'srgb'): number {
  return x > 0 ? (x >= 1 ? 1 : curves[transfer].encode(x)) : 0;
}
/** One encoded value (0..1) to linear light. */
export const decodeValue = (v: number, transfer: Transfer = 'srgb'): number => curves[transfer].decode(v);

/** Display-encoded luma (Rec.709 weights on the codes, 0..1): what trackers and difference mattes look at. */
export function lumaOfCodes(codes: Codes, out: Plane): Plane {
  const { data: from, channels } = codes,
    k = 1 / (codes.bits === 8 ? 255 : 65535),
    to = out.data,
    n = to.length;
  if (codes.bits === 32) {
    // Light, of which the square root stands for a curve: it has no end at 1.
    const root = (v: number) => (v > 0 ? Math.sqrt(v) : 0),
      [g, b] = channels === 1 ? [0, 0] : [1, 2];
    for (let i = 0, j = 0; i < n; i++, j += channels)
      to[i] = 0.2126 * root(from[j]!) + 0.7152 * root(from[j + g]!) + 0.0722 * root(from[j + b]!);
    return out;
  }
  if (channels === 1) for (let i = 0; i < n; i++) to[i] = from[i]! * k;
  else for (let i = 0, j = 0; i < n; i++, j += channels) to[i] = (0.2126 * from[j]! + 0.7152 * from[j + 1]! + 0.0722 * from[j + 2]!) * k;
  return out;
}
