/** Operations on planes (mattes): one float32 a pixel. Rows are `width` long; they may be any run of pixels. */

/** Sets a plane to 0. */
export function clear(out: usize, width: i32, y0: i32, y1: i32): void {
  memory.fill(out + (<usize>(y0 * width) << 2), 0, <usize>((y1 - y0) * width) << 2);
}

/** What a cover leaves: out = plane (1 - weight cover). */
export function leave(plane: usize, cover: usize, weight: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  let i = y0 * width;
  const end = y1 * width, one = f32x4.splat(1), k = f32x4.splat(weight);
  for (; i + 4 <= end; i += 4) {
    const at: usize = <usize>i << 2;
    v128.store(out + at, f32x4.mul(v128.load(plane + at), f32x4.sub(one, f32x4.mul(v128.load(cover + at), k))));
  }
  for (; i < end; i++) {
    const at: usize = <usize>i << 2;
    store<f32>(out + at, load<f32>(plane + at) * (<f32>1 - load<f32>(cover + at) * weight));
  }
}

/** Both together as covers: out = a + b - a b. */
export function unite(a: usize, b: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  let i = y0 * width;
  const end = y1 * width;
  for (; i + 4 <= end; i += 4) {
    const at: usize = <usize>i << 2, x = v128.load(a + at), y = v128.load(b + at);
    v128.store(out + at, f32x4.sub(f32x4.add(x, y), f32x4.mul(x, y)));
  }
  for (; i < end; i++) {
    const at: usize = <usize>i << 2, x = load<f32>(a + at), y = load<f32>(b + at);
    store<f32>(out + at, x + y - x * y);
  }
}

/** Product of two planes times a weight. */
export function product(a: usize, b: usize, weight: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  let i = y0 * width;
  const end = y1 * width, k = f32x4.splat(weight);
  for (; i + 4 <= end; i += 4) {
    const at: usize = <usize>i << 2;
    v128.store(out + at, f32x4.mul(f32x4.mul(v128.load(a + at), v128.load(b + at)), k));
  }
  for (; i < end; i++) {
    const at: usize = <usize>i << 2;
    store<f32>(out + at, load<f32>(a + at) * load<f32>(b + at) * weight);
  }
}

/** The larger of a plane and another one times a weight; NaN counts as the first. */
export function largerOf(a: usize, b: usize, weight: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  let i = y0 * width;
  const end = y1 * width, k = f32x4.splat(weight);
  for (; i + 4 <= end; i += 4) {
    const at: usize = <usize>i << 2;
    v128.store(out + at, f32x4.pmax(v128.load(a + at), f32x4.mul(v128.load(b + at), k)));
  }
  for (; i < end; i++) {
    const at: usize = <usize>i << 2, x = load<f32>(a + at), y = load<f32>(b + at) * weight;
    store<f32>(out + at, x < y ? y : x);
  }
}

/** A line through each value, clamped: out = min(1, max(0, gain x + offset)); NaN becomes 0. */
export function clampedLine(plane: usize, gain: f32, offset: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  let i = y0 * width;
  const end = y1 * width, zero = f32x4.splat(0), one = f32x4.splat(1), g = f32x4.splat(gain), o = f32x4.splat(offset);
  for (; i + 4 <= end; i += 4) {
    const at: usize = <usize>i << 2, v = f32x4.add(f32x4.mul(v128.load(plane + at), g), o);
    v128.store(out + at, f32x4.pmin(one, f32x4.pmax(zero, v)));
  }
  for (; i < end; i++) {
    const at: usize = <usize>i << 2, v: f32 = load<f32>(plane + at) * gain + offset, w: f32 = 0 < v ? v : 0;
    store<f32>(out + at, w < 1 ? w : 1);
  }
}

/** Between two planes: out = a + (b - a) part. */
export function between(a: usize, b: usize, part: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  let i = y0 * width;
  const end = y1 * width, k = f32x4.splat(part);
  for (; i + 4 <= end; i += 4) {
    const at: usize = <usize>i << 2, x = v128.load(a + at);
    v128.store(out + at, f32x4.add(x, f32x4.mul(f32x4.sub(v128.load(b + at), x), k)));
  }
  for (; i < end; i++) {
    const at: usize = <usize>i << 2, x = load<f32>(a + at);
    store<f32>(out + at, x + (load<f32>(b + at) - x) * part);
  }
}

/** The alpha of a picture as a plane. */
export function alphaOf(picture: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  for (let i = y0 * width, end = y1 * width; i < end; i++) store<f32>(out + (<usize>i << 2), load<f32>(picture + (<usize>i << 4), 12));
}
/** A plane as the alpha of a black picture. */
export function asAlpha(plane: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  for (let i = y0 * width, end = y1 * width; i < end; i++) v128.store(out + (<usize>i << 4), f32x4.replace_lane(f32x4.splat(0), 3, load<f32>(plane + (<usize>i << 2))));
}

/**
 * What a matte holds of a picture, premultiplied. With a picture of what stands behind it, a share of that one's part in soft pixels is taken out:
 * of P = m F + (1 - m) B it keeps P - (1 - m) B, held between nothing and white. `behind` is 0 where there is none.
 */
export function cutOut(picture: usize, behind: usize, matte: usize, share: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  const zero = f32x4.splat(0), one = f32x4.splat(1), part = f32x4.splat(share), colours = i32x4(-1, -1, -1, 0);
  for (let i = y0 * width, end = y1 * width; i < end; i++) {
    const at = <usize>i << 4, m = load<f32>(matte + (<usize>i << 2));
    if (!(m > 0)) {
      v128.store(out + at, zero);
      continue;
    }
    const p = v128.load(picture + at), k = f32x4.splat(m), plain = f32x4.mul(p, k);
    if (!behind || m >= 1) {
      v128.store(out + at, plain);
      continue;
    }
    const clear = f32x4.pmin(f32x4.mul(k, f32x4.pmax(one, p)), f32x4.pmax(zero, f32x4.sub(p, f32x4.mul(v128.load(behind + at), f32x4.sub(one, k)))));
    v128.store(out + at, v128.bitselect(f32x4.add(plain, f32x4.mul(f32x4.sub(clear, plain), part)), plain, colours));
  }
}
