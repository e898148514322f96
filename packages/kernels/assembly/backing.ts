import { storeSome } from './scratch';

/** Steps of keying a backing; see core/matte/backingKey.ts for what they are parts of. Light is linear; the backing's picture may be a quarter of the size (`coarse` is by how much places are halved). */

@inline
function three(at: usize): v128 {
  return f32x4.replace_lane(v128.load(at), 3, 0);
}

/**
 * Coverage by how much of the backing's excess is left at each pixel: its `strongest` channel (0 to 2) above the larger of the others, against `whole`, the excess of the backing there (a plane of its
 * size). Held within -0.5..1; 1 where that is no backing (at most `least`).
 */
export function excessCover(plate: usize, whole: usize, wholeWidth: i32, coarse: i32, strongest: i32, least: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  const one = f32x4.splat(1), lowest = f32x4.splat(-0.5);
  for (let y = y0; y < y1; y++) {
    const row = whole + (<usize>((y >> coarse) * wholeWidth) << 2);
    // Four pixels are of one cell, or all are.
    for (let x = 0; x < width; x += 4) {
      const at = <usize>(y * width + x), p = plate + (at << 4), most = load<f32>(row + (<usize>(x >> coarse) << 2)), some = width - x, to = out + (at << 2);
      if (!(most > least)) {
        storeSome(to, one, some);
        continue;
      }
      const a = v128.load(p), b = v128.load(p, 16), c = v128.load(p, 32), d = v128.load(p, 48), ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5), cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
      const red = v128.shuffle<f64>(ab, cd, 0, 2), green = v128.shuffle<f64>(ab, cd, 1, 3), blue = v128.shuffle<f32>(v128.shuffle<f32>(a, b, 2, 6, 2, 6), v128.shuffle<f32>(c, d, 2, 6, 2, 6), 0, 1, 4, 5);
      const own = strongest == 0 ? red : strongest == 1 ? green : blue, others = f32x4.pmax(strongest == 0 ? green : red, strongest == 2 ? green : blue);
      const v = f32x4.sub(one, f32x4.div(f32x4.sub(own, others), f32x4.splat(most)));
      storeSome(to, f32x4.pmax(f32x4.pmin(v, one), lowest), some);
    }
  }
}

/**
 * Coverage of what is neither solid nor backing, in `cover`: the share of the way from the backing to the shade on whose way the pixel lies. `shades` are `count` of 12 floats: colour of the display r g b and how near to
 * it is solid (squared); light r g b and how far it strays (squared); how solid the shade is, and three unused. `params` is 8 floats: coverage outside, that of the core, that
 * from which a pixel counts as solid, the badness from which it is a shade of its own, grain squared, and the cost of a thin cover.
 */
export function unmixShades(plate: usize, behind: usize, behindWidth: i32, coarse: i32, solid: usize, around: usize, shades: usize, count: i32, params: usize, cover: usize, width: i32, y0: i32, y1: i32): void {
  const outside = load<f32>(params), core = load<f32>(params, 4), full = load<f32>(params, 8), unknown = load<f32>(params, 12), grain = load<f32>(params, 16), thin = load<f32>(params, 20), zero = f32x4.splat(0);
  for (let y = y0; y < y1; y++) for (let x = 0; x < width; x++) {
    const k = <usize>(y * width + x), near = load<f32>(around + (k << 2));
    if (load<f32>(solid + (k << 2)) > 0.5 || near <= outside) continue;
    const own = load<f32>(cover + (k << 2)), p = f32x4.pmax(zero, three(plate + (k << 4))), b = three(behind + (<usize>((y >> coarse) * behindWidth + (x >> coarse)) << 4));
    // A deviation of the light is seen as one of the display by its slope there.
    const w = f32x4.div(f32x4.splat(0.25), f32x4.pmax(f32x4.splat(0.002), p)), root = f32x4.sqrt(p), off0 = f32x4.sub(p, b), weighed = f32x4.mul(w, off0);
    // What keeps no excess at all may be solid in a shade of its own.
    let least: f32 = own >= full && near >= full ? unknown : Infinity, share0: f32 = own, most: f32 = own;
    for (let j = 0; j < count; j++) {
      const s = shades + <usize>(j * 48), c = f32x4.sub(root, three(s)), cc = f32x4.mul(c, c), apart = f32x4.extract_lane(cc, 0) + f32x4.extract_lane(cc, 1) + f32x4.extract_lane(cc, 2);
      // What has the colour of a shade, or nearly, is solid: light of the backing that lies on it makes it no thinner.
      if (own >= core && apart < load<f32>(s, 12)) {
        share0 = most = 1;
        break;
      }
      const v = f32x4.sub(three(s + 16), b), a4 = f32x4.mul(weighed, v), l4 = f32x4.mul(w, f32x4.mul(v, v)), along = f32x4.extract_lane(a4, 0) + f32x4.extract_lane(a4, 1) + f32x4.extract_lane(a4, 2), length = f32x4.extract_lane(l4, 0) + f32x4.extract_lane(l4, 1) + f32x4.extract_lane(l4, 2);
      const share: f32 = min<f32>(1, max<f32>(0, along / max<f32>(1e-9, length))), d = f32x4.sub(off0, f32x4.mul(v, f32x4.splat(share))), o4 = f32x4.mul(w, f32x4.mul(d, d)), off = f32x4.extract_lane(o4, 0) + f32x4.extract_lane(o4, 1) + f32x4.extract_lane(o4, 2);
      const cost: f32 = off / (grain + share * share * load<f32>(s, 28)) + thin * (1 - share) * (1 - share);
      if (cost < least) {
        least = cost;
        share0 = share;
        most = own / load<f32>(s, 32);
      }
    }
    // It is never more than its excess allows, against that of the shade itself, on which light of the backing may lie.
    store<f32>(cover + (k << 2), min<f32>(1, min<f32>(most, share0)));
  }
}

/** Settles a key, in place: 1 where it is solid or has come to `core`, nothing outside, and between them a ramp that begins at `outside` and is bent over its last part alone. */
export function settleKey(cover: usize, solid: usize, around: usize, outside: f32, core: f32, width: i32, y0: i32, y1: i32): void {
  const knee = f32x4.splat(1 - 2 * (1 - core)), part = f32x4.splat(1 / outside), begin = f32x4.splat(outside), full = f32x4.splat(core), one = f32x4.splat(1), zero = f32x4.splat(0), half = f32x4.splat(0.5);
  for (let k = y0 * width, end = y1 * width; k < end; k += 4) {
    const at = <usize>k << 2, v = v128.load(cover + at), whole = v128.or(f32x4.gt(v128.load(solid + at), half), f32x4.ge(v, full));
    const begins = f32x4.mul(f32x4.sub(v128.load(around + at), begin), part), over = f32x4.sub(v, knee), bent = v128.bitselect(f32x4.pmin(one, f32x4.add(knee, f32x4.add(over, over))), v, f32x4.gt(v, knee));
    const there = v128.and(f32x4.gt(v, zero), f32x4.gt(begins, zero));
    storeSome(cover + at, v128.bitselect(one, v128.and(f32x4.mul(f32x4.pmin(one, begins), bent), there), whole), end - k);
  }
}

/** 1 where a cover has come to `core`, 0 elsewhere. */
export function solidOf(cover: usize, core: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  const one = f32x4.splat(1), full = f32x4.splat(core);
  for (let k = y0 * width, end = y1 * width; k < end; k += 4) storeSome(out + (<usize>k << 2), v128.and(one, f32x4.ge(v128.load(cover + (<usize>k << 2)), full)), end - k);
}
