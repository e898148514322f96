/** Steps of effects that cut figures out and put them together. Numbers that steer them are doubles, as the effects work them out. */

@inline
function held(x: f64): f64 {
  return x < 0 ? 0 : x > 1 ? 1 : x;
}
@inline
function smooth(a: f64, b: f64, x: f64): f64 {
  const t = held((x - a) / (b - a));
  return t * t * (3 - 2 * t);
}

@inline
function anyAbove(at: usize, most: v128): bool {
  return v128.any_true(v128.or(v128.or(f32x4.gt(v128.load(at), most), f32x4.gt(v128.load(at, 16), most)), v128.or(f32x4.gt(v128.load(at, 32), most), f32x4.gt(v128.load(at, 48), most))));
}

/**
 * First column and row, and last column and row, in which something of a plane is above `limit`: four whole numbers in `box`. Only every
 * `step`th row is looked at.
 * False where there is nothing.
 */
export function findBox(plane: usize, width: i32, height: i32, limit: f32, step: i32, box: usize): bool {
  let x0 = width, x1 = -1, y0 = height, y1 = -1;
  const most = f32x4.splat(limit);
  for (let y = 0; y < height; y += step) {
    const row = plane + (<usize>(y * width) << 2);
    let l = 0;
    while (l + 16 <= width && !anyAbove(row + (<usize>l << 2), most)) l += 16;
    while (l + 4 <= width && !v128.any_true(f32x4.gt(v128.load(row + (<usize>l << 2)), most))) l += 4;
    while (l < width && !(load<f32>(row + (<usize>l << 2)) > limit)) l++;
    if (l == width) continue;
    let r = width - 1;
    while (r >= 16 && !anyAbove(row + (<usize>(r - 15) << 2), most)) r -= 16;
    while (r >= 4 && !v128.any_true(f32x4.gt(v128.load(row + (<usize>(r - 3) << 2)), most))) r -= 4;
    while (!(load<f32>(row + (<usize>r << 2)) > limit)) r--;
    x0 = min(x0, l);
    x1 = max(x1, r);
    y0 = min(y0, y);
    y1 = y;
  }
  store<i32>(box, x0);
  store<i32>(box, y0, 4);
  store<i32>(box, x1, 8);
  store<i32>(box, y1, 12);
  return x1 >= 0;
}

/**
 * The figure in columns x0 to below x1 of a picture, premultiplied by its matte, into a region's picture that is empty and begins at (outX, outY).
 * Bands are rows from `top` on.
 */
export function cutFigure(plate: usize, matte: usize, width: i32, x0: i32, x1: i32, top: i32, out: usize, outX: i32, outY: i32, outWidth: i32, y0: i32, y1: i32): void {
  for (let y = top + y0; y < top + y1; y++) {
    let p = <usize>(y * width + x0), to = out + (<usize>((y - outY) * outWidth + x0 - outX) << 4);
    for (let x = x0; x < x1; x++, p++, to += 16) {
      const m = min<f32>(1, load<f32>(matte + (p << 2)));
      if (m > 0) v128.store(to, f32x4.replace_lane(f32x4.mul(v128.load(plate + (p << 4)), f32x4.splat(m)), 3, m));
    }
  }
}

/**
 * A body that gathers, in a box of the picture: what is not there yet (`removal`), the blurred body that comes up (added to `body`), and light
 * (into a region's picture). `soft` is the blurred body in a region of its own, 0 where there is none. `params` is 18 doubles: order reached, width of the zone, strength
 * of the light and its colour, first and last column of the box (the last one not in it) and its first row, x, y, width and height of the
 * blurred body's region, x, y and width of the light's, how much that light follows the body's own, 0..1, and the mean luminance of the body. Bands are rows of the box.
 */
export function gatherBody(order: usize, cover: usize, matte: usize, plate: usize, soft: usize, params: usize, removal: usize, body: usize, light: usize, width: i32, y0: i32, y1: i32): void {
  const reached = load<f64>(params), zone = load<f64>(params, 8), strength = load<f64>(params, 16), red = load<f64>(params, 24), green = load<f64>(params, 32), blue = load<f64>(params, 40), left = <i32>load<f64>(params, 48), right = <i32>load<f64>(params, 56), top = <i32>load<f64>(params, 64), softX = <i32>load<f64>(params, 72), softY = <i32>load<f64>(params, 80), softW = <i32>load<f64>(params, 88), softH = <i32>load<f64>(params, 96), lightX = <i32>load<f64>(params, 104), lightY = <i32>load<f64>(params, 112), lightW = <i32>load<f64>(params, 120), detail = load<f64>(params, 128), mean = load<f64>(params, 136);
  for (let y = top + y0; y < top + y1; y++) {
    const within = soft != 0 && y >= softY && y < softY + softH, from = within ? softX : right, to = within ? softX + softW : right;
    for (let x = left; x < right; x++) {
      const p = <usize>(y * width + x), beyond = load<f32>(cover + (p << 2)), far = x >= from && x < to ? soft + (<usize>((y - softY) * softW + x - softX) << 4) : 0, there: f32 = far ? load<f32>(far, 12) : 0;
      if (beyond <= 0 && there <= 0) continue;
      const t = held((reached - <f64>load<f32>(order + (p << 2))) / zone);
      // All of it is there already.
      if (t >= 1) continue;
      const sharp = smooth(0.72, 1, t);
      store<f32>(removal + (p << 2), <f32>(held(<f64>beyond) * (1 - sharp)));
      if (t <= 0) continue;
      // The blurred body comes up and gives way to the sharp one.
      const shown = there > 0 ? smooth(0.25, 0.7, t) * (1 - sharp) : 0;
      if (shown > 0) {
        const at = body + (p << 4);
        store<f32>(at, load<f32>(at) + <f32>(<f64>load<f32>(far) * shown));
        store<f32>(at, load<f32>(at, 4) + <f32>(<f64>load<f32>(far, 4) * shown), 4);
        store<f32>(at, load<f32>(at, 8) + <f32>(<f64>load<f32>(far, 8) * shown), 8);
        store<f32>(at, min<f32>(1, load<f32>(at, 12) + <f32>(<f64>there * shown)), 12);
      }
      let glow = strength * smooth(0, 0.3, t) * (1 - smooth(0.45, 0.95, t)) * held(<f64>load<f32>(matte + (p << 2)));
      if (glow > 0) {
        if (detail > 0) {
          const own = plate + (p << 4), l = 0.2126 * <f64>load<f32>(own) + 0.7152 * <f64>load<f32>(own, 4) + 0.0722 * <f64>load<f32>(own, 8);
          glow *= 1 - detail + detail * 2 * max<f64>(0, l) / (max<f64>(0, l) + mean);
        }
        const at = light + (<usize>((y - lightY) * lightW + x - lightX) << 4);
        store<f32>(at, <f32>(glow * red));
        store<f32>(at, <f32>(glow * green), 4);
        store<f32>(at, <f32>(glow * blue), 8);
      }
    }
  }
}

/**
 * A figure alone, tinted, premultiplied: part of a plate (`wide` to a row) times its matte. A tint takes the figure's own lights and darks along. `params` is 8
 * floats: how much it is tinted, 0..1, colour r g b, gain of the colour, 1 where it covers and 0 where it is light. The result begins at column `left` and row `top` of the plate
 * and is `width` wide; bands are its rows.
 */
export function tintedFigure(plate: usize, matte: usize, wide: i32, left: i32, top: i32, params: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  const tint = load<f32>(params), colour = f32x4(load<f32>(params, 4) * tint, load<f32>(params, 8) * tint, load<f32>(params, 12) * tint, 0), gain = load<f32>(params, 16), covers = load<f32>(params, 20), plain = f32x4.splat(1 - tint), colours = i32x4(-1, -1, -1, 0);
  for (let y = y0; y < y1; y++) {
    let from = <usize>((y + top) * wide + left), to = out + (<usize>(y * width) << 4);
    for (let x = 0; x < width; x++, from++, to += 16) {
      const m = max<f32>(0, min<f32>(1, load<f32>(matte + (from << 2))));
      if (m <= 0) {
        v128.store(to, f32x4.splat(0));
        continue;
      }
      const p = v128.load(plate + (from << 4)), lit: f32 = 0.25 + 2.2 * (0.2126 * f32x4.extract_lane(p, 0) + 0.7152 * f32x4.extract_lane(p, 1) + 0.0722 * f32x4.extract_lane(p, 2));
      const shown = f32x4.mul(f32x4.splat(m * gain), f32x4.add(f32x4.mul(p, plain), f32x4.mul(colour, f32x4.splat(lit))));
      v128.store(to, f32x4.replace_lane(v128.and(shown, colours), 3, covers * m));
    }
  }
}

/** Lays a premultiplied part over a picture at column `left` and row `top`: its colours times `light`, its alpha times `cover`. Bands are rows of the part. */
export function layPart(part: usize, width: i32, out: usize, wide: i32, left: i32, top: i32, light: f32, cover: f32, y0: i32, y1: i32): void {
  const gains = f32x4(light, light, light, cover), zero = f32x4.splat(0);
  for (let y = y0; y < y1; y++) {
    let from = part + (<usize>(y * width) << 4), to = out + (<usize>((y + top) * wide + left) << 4);
    for (let x = 0; x < width; x++, from += 16, to += 16) {
      const p = v128.load(from);
      if (!v128.any_true(f32x4.ne(p, zero))) continue;
      v128.store(to, f32x4.add(f32x4.mul(v128.load(to), f32x4.splat(1 - f32x4.extract_lane(p, 3) * cover)), f32x4.mul(p, gains)));
    }
  }
}
