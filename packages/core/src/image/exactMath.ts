/**
 * Elementary functions whose last bits are the same in every JavaScript engine: only + - * / and sqrt are used, which IEEE 754
 * fixes to the bit, while engines differ for Math.pow, sin, exp and others. Double precision; error below 4e-15 relative
 * (absolute for sin and cos) over the ranges that pictures use. Series: Taylor and atanh, Abramowitz & Stegun 4.1.27, 4.2.1, 4.3.65.
 */
const floats = new Float64Array(1);
const words = new Uint32Array(floats.buffer); // little-endian, as every platform that runs WebAssembly

export const PI = 3.141592653589793;
const LN2_HIGH = 0.69314718036912381649;
const LN2_LOW = 1.90821492927058770002e-10;

/** Natural logarithm; -Infinity at 0, NaN below. */
export function log(x: number): number {
  if (!(x > 0)) return x === 0 ? -Infinity : NaN;
  if (x === Infinity) return Infinity;
  let exponent = 0;
  if (x < 2.2250738585072014e-308) {
    x *= 18014398509481984;
    exponent = -54;
  }
  floats[0] = x;
  exponent += ((words[1]! >>> 20) & 0x7ff) - 1023;
  words[1] = (words[1]! & 0xfffff) | 0x3ff00000;
  let m = floats[0]!;
  if (m > 1.4142135623730951) {
    m *= 0.5;
    exponent++;
  }
  const s = (m - 1) / (m + 1),
    q = s * s;
  let sum = 1 / 21;
  for (let n = 19; n >= 1; n -= 2) sum = sum * q + 1 / n;
  return exponent * LN2_HIGH + (2 * s * sum + exponent * LN2_LOW);
}

/** Two to the whole number n, from -1022 to 1023. */
function powerOfTwo(n: number): number {
  words[0] = 0;
  words[1] = (n + 1023) << 20;
  return floats[0]!;
}

/** e to the x. */
export function exp(x: number): number {
  if (!(x > -700)) return x !== x ? NaN : 0;
  if (x > 709) return Infinity;
  const k = Math.round(x * 1.4426950408889634);
  const r = x - k * LN2_HIGH - k * LN2_LOW;
  let sum = 1;
  for (let n = 14; n >= 1; n--) sum = 1 + (sum * r) / n;
  return k > 1023 ? sum * powerOfTwo(1023) * powerOfTwo(k - 1023) : sum * powerOfTwo(k);
}

/** x to the y for x >= 0. */
export function pow(x: number, y: number): number {
  if (y === 0) return 1;
  return x === 0 ? (y > 0 ? 0 : Infinity) : exp(y * log(x));
}

const HALF_PI_HIGH = 1.5707963267341256;
const HALF_PI_LOW = 6.077100506506192e-11;

function sinSmall(r: number): number {
  const q = r * r;
  let sum = 1;
  for (let n = 18; n >= 2; n -= 2) sum = 1 - (sum * q) / (n * (n + 1));
  return r * sum;
}
function cosSmall(r: number): number {
  const q = r * r;
  let sum = 1;
  for (let n = 17; n >= 1; n -= 2) sum = 1 - (sum * q) / (n * (n + 1));
  return sum;
}

/** Sine of an angle in radians, |x| up to about 1e6. */
export function sin(x: number): number {
  const k = Math.round(x / 1.5707963267948966),
    r = x - k * HALF_PI_HIGH - k * HALF_PI_LOW;
  const quarter = ((k % 4) + 4) % 4;
  return quarter === 0 ? sinSmall(r) : quarter === 1 ? cosSmall(r) : quarter === 2 ? -sinSmall(r) : -cosSmall(r);
}
/** Cosine of an angle in radians, |x| up to about 1e6. */
export function cos(x: number): number {
  const k = Math.round(x / 1.5707963267948966),
    r = x - k * HALF_PI_HIGH - k * HALF_PI_LOW;
  const quarter = ((k % 4) + 4) % 4;
  return quarter === 0 ? cosSmall(r) : quarter === 1 ? -sinSmall(r) : quarter === 2 ? -cosSmall(r) : sinSmall(r);
}

/** Arc tangent by two halvings of the angle, then the series. */
function atan(x: number): number {
  if (Math.abs(x) > 1) return (x > 0 ? PI / 2 : -PI / 2) - atan(1 / x);
  const half = (t: number) => t / (1 + Math.sqrt(1 + t * t));
  const t = half(half(half(x))),
    q = t * t;
  let sum = 0;
  for (let n = 25; n >= 1; n -= 2) sum = 1 / n - q * sum;
  return 8 * t * sum;
}
/** Angle in radians of the direction (x, y), -pi to pi. */
export function atan2(y: number, x: number): number {
  if (x === 0) return y > 0 ? PI / 2 : y < 0 ? -PI / 2 : 0;
  const a = atan(y / x);
  return x > 0 ? a : y > 0 || Object.is(y, 0) ? a + PI : a - PI;
}

/** Length of (x, y). */
export const hypot = (x: number, y: number): number => Math.sqrt(x * x + y * y);
export const radians = (degrees: number): number => degrees * (PI / 180);
export const clamp = (x: number, low: number, high: number): number => (x < low ? low : x > high ? high : x);
export const mix = (a: number, b: number, t: number): number => a + (b - a) * t;
/** Smooth step from 0 at `a` to 1 at `b` (either may be the larger one). */
export function smoothstep(a: number, b: number, x: number): number {
  const t = clamp((x - a) / (b - a), 0, 1);
  return t * t * (3 - 2 * t);
}
