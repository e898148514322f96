const floats = new Float32Array(1),
  bits = new Uint32Array(floats.buffer);

/** A number as the nearest 16-bit float (IEEE 754-2008 binary16, ties to even); beyond its range infinity. */
export function toHalf(value: number): number {
  floats[0] = value;
  const b = bits[0]!,
    sign = (b >>> 16) & 0x8000,
    exponent = ((b >>> 23) & 0xff) - 127,
    fraction = b & 0x7fffff;
  if (exponent === 128) return sign | 0x7c00 | (fraction ? 0x200 : 0);
  if (exponent > 15) return sign | 0x7c00;
  if (exponent >= -14) {
    const h = ((exponent + 15) << 10) | (fraction >>> 13),
      rest = fraction & 0x1fff;
    // A carry out of the fraction goes on into the exponent, as it should.
    return sign | (h + (rest > 0x1000 || (rest === 0x1000 && h & 1) ? 1 : 0));
  }
  if (exponent < -25) return sign;
  const shift = -exponent - 1,
    whole = fraction | 0x800000,
    h = whole >>> shift,
    rest = whole & ((1 << shift) - 1),
    tie = 1 << (shift - 1);
  return sign | (h + (rest > tie || (rest === tie && h & 1) ? 1 : 0));
}

/** 2^-24, the smallest of them. */
const LEAST = 5.960464477539063e-8;
/** The number that a 16-bit float stands for. */
export function fromHalf(h: number): number {
  const sign = h & 0x8000 ? -1 : 1,
    exponent = (h >>> 10) & 0x1f,
    fraction = h & 0x3ff;
  if (exponent === 0) return sign * fraction * LEAST;
  if (exponent === 31) return fraction ? NaN : sign * Infinity;
  bits[0] = ((exponent + 112) << 23) | (fraction << 13);
  return sign * floats[0]!;
}
