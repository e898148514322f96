/** Elementary functions in single precision, four at a time. */

/** e to the x, relative error below 3e-7 for x from -87 to 88, 0 below. */
@inline
export function exp4(x: v128): v128 {
  const low = f32x4.splat(-87), clamped = f32x4.pmin(f32x4.splat(88), f32x4.pmax(low, x));
  const k = f32x4.nearest(f32x4.mul(clamped, f32x4.splat(1.4426950408889634)));
  const r = f32x4.sub(f32x4.sub(clamped, f32x4.mul(k, f32x4.splat(0.693359375))), f32x4.mul(k, f32x4.splat(-2.12194440e-4)));
  let p = f32x4.splat(1.9875691500e-4);
  p = f32x4.add(f32x4.mul(p, r), f32x4.splat(1.3981999507e-3));
  p = f32x4.add(f32x4.mul(p, r), f32x4.splat(8.3334519073e-3));
  p = f32x4.add(f32x4.mul(p, r), f32x4.splat(4.1665795894e-2));
  p = f32x4.add(f32x4.mul(p, r), f32x4.splat(1.6666665459e-1));
  p = f32x4.add(f32x4.mul(p, r), f32x4.splat(5.0000001201e-1));
  const y = f32x4.add(f32x4.add(f32x4.mul(f32x4.mul(p, r), r), r), f32x4.splat(1));
  const power = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(k), i32x4.splat(127)), 23);
  return v128.bitselect(f32x4.mul(y, power), f32x4.splat(0), f32x4.gt(x, low));
}

/** Sine of an angle in whole turns, error below 2e-6. */
@inline
export function sin4(turns: v128): v128 {
  // To -0.25..0.25 of a turn, where the series is short: sin is the same mirrored at a quarter turn.
  let t = f32x4.sub(turns, f32x4.nearest(turns));
  const quarter = f32x4.splat(0.25), half = f32x4.splat(0.5);
  t = v128.bitselect(f32x4.sub(half, t), t, f32x4.gt(t, quarter));
  t = v128.bitselect(f32x4.sub(f32x4.neg(half), t), t, f32x4.lt(t, f32x4.neg(quarter)));
  const x = f32x4.mul(t, f32x4.splat(6.283185307179586)), q = f32x4.mul(x, x);
  let p = f32x4.splat(2.7557319e-6);
  p = f32x4.add(f32x4.mul(p, q), f32x4.splat(-1.9841270e-4));
  p = f32x4.add(f32x4.mul(p, q), f32x4.splat(8.3333333e-3));
  p = f32x4.add(f32x4.mul(p, q), f32x4.splat(-1.6666667e-1));
  return f32x4.add(x, f32x4.mul(f32x4.mul(x, q), p));
}
@inline
export function cos4(turns: v128): v128 {
  return sin4(f32x4.add(turns, f32x4.splat(0.25)));
}

/** Clamped to 0..1; NaN becomes 0. */
@inline
export function unitClamp(x: v128): v128 {
  return f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), x));
}
/** t^2 (3 - 2 t) of a clamped t. */
@inline
export function smooth4(t: v128): v128 {
  const c = unitClamp(t);
  return f32x4.mul(f32x4.mul(c, c), f32x4.sub(f32x4.splat(3), f32x4.add(c, c)));
}
/** Near to exp(-x) for x >= 0: (1 - x / 16)^16, nothing from 16 on. */
@inline
export function fallOff4(x: v128): v128 {
  let t = f32x4.pmax(f32x4.splat(0), f32x4.sub(f32x4.splat(1), f32x4.mul(x, f32x4.splat(1 / 16.0))));
  t = f32x4.mul(t, t);
  t = f32x4.mul(t, t);
  t = f32x4.mul(t, t);
  return f32x4.mul(t, t);
}

/** A wave of straight flanks, 0..1. */
@inline
export function teeth4(x: v128): v128 {
  return f32x4.abs(f32x4.sub(f32x4.mul(f32x4.splat(2), f32x4.sub(x, f32x4.floor(x))), f32x4.splat(1)));
}
