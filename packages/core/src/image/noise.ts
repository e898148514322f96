import { hash } from './random';

const SCALE = 1 / 4294967296;
const fade = (t: number) => t * t * t * (t * (t * 6 - 15) + 10);

/** Value noise on a unit lattice, 0..1, with continuous second derivative: for scenes and slow waves; effects use the kernels'. */
export function noise2(x: number, y: number, seed: number): number {
  const xi = Math.floor(x),
    yi = Math.floor(y),
    u = fade(x - xi),
    v = fade(y - yi);
  const a = hash(xi, yi, seed),
    b = hash(xi + 1, yi, seed),
    c = hash(xi, yi + 1, seed),
    d = hash(xi + 1, yi + 1, seed);
  return (a + (b - a) * u + (c - a) * v + (a - b - c + d) * u * v) * SCALE;
}

/** Sum of `octaves` of noise, each of half the size and `gain` times the strength, normalised to 0..1. */
export function fractal2(x: number, y: number, octaves: number, seed: number, gain = 0.5): number {
  let sum = 0,
    strength = 1,
    total = 0;
  for (let i = 0; i < octaves; i++) {
    sum += strength * noise2(x, y, seed + i * 17);
    total += strength;
    strength *= gain;
    x = x * 2.03 + 11.3;
    y = y * 2.03 - 7.1;
  }
  return sum / total;
}
