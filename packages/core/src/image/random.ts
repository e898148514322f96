/**
 * Random numbers without a state: each is a function of its keys, so any frame can be computed alone and in any order.
 * Mixing steps after the finaliser of MurmurHash3 (public domain).
 */
function stir(h: number): number {
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return h ^ (h >>> 16);
}

/** A 32-bit whole number (unsigned) from up to four whole-number keys. */
export function hash(a: number, b = 0, c = 0, d = 0): number {
  const h = stir((Math.imul(a, 0x9e3779b1) + Math.imul(b, 0x85ebca77) + Math.imul(d, 0x27d4eb2f)) ^ Math.imul(c, 0xc2b2ae3d) ^ 0x2545f491);
  return stir(h + Math.imul(a ^ (b << 15) ^ (b >>> 17), 0x165667b1)) >>> 0;
}

/** A number from 0 up to, not including, 1. */
export const uniform = (a: number, b = 0, c = 0, d = 0): number => hash(a, b, c, d) / 4294967296;

/** One over the deviation of the sum of four even bytes: each has the variance (256^2 - 1) / 12. */
const BYTE_SUM = 1 / Math.sqrt((4 * 65535) / 12);

/** Roughly normal, mean 0 and deviation 1: the sum of the four bytes of one hash, scaled; never beyond 3.5 deviations. */
export function normal(a: number, b = 0, c = 0): number {
  const h = hash(a, b, c, 101);
  return ((h & 255) + ((h >>> 8) & 255) + ((h >>> 16) & 255) + (h >>> 24) - 510) * BYTE_SUM;
}
/** A 64-bit text key of any text: two independent 32-bit streams (FNV-1a with different bases, stirred). */
export function textKey(text: string): string {
  let a = 0x811c9dc5,
    b = 0x1b873593;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    a = Math.imul(a ^ c, 0x01000193);
    b = Math.imul(b ^ c, 0x5bd1e995) ^ (b >>> 15);
  }
  return (stir(a) >>> 0).toString(16).padStart(8, '0') + (stir(b ^ text.length) >>> 0).toString(16).padStart(8, '0');
}
