import { storeSome } from './scratch';
import { exp4, smooth4, unitClamp } from './curves';
import { fractal4, noise4, stir } from './noise';

/*
 * The order in which points of a body are reached. `params` is 16 floats: an affine map from pixels (centres at +0.5) to the body's own
 * pixels a b c d e f; 1 for a circle and 0 for a direction; the beginning x y; the direction x y; 1/reach; ragged; 1/ragged size; the seed
 * (a whole number); share of `ragged` that the noise can reach at most.
 */
/** What is fixed for a row of where its pixels lie along one axis of the body, from the beginning of the order. The map of that axis stands at `at`, the beginning at `begin`. */
@inline
function axisRow(py: f32, params: usize, at: usize, begin: usize): v128 {
  return f32x4.splat(load<f32>(params + at, 4) * py + load<f32>(params + at, 8) - load<f32>(params + begin));
}
/** The order without noise, of pixels px of a row whose axes have these steps and beginnings. */
@inline
function plainOrder(px: v128, stepX: v128, rowX: v128, stepY: v128, rowY: v128, circle: bool, alongX: v128, alongY: v128, part: v128): v128 {
  const u = f32x4.add(f32x4.mul(px, stepX), rowX), v = f32x4.add(f32x4.mul(px, stepY), rowY);
  return f32x4.mul(circle ? f32x4.sqrt(f32x4.add(f32x4.mul(u, u), f32x4.mul(v, v))) : f32x4.add(f32x4.mul(u, alongX), f32x4.mul(v, alongY)), part);
}
@inline
function eaten(px: v128, py: f32, params: usize): v128 {
  const k = f32x4.splat(load<f32>(params, 52)), seed = <i32>load<f32>(params, 56), half = f32x4.splat(0.5), fine = f32x4.splat(3.7);
  const x = f32x4.mul(f32x4.add(f32x4.mul(px, f32x4.splat(load<f32>(params))), f32x4.splat(load<f32>(params, 4) * py + load<f32>(params, 8))), k), y = f32x4.mul(f32x4.add(f32x4.mul(px, f32x4.splat(load<f32>(params, 12))), f32x4.splat(load<f32>(params, 16) * py + load<f32>(params, 20))), k);
  const coarse = f32x4.mul(f32x4.sub(fractal4(x, y, 3, seed), half), f32x4.splat(2)), small = f32x4.mul(f32x4.sub(fractal4(f32x4.mul(x, fine), f32x4.mul(y, fine), 2, seed + 61), half), f32x4.splat(0.7));
  return f32x4.mul(f32x4.add(coarse, small), f32x4.splat(load<f32>(params, 48) * load<f32>(params, 44)));
}

/**
 * The order at each pixel, about 0..1. Noise is made only between `low` and `high` (orders that the caller tells apart); beyond, the order
 * without noise says enough. Columns `left` (a multiple of 4) to below `right`; bands are rows from `top`.
 */
export function arrivalOrder(params: usize, low: f32, high: f32, cover: usize, out: usize, width: i32, left: i32, right: i32, top: i32, y0: i32, y1: i32): void {
  const lanes = f32x4(0.5, 1.5, 2.5, 3.5), slack: f32 = load<f32>(params, 60) * load<f32>(params, 48) * load<f32>(params, 44), from = f32x4.splat(low - slack), to = f32x4.splat(high + slack), ragged = load<f32>(params, 48) > 0;
  const stepX = v128.load32_splat(params), stepY = v128.load32_splat(params, 12), alongX = v128.load32_splat(params, 36), alongY = v128.load32_splat(params, 40), part = v128.load32_splat(params, 44), circle = load<f32>(params, 24) > 0;
  for (let y = y0 + top; y < y1 + top; y++) {
    const py: f32 = <f32>y + 0.5, rowX = axisRow(py, params, 0, 28), rowY = axisRow(py, params, 12, 32);
    for (let x = left; x < right; x += 4) {
      const px = f32x4.add(f32x4.splat(<f32>x), lanes);
      let order = plainOrder(px, stepX, rowX, stepY, rowY, circle, alongX, alongY, part);
      let wanted = v128.and(f32x4.ge(order, from), f32x4.le(order, to));
      if (cover) wanted = v128.and(wanted, f32x4.gt(v128.load(cover + (<usize>(y * width + x) << 2)), f32x4.splat(0.001)));
      if (ragged && v128.any_true(wanted)) order = f32x4.add(order, eaten(px, py, params));
      storeSome(out + (<usize>(y * width + x) << 2), order, right - x);
    }
  }
}

/** How far traces have faded: a smooth step of 2.4 progress - 1.4 (the order without noise, clamped). */
export function fadingTraces(params: usize, progress: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  const lanes = f32x4(0.5, 1.5, 2.5, 3.5), gone = f32x4.splat(progress * 2.4), fades = f32x4.splat(1.4);
  const stepX = v128.load32_splat(params), stepY = v128.load32_splat(params, 12), alongX = v128.load32_splat(params, 36), alongY = v128.load32_splat(params, 40), part = v128.load32_splat(params, 44), circle = load<f32>(params, 24) > 0;
  for (let y = y0; y < y1; y++) {
    const py: f32 = <f32>y + 0.5, rowX = axisRow(py, params, 0, 28), rowY = axisRow(py, params, 12, 32);
    for (let x = 0; x < width; x += 4) {
      const order = plainOrder(f32x4.add(f32x4.splat(<f32>x), lanes), stepX, rowX, stepY, rowY, circle, alongX, alongY, part);
      storeSome(out + (<usize>(y * width + x) << 2), smooth4(f32x4.sub(gone, f32x4.mul(unitClamp(order), fades))), width - x);
    }
  }
}

/**
 * What a front does at each pixel: how much of the body is gone (`removal`, within `cover`), and a skin of burning rim and charred edge
 * (premultiplied: light, with the charring as its cover) where the body (`matte`) still stands ahead of it. Everything else of the skin becomes
 * empty. `params` is 16 floats: reached order, half width of the edge in order, width of the rim in order, strength of the rim, its colour r g b,
 * charring, whole-shot pixels a pixel, the seed. Outside of columns `left` (a multiple of 4) to below `right` and rows `top` to below `bottom` there is no cover; all of the picture is written.
 */
export function burnFront(order: usize, cover: usize, matte: usize, params: usize, removal: usize, skin: usize, width: i32, left: i32, right: i32, top: i32, bottom: i32, y0: i32, y1: i32): void {
  const reached = load<f32>(params), edge = load<f32>(params, 4), rim: f32 = 1 / load<f32>(params, 8), strength = f32x4.splat(load<f32>(params, 12)), char = f32x4.splat(load<f32>(params, 28)), pixel = load<f32>(params, 32), seed = <i32>load<f32>(params, 36);
  const red = load<f32>(params, 16) * 1.9, green = load<f32>(params, 20), blue = load<f32>(params, 24);
  const p = f32x4.splat(reached), low = f32x4.splat(edge), sharp = f32x4.splat(1 / (2 * edge)), zero = f32x4.splat(0), one = f32x4.splat(1), lanes = f32x4(0.5, 1.5, 2.5, 3.5), far = f32x4.splat(8), little = f32x4.splat(0.01);
  for (let y = y0; y < y1; y++) {
    memory.fill(skin + (<usize>(y * width) << 4), 0, <usize>width << 4);
    memory.fill(removal + (<usize>(y * width) << 2), 0, <usize>width << 2);
    if (y < top || y >= bottom) continue;
    const wy = f32x4.splat((<f32>y + 0.5) * pixel);
    for (let x = left; x < right; x += 4) {
      const at: usize = <usize>(y * width + x) << 2, around = v128.load(cover + at);
      if (!v128.any_true(f32x4.gt(around, f32x4.splat(0.001)))) continue;
      const o = v128.load(order + at), gone = smooth4(f32x4.mul(f32x4.add(f32x4.sub(p, o), low), sharp)), m = v128.load(matte + at);
      storeSome(removal + at, f32x4.mul(gone, around), width - x);
      const ahead = f32x4.mul(f32x4.sub(o, p), f32x4.splat(rim));
      const drawn = v128.and(v128.and(f32x4.gt(m, little), f32x4.lt(gone, one)), f32x4.le(ahead, far));
      if (!v128.any_true(drawn)) continue;
      const wx = f32x4.mul(f32x4.add(f32x4.splat(<f32>x), lanes), f32x4.splat(pixel));
      const grit = f32x4.add(f32x4.mul(noise4(f32x4.mul(wx, f32x4.splat(1 / 3.1)), f32x4.mul(wy, f32x4.splat(1 / 3.1)), seed + 31), f32x4.splat(0.65)), f32x4.mul(noise4(f32x4.mul(wx, f32x4.splat(0.125)), f32x4.mul(wy, f32x4.splat(0.125)), seed + 37), f32x4.splat(0.35)));
      const stands = f32x4.mul(m, f32x4.sub(one, gone)), off = f32x4.sub(ahead, f32x4.splat(0.35));
      const burn = v128.and(f32x4.mul(f32x4.mul(f32x4.mul(exp4(f32x4.mul(f32x4.mul(off, off), f32x4.splat(-1.6))), f32x4.add(f32x4.splat(0.1), f32x4.mul(f32x4.mul(grit, grit), f32x4.splat(1.5)))), strength), stands), drawn);
      const black = v128.and(f32x4.mul(unitClamp(f32x4.mul(f32x4.mul(exp4(f32x4.mul(f32x4.pmax(zero, ahead), f32x4.splat(-1 / 2.6))), char), f32x4.add(f32x4.splat(0.55), f32x4.mul(grit, f32x4.splat(0.6))))), stands), drawn);
      // Hotter towards the front: the core leans to white, the outside to the rim's own red.
      const heat = unitClamp(f32x4.sub(f32x4.splat(1.2), f32x4.abs(f32x4.sub(ahead, f32x4.splat(0.3)))));
      const r = f32x4.mul(burn, f32x4.splat(red)), g = f32x4.mul(burn, f32x4.mul(f32x4.splat(green), f32x4.add(f32x4.splat(1.1), f32x4.mul(heat, f32x4.splat(0.9))))), b = f32x4.mul(burn, f32x4.mul(f32x4.splat(blue), f32x4.add(f32x4.splat(0.8), f32x4.mul(f32x4.mul(heat, heat), f32x4.splat(1.4)))));
      // From planes to pixels.
      const rg = v128.shuffle<f32>(r, g, 0, 4, 1, 5), ba = v128.shuffle<f32>(b, black, 0, 4, 1, 5), rgh = v128.shuffle<f32>(r, g, 2, 6, 3, 7), bah = v128.shuffle<f32>(b, black, 2, 6, 3, 7);
      const to = skin + (<usize>(y * width + x) << 4), some = width - x;
      v128.store(to, v128.shuffle<f32>(rg, ba, 0, 1, 4, 5));
      if (some > 1) v128.store(to, v128.shuffle<f32>(rg, ba, 2, 3, 6, 7), 16);
      if (some > 2) v128.store(to, v128.shuffle<f32>(rgh, bah, 0, 1, 4, 5), 32);
      if (some > 3) v128.store(to, v128.shuffle<f32>(rgh, bah, 2, 3, 6, 7), 48);
    }
  }
}

/** How much of a place gives way: all of it at the front, none a zone ahead of it, and none any more half a zone behind it. */
@inline
function givesWay(order: f32, reached: f32, zone: f32): f32 {
  const ahead: f32 = (order - reached) * zone;
  if (ahead >= 1 || ahead <= -0.5) return 0;
  const t: f32 = ahead > 0 ? 1 - ahead : 1 + 2 * ahead;
  return t * t * (3 - 2 * t);
}

/**
 * The body just ahead of a front gives way before it goes: it thins (`removal` grows), or gives way to what it looks like blurred or smeared: the mean of places around each pixel
 * (`offsets`, pairs of x and y in pixels; none where it thins only), each as far as it gives way itself, laid under what `skin` has. Half a zone behind the front the last of that
 * fades. `params` is 5 floats: reached order, 1 / the zone in order, how much of the body gives way, 0..1, half the width of the front's edge in order, and how far the places reach, in
 * zones.
 */
export function softenFront(order: usize, matte: usize, plate: usize, offsets: usize, count: i32, params: usize, removal: usize, skin: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const reached = load<f32>(params), zone = load<f32>(params, 4), most = load<f32>(params, 8), edge = load<f32>(params, 12), far = load<f32>(params, 16), one: f32 = 1, part = f32x4.splat(count ? most / <f32>count : 0);
  for (let y = y0; y < y1; y++) for (let x = 0; x < width; x++) {
    const p = <usize>(y * width + x), o = load<f32>(order + (p << 2)), ahead: f32 = (o - reached) * zone;
    if (ahead >= one + far || ahead <= -0.5 - far) continue;
    const share: f32 = most * givesWay(o, reached, zone), gone = load<f32>(removal + (p << 2));
    if (share > 0 && ahead > -edge * zone && load<f32>(matte + (p << 2)) > 0) store<f32>(removal + (p << 2), max(gone, share));
    if (!count) continue;
    let sum = f32x4.splat(0), some = false;
    for (let k = 0; k < count; k++) {
      const at = offsets + (<usize>k << 3), qx = x + <i32>load<f32>(at), qy = y + <i32>load<f32>(at, 4);
      if (qx < 0 || qy < 0 || qx >= width || qy >= height) continue;
      const q = <usize>(qy * width + qx), m: f32 = min<f32>(1, max<f32>(0, load<f32>(matte + (q << 2)))), weight: f32 = m > 0 ? m * givesWay(load<f32>(order + (q << 2)), reached, zone) : 0;
      if (weight > 0) {
        sum = f32x4.add(sum, f32x4.mul(f32x4.replace_lane(v128.load(plate + (q << 4)), 3, 1), f32x4.splat(weight)));
        some = true;
      }
    }
    if (!some) continue;
    const soft = f32x4.mul(sum, part), to = skin + (p << 4), above = v128.load(to);
    v128.store(to, f32x4.add(above, f32x4.mul(soft, f32x4.splat(one - f32x4.extract_lane(above, 3)))));
  }
}

@inline
function bytesOf(h: v128): v128 {
  const m = i32x4.splat(255), sum = i32x4.add(i32x4.add(v128.and(h, m), v128.and(i32x4.shr_u(h, 8), m)), i32x4.add(v128.and(i32x4.shr_u(h, 16), m), i32x4.shr_u(h, 24)));
  // One over the deviation of the sum of four even bytes.
  return f32x4.mul(f32x4.convert_i32x4_s(i32x4.sub(sum, i32x4.splat(510))), f32x4.splat(0.006765875086793228));
}

/**
 * Shows the clean plate, grained like the plate, where a mask says so; exact where it says 0 (and not written, where the result is the picture). `sigma` is three deviations and a 0, of square
 * roots of light; grain is half common to the channels and keyed by pixel and `seed`.
 */
export function showGrained(picture: usize, clean: usize, mask: usize, sigma: usize, seed: i32, out: usize, width: i32, y0: i32, y1: i32): void {
  const first = y0 * width, end = y1 * width, s = v128.load(sigma), zero = f32x4.splat(0), keys = i32x4.add(i32x4(0, 0x7feb352d, 0x6c8e9cf5, 0x27d4eb2f), i32x4.splat(seed)), alpha = i32x4(0, 0, 0, -1), into = picture == out;
  picture += <usize>first << 4; clean += <usize>first << 4; out += <usize>first << 4;
  for (let p = first; p < end; p++) {
    const m = load<f32>(mask + (<usize>p << 2));
    if (m > 0) {
      const a = v128.load(picture);
      // Lanes 0 to 2 are the channels' own grain, lane 3 what they share.
      const n = bytesOf(stir(i32x4.add(keys, i32x4.splat(p * 0x9e3779b1))));
      const shared = f32x4.mul(v128.shuffle<f32>(n, n, 3, 3, 3, 3), f32x4.splat(0.63)), b = v128.load(clean);
      const v = f32x4.pmax(zero, f32x4.add(f32x4.sqrt(f32x4.pmax(zero, b)), f32x4.mul(s, f32x4.add(shared, f32x4.mul(n, f32x4.splat(0.77))))));
      const shown = v128.bitselect(b, f32x4.mul(v, v), alpha);
      v128.store(out, f32x4.add(a, f32x4.mul(f32x4.sub(shown, a), f32x4.splat(m))));
    } else if (!into) v128.store(out, v128.load(picture));
    picture += 16; clean += 16; out += 16;
  }
}
