import { exp4, sin4, smooth4 } from './curves';
import { storeSome } from './scratch';

/** Four values of each channel to four pixels (alpha 0). */
@inline
function storePixels(to: usize, r: v128, g: v128, b: v128, some: i32): void {
  const zero = f32x4.splat(0), rg = v128.shuffle<f32>(r, g, 0, 4, 1, 5), b0 = v128.shuffle<f32>(b, zero, 0, 4, 1, 5), rgh = v128.shuffle<f32>(r, g, 2, 6, 3, 7), bh = v128.shuffle<f32>(b, zero, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<f32>(rg, b0, 0, 1, 4, 5));
  if (some > 1) v128.store(to, v128.shuffle<f32>(rg, b0, 2, 3, 6, 7), 16);
  if (some > 2) v128.store(to, v128.shuffle<f32>(rgh, bh, 0, 1, 4, 5), 32);
  if (some > 3) v128.store(to, v128.shuffle<f32>(rgh, bh, 2, 3, 6, 7), 48);
}

/**
 * Light around a point: a hot core, a body and a wide veil, gone at 1.8 radii; each pixel from its own distance, so that no resampling moves it.
 * Every pixel is written. `params` is 8 floats: middle x y, radius, power, colour r g b.
 */
export function lightDisc(params: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  const cx = load<f32>(params), cy = load<f32>(params, 4), reach = load<f32>(params, 8), part = f32x4.splat(1 / reach), power = f32x4.splat(load<f32>(params, 12)), red = f32x4.splat(load<f32>(params, 16)), green = f32x4.splat(load<f32>(params, 20)), blue = f32x4.splat(load<f32>(params, 24)), lanes = f32x4(0.5, 1.5, 2.5, 3.5), far = f32x4.splat(1.8);
  for (let y = y0; y < y1; y++) {
    const row = out + (<usize>(y * width) << 4), dy: f32 = <f32>y + 0.5 - cy, squared = f32x4.splat(dy * dy), inside: f32 = reach * 1.8 * (reach * 1.8) - dy * dy;
    memory.fill(row, 0, <usize>width << 4);
    if (!(inside > 0)) continue;
    const half = sqrt<f32>(inside), x0 = max(0, <i32>max<f32>(0, cx - half)) & ~3, x1 = <i32>min<f32>(<f32>width, cx + half + 1);
    for (let x = x0; x < x1; x += 4) {
      const dx = f32x4.add(f32x4.splat(<f32>x - cx), lanes), d = f32x4.mul(f32x4.sqrt(f32x4.add(f32x4.mul(dx, dx), squared)), part);
      const core = f32x4.mul(exp4(f32x4.mul(f32x4.mul(d, d), f32x4.splat(-60))), f32x4.splat(0.62)), body = f32x4.mul(exp4(f32x4.mul(d, f32x4.splat(-7))), f32x4.splat(0.3)), veil = f32x4.mul(exp4(f32x4.mul(d, f32x4.splat(-2.6))), f32x4.splat(0.16));
      const fall = f32x4.mul(f32x4.mul(f32x4.add(f32x4.add(core, body), veil), smooth4(f32x4.mul(f32x4.sub(far, d), f32x4.splat(1 / 0.9)))), power);
      storePixels(row + (<usize>x << 4), f32x4.mul(fall, red), f32x4.mul(fall, green), f32x4.mul(fall, blue), width - x);
    }
  }
}

/** Displacement of a ripple that runs out from a point: along the ray, a sine that dies away with the distance, fading out to a radius (0: none). `waves` is crests a pixel, `moved` how far they have run. */
export function spreadRipple(middleX: f32, middleY: f32, radius: f32, strength: f32, waves: f32, moved: f32, dx: usize, dy: usize, width: i32, y0: i32, y1: i32): void {
  const round: f32 = radius > 0 ? 1 / (radius * radius) : 0, one = f32x4.splat(1), zero = f32x4.splat(0), lanes = f32x4(0.5, 1.5, 2.5, 3.5), little = f32x4.splat(0.01);
  for (let y = y0; y < y1; y++) {
    const v: f32 = <f32>y + 0.5 - middleY;
    for (let x = 0; x < width; x += 4) {
      const at: usize = <usize>(y * width + x) << 2, u = f32x4.sub(f32x4.add(f32x4.splat(<f32>x), lanes), f32x4.splat(middleX)), squared = f32x4.add(f32x4.mul(u, u), f32x4.splat(v * v));
      const fall = f32x4.pmax(zero, f32x4.sub(one, f32x4.mul(squared, f32x4.splat(round)))), amount = f32x4.mul(f32x4.mul(fall, fall), f32x4.splat(strength)), d = f32x4.sqrt(squared);
      const run = f32x4.mul(f32x4.mul(sin4(f32x4.mul(f32x4.sub(d, f32x4.splat(moved)), f32x4.splat(waves))), exp4(f32x4.mul(d, f32x4.splat(-0.08 * waves)))), amount);
      const share = v128.and(f32x4.div(run, d), f32x4.gt(d, little));
      storeSome(dx + at, f32x4.mul(u, share), width - x);
      storeSome(dy + at, f32x4.mul(f32x4.splat(v), share), width - x);
    }
  }
}

/** Between two pixels that lie above each other. */
@inline
function upright(upper: usize, lower: usize, t: v128): v128 {
  const a = v128.load(upper);
  return f32x4.add(a, f32x4.mul(f32x4.sub(v128.load(lower), a), t));
}
/**
 * A picture in light: each pixel times a gain (`within` as far as the matte covers it, `outside` elsewhere), and light added. Gains and `air` have a quarter of the
 * size (w x h, smooth between) and an alpha of 1 and 0; `matte` and `air` may be 0. In place, from one column to another: most lights reach little of a picture.
 * Beside the box of the body (its columns and rows in pixels) `matte` has nothing, and is not read. Rows of the result are counted from `top`.
 */
export function lightThings(picture: usize, matte: usize, within: usize, outside: usize, air: usize, w: i32, h: i32, bodyLeft: i32, bodyTop: i32, bodyRight: i32, bodyBottom: i32, left: i32, right: i32, top: i32, width: i32, y0: i32, y1: i32): void {
  const first = ((left + 2) >> 2) - 1, last = (right + 1) >> 2;
  for (let y = top + y0; y < top + y1; y++) {
    const fy: f32 = max<f32>(0, (<f32>y + 0.5) * 0.25 - 0.5), ya = min(h - 1, <i32>fy), yb = min(h - 1, ya + 1), ty = f32x4.splat(fy - <f32>ya);
    const upper: usize = <usize>(ya * w) << 4, lower: usize = <usize>(yb * w) << 4, row: usize = <usize>(y * width);
    // Runs of quarters in turn: those at the sides of the box or on the body, and between them those that are whole and off the body, which are nearly all.
    const onBody = matte != 0 && y >= bodyTop && y < bodyBottom, begins = max(first, max(0, (left + 1) >> 2)), ends = air ? begins : max(begins, min(last, min(w - 1, ((right - 6) >> 2) + 1)));
    const bodyFrom = onBody ? max(begins, min(ends, (bodyLeft - 5) >> 2)) : ends, bodyTo = onBody ? max(bodyFrom, min(ends, (bodyRight + 1) >> 2)) : ends;
    for (let run = 0; run < 5; run++) {
      const from = run == 0 ? first : run == 1 ? begins : run == 2 ? bodyFrom : run == 3 ? bodyTo : ends, to = run == 0 ? begins : run == 1 ? bodyFrom : run == 2 ? bodyTo : run == 3 ? ends : last;
      if (from >= to) continue;
      if (run & 1) multiplyQuads(outside + upper, outside + lower, ty, from, to, picture + ((row + 4 * from + 2) << 4));
      else lightQuads(picture, matte, within, outside, air, w, left, right, upper, lower, ty, onBody, from, to, row);
    }
  }
}

/** Between two pixels of one line. */
@inline
function quarterOf(line: usize, below: usize, q: i32, w: i32, ty: v128): v128 {
  const at: usize = <usize>max(0, min(w - 1, q)) << 4;
  return upright(line + at, below + at, ty);
}
/** Pixels between whole quarters q and q + 1, four each, times a gain: no body, no air. */
@inline
function multiplyQuads(line: usize, below: usize, ty: v128, from: i32, to: i32, at: usize): void {
  const one = f32x4.splat(1), quarter = f32x4.splat(0.25), half = f32x4.splat(0.5);
  let before = upright(line + (<usize>from << 4), below + (<usize>from << 4), ty);
  for (let p: usize = <usize>(from + 1) << 4, end: usize = <usize>(to + 1) << 4; p < end; p += 16, at += 64) {
    const after = upright(line + p, below + p, ty);
    // What no light reaches is not even read.
    if (v128.any_true(v128.or(f32x4.ne(before, one), f32x4.ne(after, one)))) {
      const step = f32x4.mul(f32x4.sub(after, before), quarter), gain = f32x4.add(before, f32x4.mul(step, half)), second = f32x4.add(gain, step), third = f32x4.add(second, step);
      v128.store(at, f32x4.mul(v128.load(at), gain));
      v128.store(at, f32x4.mul(v128.load(at, 16), second), 16);
      v128.store(at, f32x4.mul(v128.load(at, 32), third), 32);
      v128.store(at, f32x4.mul(v128.load(at, 48), f32x4.add(third, step)), 48);
    }
    before = after;
  }
}
/** Pixels between quarters q and q + 1 as `lightThings` says, where some lie beside the box, on the body or in air that is lit. */
function lightQuads(picture: usize, matte: usize, within: usize, outside: usize, air: usize, w: i32, left: i32, right: i32, upper: usize, lower: usize, ty: v128, held: bool, first: i32, last: i32, row: usize): void {
  const quarter = f32x4.splat(0.25), none = f32x4.splat(0), one = f32x4.splat(1);
  let innerRight = none, outRight = quarterOf(outside + upper, outside + lower, first, w, ty), airRight = none;
  // By how much more the body is lit than what is beside it.
  if (held) innerRight = f32x4.sub(quarterOf(within + upper, within + lower, first, w, ty), outRight);
  if (air) airRight = quarterOf(air + upper, air + lower, first, w, ty);
  for (let q = first; q < last; q++) {
    const innerLeft = innerRight, outLeft = outRight, airLeft = airRight;
    outRight = quarterOf(outside + upper, outside + lower, q + 1, w, ty);
    if (held) innerRight = f32x4.sub(quarterOf(within + upper, within + lower, q + 1, w, ty), outRight);
    if (air) airRight = quarterOf(air + upper, air + lower, q + 1, w, ty);
    const from = max(left, 4 * q + 2), to = min(right, 4 * q + 6);
    if (from >= to) continue;
    // What no light reaches is not even read.
    if (!air && !v128.any_true(v128.or(v128.or(f32x4.ne(outLeft, one), f32x4.ne(outRight, one)), v128.or(f32x4.ne(innerLeft, none), f32x4.ne(innerRight, none))))) continue;
    const t = f32x4.splat(<f32>(from - 4 * q) - 1.5), outStep = f32x4.mul(f32x4.sub(outRight, outLeft), quarter), bodyStep = f32x4.mul(f32x4.sub(innerRight, innerLeft), quarter), airStep = f32x4.mul(f32x4.sub(airRight, airLeft), quarter);
    let outer = f32x4.add(outLeft, f32x4.mul(outStep, t)), body = f32x4.add(innerLeft, f32x4.mul(bodyStep, t)), added = f32x4.add(airLeft, f32x4.mul(airStep, t));
    let at = picture + ((row + from) << 4), m = matte + ((row + from) << 2);
    for (const end = picture + ((row + to) << 4); at < end; at += 16, m += 4) {
      const lit = f32x4.mul(v128.load(at), held ? f32x4.add(outer, f32x4.mul(body, v128.load32_splat(m))) : outer);
      v128.store(at, air ? f32x4.add(lit, added) : lit);
      outer = f32x4.add(outer, outStep);
      body = f32x4.add(body, bodyStep);
      added = f32x4.add(added, airStep);
    }
  }
}
