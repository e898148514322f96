import { fallOff4, smooth4, teeth4, unitClamp } from './curves';
import { noise4 } from './noise';

/** How much finer the pattern becomes with the way from the skin: rooted there wholly, it would spread in fans from every corner. */
const FINER: f32 = 0.8;

/**
 * Light that is drawn out along the normals of a body's outline, 0..1, in a box of a plane: on the body its coverage (`body`, a plane of the box), about it what is left of that with the way from the skin, by
 * tongues that lick outwards, part from their roots, and stay behind where the body goes. `dx` and `dy` say how many columns and rows each pixel lies from its nearest
 * place of the body. `params` is 19 floats: size of a tongue, its phase, how far it reaches and how far is looked (pixels), way by which the tips stay behind x y (pixels), sway, raggedness, kind (0 flames, 1
 * teeth, 2 a veil), the seed, how far it has risen (tongues), and twice (the pattern is two in turn): how far it has flowed (tongues), its place, how much it is seen; last the place of the box in the picture x y. Bands are rows of the box.
 */
export function flamesOffSkin(body: usize, dx: usize, dy: usize, params: usize, out: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const size: f32 = 1 / load<f32>(params), phase = f32x4.splat(load<f32>(params, 4)), far = load<f32>(params, 8), most = f32x4.splat(load<f32>(params, 12)), lateX = load<f32>(params, 16), lateY = load<f32>(params, 20), sway = f32x4.splat(load<f32>(params, 24) * 0.5), ragged = load<f32>(params, 28), kind = load<f32>(params, 32), seed = <i32>load<f32>(params, 36), risen = load<f32>(params, 40);
  const zero = f32x4.splat(0), one = f32x4.splat(1), half = f32x4.splat(0.5), per = f32x4.splat(1 / far), sized = f32x4.splat(size), moves = lateX != 0 || lateY != 0, finer = f32x4.splat(FINER), lanes = f32x4(0, 1, 2, 3), left = f32x4.splat(load<f32>(params, 68)), top = f32x4.splat(load<f32>(params, 72));
  for (let y = y0; y < y1; y++) for (let x = 0; x < width; x += 4) {
    const at: usize = <usize>(y * width + x) << 2, some = min(4, width - x), m = v128.load(body + at);
    let ux = v128.load(dx + at), uy = v128.load(dy + at), d = f32x4.sqrt(f32x4.add(f32x4.mul(ux, ux), f32x4.mul(uy, uy))), value = m;
    const about = v128.and(f32x4.gt(d, zero), f32x4.le(d, most));
    if (v128.any_true(about)) {
      let px = f32x4.add(f32x4.splat(<f32>x), lanes), py = f32x4.splat(<f32>y);
      if (moves) {
        // The tip left the skin some frames ago, when that was elsewhere.
        const late = f32x4.mul(f32x4.pmin(d, f32x4.splat(far)), per);
        px = f32x4.pmin(f32x4.splat(<f32>(width - 1)), f32x4.pmax(zero, f32x4.nearest(f32x4.add(px, f32x4.mul(late, f32x4.splat(lateX))))));
        py = f32x4.pmin(f32x4.splat(<f32>(height - 1)), f32x4.pmax(zero, f32x4.nearest(f32x4.add(py, f32x4.mul(late, f32x4.splat(lateY))))));
        const q = i32x4.shl(i32x4.add(i32x4.mul(i32x4.trunc_sat_f32x4_s(py), i32x4.splat(width)), i32x4.trunc_sat_f32x4_s(px)), 2);
        const a = <usize>i32x4.extract_lane(q, 0), b = <usize>i32x4.extract_lane(q, 1), c = <usize>i32x4.extract_lane(q, 2), e = <usize>i32x4.extract_lane(q, 3);
        ux = f32x4(0, 0, 0, 0);
        ux = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(ux, 0, load<f32>(dx + a)), 1, load<f32>(dx + b)), 2, load<f32>(dx + c)), 3, load<f32>(dx + e));
        uy = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(ux, 0, load<f32>(dy + a)), 1, load<f32>(dy + b)), 2, load<f32>(dy + c)), 3, load<f32>(dy + e));
        d = f32x4.pmax(half, f32x4.sqrt(f32x4.add(f32x4.mul(ux, ux), f32x4.mul(uy, uy))));
      }
      d = f32x4.pmax(half, d);
      const rx = f32x4.mul(f32x4.add(f32x4.add(px, left), f32x4.mul(ux, finer)), sized), ry = f32x4.mul(f32x4.add(f32x4.add(py, top), f32x4.mul(uy, finer)), sized), nx = f32x4.div(ux, d), ny = f32x4.div(uy, d), share = f32x4.mul(d, per), bent = f32x4.splat(1 / 1.7);
      const lean = f32x4.mul(f32x4.mul(sway, share), f32x4.sub(noise4(f32x4.add(f32x4.mul(rx, bent), phase), f32x4.add(f32x4.mul(ry, bent), f32x4.splat(risen * 0.4)), seed + 2), half));
      let n = zero, part = zero;
      // The pattern flows outwards along the normals: two of it in turn, each begun anew while the other is seen.
      for (let k: usize = 0; k < 2; k++) {
        const own = params + 44 + k * 12, flow = f32x4.splat(load<f32>(own)), begun = load<f32>(own, 4), seen = f32x4.splat(load<f32>(own, 8));
        const u = f32x4.add(f32x4.add(f32x4.sub(rx, f32x4.mul(nx, flow)), lean), f32x4.splat(begun)), w = f32x4.sub(f32x4.add(f32x4.sub(ry, f32x4.mul(ny, flow)), lean), f32x4.splat(0.7 * begun));
        if (kind == 1) {
          n = f32x4.add(n, f32x4.mul(seen, teeth4(f32x4.add(u, w))));
          continue;
        }
        // The fine part also says where tongues part from their roots: a pattern of its own for that cost a quarter of the whole.
        const fine = noise4(f32x4.mul(u, f32x4.splat(2.3)), f32x4.mul(w, f32x4.splat(2.3)), seed + 1);
        n = f32x4.add(n, f32x4.mul(seen, f32x4.add(f32x4.mul(f32x4.splat(0.65), noise4(u, w, seed)), f32x4.mul(f32x4.splat(0.35), fine))));
        part = f32x4.add(part, f32x4.mul(seen, fine));
      }
      const long = kind == 2 ? f32x4.sub(one, f32x4.mul(f32x4.splat(0.6 * ragged), n)) : f32x4.pmax(f32x4.splat(0.05), f32x4.add(f32x4.splat(1 - ragged), f32x4.mul(f32x4.splat(2.1 * ragged), f32x4.mul(n, n))));
      // Light rises: it reaches less far down.
      const up = f32x4.add(f32x4.splat(0.62), f32x4.mul(f32x4.splat(0.38), v128.bitselect(f32x4.neg(ny), f32x4.mul(ny, f32x4.splat(-0.6)), f32x4.lt(ny, zero))));
      // Tongues part from their roots.
      const apart = kind == 0 ? f32x4.add(f32x4.splat(0.6), f32x4.mul(f32x4.splat(0.8), part)) : one, from = smooth4(f32x4.pmin(one, f32x4.pmax(zero, f32x4.mul(f32x4.sub(share, f32x4.splat(0.1)), f32x4.splat(2.5)))));
      const kept = f32x4.mul(fallOff4(f32x4.div(share, f32x4.mul(long, up))), f32x4.sub(one, f32x4.mul(from, f32x4.sub(one, apart))));
      value = v128.bitselect(f32x4.pmin(one, f32x4.pmax(m, kept)), m, about);
    }
    if (some == 4) v128.store(out + at, value);
    else for (let k = 0; k < some; k++) {
      store<f32>(out + at + (<usize>k << 2), f32x4.extract_lane(value, 0));
      value = v128.shuffle<f32>(value, value, 1, 2, 3, 0);
    }
  }
}

/**
 * Adds tongues of light to a picture: white-hot where they are strong, coloured at their tips, and held out by the body. `seen` and `body` are planes of a
 * box of it at column `left` and row `top`, `width` wide. `params` is 8 floats: strength, how much of it stays on the body, colour of the tips r g b, colour near the body r g b. Bands are rows of the box.
 */
export function layFlames(seen: usize, body: usize, params: usize, out: usize, width: i32, left: i32, top: i32, outWidth: i32, y0: i32, y1: i32): void {
  const strength = f32x4.splat(load<f32>(params)), held = f32x4.splat(1 - load<f32>(params, 4)), tips = f32x4(load<f32>(params, 8), load<f32>(params, 12), load<f32>(params, 16), 0), more = f32x4.sub(f32x4(load<f32>(params, 20), load<f32>(params, 24), load<f32>(params, 28), 0), tips);
  const one = f32x4.splat(1), faint = f32x4.splat(0.02), lanes = i32x4(0, 1, 2, 3);
  for (let y = y0; y < y1; y++) for (let x = 0; x < width; x += 4) {
    const at: usize = <usize>(y * width + x) << 2, value = v128.load(seen + at), shown = v128.and(f32x4.ge(value, faint), i32x4.lt_s(i32x4.add(lanes, i32x4.splat(x)), i32x4.splat(width)));
    if (!v128.any_true(shown)) continue;
    let a = f32x4.mul(f32x4.mul(strength, smooth4(f32x4.mul(f32x4.sub(value, faint), f32x4.splat(1 / 0.73)))), f32x4.add(f32x4.splat(0.25), f32x4.mul(f32x4.splat(0.75), value)));
    a = v128.and(shown, f32x4.mul(a, f32x4.sub(one, f32x4.mul(unitClamp(v128.load(body + at)), held))));
    let heat = f32x4.mul(value, value);
    const to = out + (<usize>((y + top) * outWidth + left + x) << 4), n = min(4, width - x);
    for (let k = 0; k < n; k++) {
      const p = to + (<usize>k << 4), own = f32x4.extract_lane(a, 0);
      if (own > 0) v128.store(p, f32x4.add(v128.load(p), f32x4.mul(f32x4.splat(own), f32x4.add(tips, f32x4.mul(more, f32x4.splat(f32x4.extract_lane(heat, 0)))))));
      a = v128.shuffle<f32>(a, a, 1, 2, 3, 0);
      heat = v128.shuffle<f32>(heat, heat, 1, 2, 3, 0);
    }
  }
}

/**
 * From cells of 2 x 2 pixels, each of which knows how many columns and rows of cells it lies from the nearest cell of a body (16-bit, `nowhere` where there is
 * none; `w` to a row), to every pixel: how many columns and rows it lies from the middle of that cell. 0 on the body itself, where `body` is `least` or more. Bands are rows of pixels.
 */
export function spreadWays(a: usize, b: usize, w: i32, nowhere: i32, body: usize, least: f32, dx: usize, dy: usize, width: i32, y0: i32, y1: i32): void {
  for (let y = y0; y < y1; y++) {
    const row = (y >> 1) * w, offY: f32 = <f32>(y & 1) - 0.5;
    for (let x = 0; x < width; x++) {
      const at: usize = <usize>(y * width + x) << 2, cell: usize = <usize>(row + (x >> 1)) << 1, ax = <i32>load<i16>(a + cell);
      let px: f32 = 0, py: f32 = 0;
      if (load<f32>(body + at) < least) {
        const none = ax == nowhere;
        px = none ? <f32>nowhere : <f32>(ax << 1) + <f32>(x & 1) - 0.5;
        py = none ? <f32>nowhere : <f32>(<i32>load<i16>(b + cell) << 1) + offY;
      }
      store<f32>(dx + at, px);
      store<f32>(dy + at, py);
    }
  }
}
