/**
 * Random numbers and noise without a state, four at a time. Mixing steps after the finaliser of MurmurHash3 (public domain).
 */
@inline
export function stir(h: v128): v128 {
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 16)), i32x4.splat(0x85ebca6b));
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 13)), i32x4.splat(0xc2b2ae35));
  return v128.xor(h, i32x4.shr_u(h, 16));
}

/** A cheap mixing of keys that are spread over all bits already, or need no more than to look even (dither): two rounds. */
@inline
export function scatter(key: v128): v128 {
  let h = i32x4.mul(v128.xor(key, i32x4.shr_u(key, 15)), i32x4.splat(0x2c1b3c6d));
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 12)), i32x4.splat(0x297a2d39));
  return v128.xor(h, i32x4.shr_u(h, 15));
}

/** A hash as 0..1 (1 itself only by rounding). */
@inline
export function unit4(h: v128): v128 {
  return f32x4.mul(f32x4.convert_i32x4_u(h), f32x4.splat(2.3283064365386963e-10));
}

/** t^3 (t (6 t - 15) + 10): 0 to 1 with flat ends. */
@inline
function fade4(t: v128): v128 {
  return f32x4.mul(f32x4.mul(f32x4.mul(t, t), t), f32x4.add(f32x4.mul(t, f32x4.sub(f32x4.mul(t, f32x4.splat(6)), f32x4.splat(15))), f32x4.splat(10)));
}
/** Its slope: 30 t^2 (t (t - 2) + 1). */
@inline
function slope4(t: v128): v128 {
  return f32x4.mul(f32x4.mul(f32x4.mul(t, t), f32x4.splat(30)), f32x4.add(f32x4.mul(t, f32x4.sub(t, f32x4.splat(2))), f32x4.splat(1)));
}

/**
 * Values at the corners of a lattice: cheaper than the hash of particles, since noise asks for four of them at every place. The sum of the
 * corner's own multiples is stirred twice.
 */
@inline
function corner(at: v128): v128 {
  let h = i32x4.mul(v128.xor(at, i32x4.shr_u(at, 15)), i32x4.splat(0x2c1b3c6d));
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 12)), i32x4.splat(0x297a2d39));
  // The upper bits are the well mixed ones.
  return f32x4.mul(f32x4.convert_i32x4_s(i32x4.shr_u(h, 8)), f32x4.splat(5.9604644775390625e-8));
}
const ALONG: i32 = 0x9e3779b1;
const DOWN: i32 = 0x85ebca77;
@inline
function latticeAt(xi: v128, yi: v128, seed: i32): v128 {
  return i32x4.add(i32x4.add(i32x4.mul(xi, i32x4.splat(ALONG)), i32x4.mul(yi, i32x4.splat(DOWN))), i32x4.splat(seed * 0x27d4eb2f + 0x165667b1));
}

/** Value noise on a unit lattice at four places, 0..1, with continuous second derivative. */
@inline
export function noise4(x: v128, y: v128, seed: i32): v128 {
  const fx = f32x4.floor(x), fy = f32x4.floor(y), at = latticeAt(i32x4.trunc_sat_f32x4_s(fx), i32x4.trunc_sat_f32x4_s(fy), seed), down = i32x4.add(at, i32x4.splat(DOWN));
  const u = fade4(f32x4.sub(x, fx)), v = fade4(f32x4.sub(y, fy));
  const a = corner(at), b = corner(i32x4.add(at, i32x4.splat(ALONG))), c = corner(down), d = corner(i32x4.add(down, i32x4.splat(ALONG)));
  const top = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), u)), bottom = f32x4.add(c, f32x4.mul(f32x4.sub(d, c), u));
  return f32x4.add(top, f32x4.mul(f32x4.sub(bottom, top), v));
}

/** The hash of three keys, as core/image/random has it, 0..1. */
@inline
function coreUnit(a: v128, b: v128, seed: i32): v128 {
  const h = stir(v128.xor(v128.xor(i32x4.add(i32x4.mul(a, i32x4.splat(ALONG)), i32x4.mul(b, i32x4.splat(DOWN))), i32x4.splat(seed * 0xc2b2ae3d)), i32x4.splat(0x2545f491)));
  const k = i32x4.mul(v128.xor(v128.xor(a, i32x4.shl(b, 15)), i32x4.shr_u(b, 17)), i32x4.splat(0x165667b1));
  return unit4(stir(i32x4.add(h, k)));
}
/** The value noise of core/image/noise at four places, 0..1: what was drawn with it before it had a kernel keeps its pattern. */
@inline
export function coreNoise4(x: v128, y: v128, seed: i32): v128 {
  const fx = f32x4.floor(x), fy = f32x4.floor(y), xi = i32x4.trunc_sat_f32x4_s(fx), yi = i32x4.trunc_sat_f32x4_s(fy), one = i32x4.splat(1), right = i32x4.add(xi, one), below = i32x4.add(yi, one);
  const u = fade4(f32x4.sub(x, fx)), v = fade4(f32x4.sub(y, fy)), a = coreUnit(xi, yi, seed), b = coreUnit(right, yi, seed), c = coreUnit(xi, below, seed), d = coreUnit(right, below, seed);
  const top = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), u)), bottom = f32x4.add(c, f32x4.mul(f32x4.sub(d, c), u));
  return f32x4.add(top, f32x4.mul(f32x4.sub(bottom, top), v));
}

/** Seeds of neighbouring layers of noise with a third coordinate lie this far apart. */
const LAYER: i32 = 7919;
/** How much of the farther layer there is at the third coordinate z. */
@inline
function layerWeight(z: f32): f32 {
  const t = z - floor<f32>(z);
  return t * t * t * (t * (t * 6 - 15) + 10);
}
/** Noise with a third coordinate that is the same for all four places. */
@inline
export function noise4at(x: v128, y: v128, z: f32, seed: i32): v128 {
  const zi = <i32>floor<f32>(z), w = f32x4.splat(layerWeight(z)), a = noise4(x, y, seed + zi * LAYER), b = noise4(x, y, seed + (zi + 1) * LAYER);
  return f32x4.add(a, f32x4.mul(f32x4.sub(b, a), w));
}

/** Sum of octaves of noise, each of half the size and strength, 0..1. */
@inline
export function fractal4(x: v128, y: v128, octaves: i32, seed: i32): v128 {
  let sum = f32x4.splat(0), strength: f32 = 1, total: f32 = 0;
  for (let i = 0; i < octaves; i++) {
    sum = f32x4.add(sum, f32x4.mul(f32x4.splat(strength), noise4(x, y, seed + i * 17)));
    total += strength;
    strength *= 0.5;
    x = f32x4.add(f32x4.mul(x, f32x4.splat(2.03)), f32x4.splat(11.3));
    y = f32x4.sub(f32x4.mul(y, f32x4.splat(2.03)), f32x4.splat(7.1));
  }
  return f32x4.mul(sum, f32x4.splat(1 / total));
}

/** Slopes of noise4 along x and y, laid into `slopeX` and `slopeY` (globals, since a function gives one value). */
export let slopeX: v128 = f32x4.splat(0);
export let slopeY: v128 = f32x4.splat(0);
/** Adds the slopes of one layer, `weight` of it, to sx and sy: a b above and c d below are its values about a place, tx ty how far it lies from a. */
@inline
function addSlopes(a: v128, b: v128, c: v128, d: v128, tx: v128, ty: v128, weight: v128, sx: v128, sy: v128): void {
  const ba = f32x4.sub(b, a), ca = f32x4.sub(c, a), cross = f32x4.sub(f32x4.sub(d, c), ba);
  slopeX = f32x4.add(sx, f32x4.mul(weight, f32x4.mul(slope4(tx), f32x4.add(ba, f32x4.mul(cross, fade4(ty))))));
  slopeY = f32x4.add(sy, f32x4.mul(weight, f32x4.mul(slope4(ty), f32x4.add(ca, f32x4.mul(cross, fade4(tx))))));
}
@inline
function slopes(x: v128, y: v128, seed: i32, weight: v128, sx: v128, sy: v128): void {
  const fx = f32x4.floor(x), fy = f32x4.floor(y), at = latticeAt(i32x4.trunc_sat_f32x4_s(fx), i32x4.trunc_sat_f32x4_s(fy), seed), down = i32x4.add(at, i32x4.splat(DOWN));
  addSlopes(corner(at), corner(i32x4.add(at, i32x4.splat(ALONG))), corner(down), corner(i32x4.add(down, i32x4.splat(ALONG))), f32x4.sub(x, fx), f32x4.sub(y, fy), weight, sx, sy);
}
/** Slopes of noise with a third coordinate, the same for all four: the curl of it is (slopeY, -slopeX). */
@inline
export function slopes4at(x: v128, y: v128, z: f32, seed: i32): void {
  const zi = <i32>floor<f32>(z), w = layerWeight(z), zero = f32x4.splat(0);
  slopes(x, y, seed + zi * LAYER, f32x4.splat(1 - w), zero, zero);
  slopes(x, y, seed + (zi + 1) * LAYER, f32x4.splat(w), slopeX, slopeY);
}
/** A row of the lattice's values from the column `left`: for each place those of layer z and of the next one. `columns` is a multiple of 4. */
@inline
export function latticeValues(left: i32, y: i32, columns: i32, z: i32, seed: i32, to: usize): void {
  const lanes = i32x4(0, 1, 2, 3);
  for (let x = 0; x < columns; x += 4) {
    const xi = i32x4.add(i32x4.splat(left + x), lanes), yi = i32x4.splat(y), near = corner(latticeAt(xi, yi, seed + z * LAYER)), far = corner(latticeAt(xi, yi, seed + (z + 1) * LAYER)), at = to + (<usize>x << 3);
    v128.store(at, v128.shuffle<f32>(near, far, 0, 4, 1, 5));
    v128.store(at + 16, v128.shuffle<f32>(near, far, 2, 6, 3, 7));
  }
}
/**
 * As slopes4at, from values of the lattice: above each of four places (p) and below it (q) those of latticeValues to its left and to its right; tx ty say how far it lies from the upper
 * left one.
 */
@inline
export function slopesBetween(p0: v128, p1: v128, p2: v128, p3: v128, q0: v128, q1: v128, q2: v128, q3: v128, tx: v128, ty: v128, z: f32): void {
  const w = layerWeight(z), zero = f32x4.splat(0), p01 = v128.shuffle<f32>(p0, p1, 0, 4, 1, 5), p23 = v128.shuffle<f32>(p2, p3, 0, 4, 1, 5), r01 = v128.shuffle<f32>(p0, p1, 2, 6, 3, 7), r23 = v128.shuffle<f32>(p2, p3, 2, 6, 3, 7);
  const q01 = v128.shuffle<f32>(q0, q1, 0, 4, 1, 5), q23 = v128.shuffle<f32>(q2, q3, 0, 4, 1, 5), s01 = v128.shuffle<f32>(q0, q1, 2, 6, 3, 7), s23 = v128.shuffle<f32>(q2, q3, 2, 6, 3, 7);
  addSlopes(v128.shuffle<f64>(p01, p23, 0, 2), v128.shuffle<f64>(r01, r23, 0, 2), v128.shuffle<f64>(q01, q23, 0, 2), v128.shuffle<f64>(s01, s23, 0, 2), tx, ty, f32x4.splat(1 - w), zero, zero);
  addSlopes(v128.shuffle<f64>(p01, p23, 1, 3), v128.shuffle<f64>(r01, r23, 1, 3), v128.shuffle<f64>(q01, q23, 1, 3), v128.shuffle<f64>(s01, s23, 1, 3), tx, ty, f32x4.splat(w), slopeX, slopeY);
}

/**
 * Adds noise to a plane, swinging about 0: out += gain (2 noise(x0 + i dx, y0 + j dy, z) - 1). Rows are `width` long and padded to
 * a multiple of 4 floats (`stride`).
 */
export function addNoise(out: usize, left: f32, dx: f32, top: f32, dy: f32, z: f32, seed: i32, gain: f32, width: i32, stride: i32, y0: i32, y1: i32): void {
  const two = f32x4.splat(2 * gain), one = f32x4.splat(gain), lanes = f32x4(0, 1, 2, 3);
  for (let y = y0; y < y1; y++) {
    const at = out + (<usize>(y * stride) << 2), b = f32x4.splat(top + <f32>y * dy);
    for (let x = 0; x < width; x += 4) {
      const p = at + (<usize>x << 2), a = f32x4.add(f32x4.splat(left), f32x4.mul(f32x4.add(f32x4.splat(<f32>x), lanes), f32x4.splat(dx)));
      v128.store(p, f32x4.add(v128.load(p), f32x4.sub(f32x4.mul(noise4at(a, b, z, seed), two), one)));
    }
  }
}
