function stir(h: number, first: number, second: number, shifts: readonly [number, number, number]): number {
  h = Math.imul(h ^ (h >>> shifts[0]), first);
  h = Math.imul(h ^ (h >>> shifts[1]), second);
  return h ^ (h >>> shifts[2]);
}
/** The stirring of core's random numbers. */
export const stirTwin = (h: number): number => stir(h, 0x85ebca6b, 0xc2b2ae35, [16, 13, 16]);
/** The cheap mixing of keys that are spread already. */
export const scatterTwin = (key: number): number => stir(key, 0x2c1b3c6d, 0x297a2d39, [15, 12, 15]) >>> 0;
/** A particle's own number 0..1. */
export const ownTwin = (seed: number, id: number, channel: number): number =>
  scatterTwin((id + Math.imul(seed, 0x85ebca77) + Math.imul(channel, 0x9e3779b1)) | 0) / 4294967296;

/** The value at a corner of the noise's lattice, 0..1. */
function corner(x: number, y: number, seed: number): number {
  const at = (Math.imul(x, 0x9e3779b1) + Math.imul(y, 0x85ebca77) + Math.imul(seed, 0x27d4eb2f) + 0x165667b1) | 0;
  let h = Math.imul(at ^ (at >>> 15), 0x2c1b3c6d);
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39);
  return (h >>> 8) / 16777216;
}
const fade = (t: number) => t * t * t * (t * (t * 6 - 15) + 10);

/** Value noise on a unit lattice, 0..1. */
export function latticeNoiseTwin(x: number, y: number, seed: number): number {
  const xi = Math.floor(x),
    yi = Math.floor(y),
    u = fade(x - xi),
    v = fade(y - yi),
    row = (j: number) => corner(xi, j, seed) + (corner(xi + 1, j, seed) - corner(xi, j, seed)) * u;
  return row(yi) + (row(yi + 1) - row(yi)) * v;
}
/** A number 0..1 of up to four keys, and the value noise of it, as core has them (image/random, image/noise). */
export function coreUniformTwin(a: number, b: number, c: number, d = 0): number {
  const h = stirTwin(
    (Math.imul(a, 0x9e3779b1) + Math.imul(b, 0x85ebca77) + Math.imul(d, 0x27d4eb2f)) ^ Math.imul(c, 0xc2b2ae3d) ^ 0x2545f491,
  );
  return (stirTwin(h + Math.imul(a ^ (b << 15) ^ (b >>> 17), 0x165667b1)) >>> 0) / 4294967296;
}
export function coreNoiseTwin(x: number, y: number, seed: number): number {
  const [i, j] = [Math.floor(x), Math.floor(y)],
    [u, v] = [fade(x - i), fade(y - j)],
    row = (k: number) => coreUniformTwin(i, k, seed) + (coreUniformTwin(i + 1, k, seed) - coreUniformTwin(i, k, seed)) * u;
  return row(j) + (row(j + 1) - row(j)) * v;
}
/** Lattice noise with a third coordinate. */
export function latticeNoise3Twin(x: number, y: number, z: number, seed: number): number {
  const zi = Math.floor(z),
    at = (k: number) => latticeNoiseTwin(x, y, seed + k * 7919);
  return at(zi) + (at(zi + 1) - at(zi)) * fade(z - zi);
}
export function fractalTwin(x: number, y: number, octaves: number, seed: number): number {
  let sum = 0,
    strength = 1,
    total = 0;
  for (let i = 0; i < octaves; i++, strength /= 2, x = x * 2.03 + 11.3, y = y * 2.03 - 7.1) {
    sum += strength * latticeNoiseTwin(x, y, seed + i * 17);
    total += strength;
  }
  return sum / total;
}
/** Curl of the noise, from its slopes by small differences. */
export function curlTwin(x: number, y: number, z: number, seed: number): [number, number] {
  const e = 1e-4,
    n = (dx: number, dy: number) => latticeNoise3Twin(x + dx, y + dy, z, seed);
  return [(n(0, e) - n(0, -e)) / (2 * e), -(n(e, 0) - n(-e, 0)) / (2 * e)];
}
