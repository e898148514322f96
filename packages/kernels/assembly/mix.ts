import { scratchAt } from './scratch';

/** `before` where the mask is 0, `after` where it is 1, between them in proportion; exact at both ends. */
export function mixByMask(before: usize, after: usize, mask: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  const from: usize = <usize>(y0 * width) << 2, end = mask + (<usize>(y1 * width) << 2), zero = f32x4.splat(0), one = f32x4.splat(1);
  mask += from; before += from << 2; after += from << 2; out += from << 2;
  while (mask < end) {
    const k = v128.load32_splat(mask), a = v128.load(before), b = v128.load(after);
    const mixed = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), k));
    v128.store(out, v128.bitselect(a, v128.bitselect(b, mixed, f32x4.ge(k, one)), f32x4.le(k, zero)));
    mask += 4; before += 16; after += 16; out += 16;
  }
}

/** base + weight (after - before): what an effect changed, laid onto another picture. Where nothing changed, a result that is the base is not written. */
export function addDifference(base: usize, before: usize, after: usize, weight: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  const from: usize = <usize>(y0 * width) << 2, end = weight + (<usize>(y1 * width) << 2), into = base == out;
  weight += from; base += from << 2; before += from << 2; after += from << 2; out += from << 2;
  while (weight < end) {
    const change = f32x4.sub(v128.load(after), v128.load(before));
    if (!into || v128.any_true(change)) v128.store(out, f32x4.add(v128.load(base), f32x4.mul(change, v128.load32_splat(weight))));
    weight += 4; base += 16; before += 16; after += 16; out += 16;
  }
}

/** Lays a sparse layer behind something: base + weight (over(front, before) - before). Where the front is empty a result that is the base is not written. */
export function overBehind(front: usize, base: usize, before: usize, weight: usize, opacity: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  const from: usize = <usize>(y0 * width) << 2, end = weight + (<usize>(y1 * width) << 2), into = base == out, part = f32x4.splat(opacity);
  weight += from; front += from << 2; base += from << 2; before += from << 2; out += from << 2;
  while (weight < end) {
    const f = v128.load(front);
    if (v128.any_true(f)) {
      const a = f32x4.mul(f, part), change = f32x4.sub(a, f32x4.mul(v128.load(before), v128.shuffle<f32>(a, a, 3, 3, 3, 3)));
      v128.store(out, f32x4.add(v128.load(base), f32x4.mul(change, v128.load32_splat(weight))));
    } else if (!into) v128.store(out, v128.load(base));
    weight += 4; front += 16; base += 16; before += 16; out += 16;
  }
}

@inline
function screened(x: v128, y: v128): v128 {
  const one = f32x4.splat(1), zero = f32x4.splat(0), alpha = i32x4(0, 0, 0, -1);
  const sum = f32x4.sub(f32x4.add(x, y), f32x4.mul(x, y)), bright = v128.bitselect(sum, f32x4.pmax(x, y), v128.and(f32x4.le(x, one), f32x4.le(y, one)));
  return v128.bitselect(y, bright, v128.or(f32x4.le(x, zero), alpha));
}

/** Lays light on a picture by linear screen: x + y - x y while both are at most 1, the larger beyond; alpha stays. */
export function screenLight(light: usize, below: usize, opacity: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  const from: usize = <usize>(y0 * width) << 4, end = below + (<usize>(y1 * width) << 4), power = f32x4.splat(opacity);
  light += from; below += from; out += from;
  while (below < end) {
    v128.store(out, screened(f32x4.mul(v128.load(light), power), v128.load(below)));
    light += 16; below += 16; out += 16;
  }
}

/**
 * The same (or, with `added`, plain addition) with light of half the size, made twice as large on the way: three parts of the near pixel, one of the
 * far one, as `double` does it. `w` x `h` is the light's size.
 */
export function layHalfLight(light: usize, w: i32, h: i32, below: usize, opacity: f32, added: bool, out: usize, width: i32, y0: i32, y1: i32): void {
  const line = scratchAt(), three = f32x4.splat(0.75 * opacity), one = f32x4.splat(0.25 * opacity), near = f32x4.splat(0.75), far = f32x4.splat(0.25), rowBytes: usize = <usize>w << 4, colours = i32x4(-1, -1, -1, 0), into = below == out;
  for (let y = y0; y < y1; y++) {
    const n = y >> 1, f = min(h - 1, max(0, y & 1 ? n + 1 : n - 1)), a = light + <usize>n * rowBytes, b = light + <usize>f * rowBytes;
    for (let x = 0; x < w; x++) {
      const at: usize = <usize>x << 4;
      v128.store(line + at, v128.and(f32x4.add(f32x4.mul(three, v128.load(a + at)), f32x4.mul(one, v128.load(b + at))), colours));
    }
    // Mostly a part of the row has light, and no light changes nothing: only from the first pixel of the light to the last, and their neighbours.
    let first = 0, last = w - 1;
    while (first <= last && !v128.any_true(v128.load(line + (<usize>first << 4)))) first++;
    while (last > first && !v128.any_true(v128.load(line + (<usize>last << 4)))) last--;
    const start = max(0, first - 1), end = first < w ? min(w, last + 2) : start, row: usize = <usize>(y * width) << 4;
    let p = below + row + (<usize>start << 5), o = out + row + (<usize>start << 5);
    if (!into) {
      const stop = <usize>min(width, 2 * end) << 4;
      memory.copy(out + row, below + row, <usize>start << 5);
      memory.copy(out + row + stop, below + row + stop, (<usize>width << 4) - stop);
    }
    if (start >= end) continue;
    // Two pixels to each of the light's: its left and its right half.
    let before = v128.load(line + (<usize>max(0, start - 1) << 4)), now = v128.load(line + (<usize>start << 4));
    for (let i = start; i < end; i++) {
      const after = v128.load(line + (<usize>min(w - 1, i + 1) << 4)), three = f32x4.mul(near, now);
      const l = f32x4.add(three, f32x4.mul(far, before)), r = f32x4.add(three, f32x4.mul(far, after)), u = v128.load(p);
      v128.store(o, added ? f32x4.add(u, l) : screened(l, u));
      if (2 * i + 1 < width) {
        const v = v128.load(p, 16);
        v128.store(o, added ? f32x4.add(v, r) : screened(r, v), 16);
      }
      before = now; now = after;
      p += 32; o += 32;
    }
  }
}

/** Adds an even light to a picture, in place; its alpha stays. */
export function brighten(picture: usize, red: f32, green: f32, blue: f32, width: i32, y0: i32, y1: i32): void {
  const more = f32x4(red, green, blue, 0), end = picture + (<usize>(y1 * width) << 4);
  for (let p = picture + (<usize>(y0 * width) << 4); p < end; p += 16) v128.store(p, f32x4.add(v128.load(p), more));
}

/** Running weighted sum of pictures: out = a ka + b kb, each channel with its own weight (`weights`: four of a, then four of b). */
export function weighedSum(a: usize, b: usize, weights: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  const from: usize = <usize>(y0 * width) << 4, end = a + (<usize>(y1 * width) << 4), ka = v128.load(weights), kb = v128.load(weights, 16);
  a += from; b += from; out += from;
  while (a < end) {
    v128.store(out, f32x4.add(f32x4.mul(v128.load(a), ka), f32x4.mul(v128.load(b), kb)));
    a += 16; b += 16; out += 16;
  }
}

@inline
function bright(v: v128, within: usize, p: i32, low: v128): v128 {
  const most = f32x4.pmax(f32x4.pmax(v, v128.shuffle<f32>(v, v, 1, 2, 0, 3)), v128.shuffle<f32>(v, v, 2, 0, 1, 3));
  const light = v128.and(f32x4.mul(v, f32x4.div(f32x4.sub(most, low), most)), v128.and(f32x4.gt(most, low), i32x4(-1, -1, -1, 0)));
  return within ? f32x4.mul(light, v128.load32_splat(within + (<usize>p << 2))) : light;
}

/**
 * What of a picture is brighter than `level` by its largest channel, soft at the threshold (x (most - level) / most), times a plane where `within` is
 * not 0; at half the size (rounded up), each pixel the mean of two by two. Alpha becomes 0: the result is light. `width` x `height` is the picture's size.
 */
export function brightHalf(picture: usize, within: usize, level: f32, out: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const w = (width + 1) >> 1, low = f32x4.splat(level), quarter = f32x4.splat(0.25);
  for (let y = y0; y < y1; y++) {
    const a = 2 * y * width, b = min(height - 1, 2 * y + 1) * width;
    for (let x = 0; x < w; x++) {
      const l = 2 * x, r = min(width - 1, l + 1), p = a + l, q = a + r, s = b + l, t = b + r;
      const sum = f32x4.add(f32x4.add(bright(v128.load(picture + (<usize>p << 4)), within, p, low), bright(v128.load(picture + (<usize>q << 4)), within, q, low)), f32x4.add(bright(v128.load(picture + (<usize>s << 4)), within, s, low), bright(v128.load(picture + (<usize>t << 4)), within, t, low)));
      v128.store(out + (<usize>(y * w + x) << 4), f32x4.mul(sum, quarter));
    }
  }
}

/**
 * The light of a layer of burning things, at half the size (rounded up): means of two by two of what it is brighter than three quarters of its
 * cover. Alpha becomes 0.
 */
export function glowingHalf(layer: usize, out: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const w = (width + 1) >> 1, quarter = f32x4.splat(0.25), zero = f32x4.splat(0), dark = f32x4.splat(0.75), colours = i32x4(-1, -1, -1, 0);
  for (let y = y0; y < y1; y++) {
    const a: usize = <usize>(2 * y * width) << 4, b: usize = <usize>(min(height - 1, 2 * y + 1) * width) << 4;
    for (let x = 0; x < w; x++) {
      const l: usize = <usize>(2 * x) << 4, r: usize = <usize>min(width - 1, 2 * x + 1) << 4;
      const f = f32x4.mul(quarter, f32x4.add(f32x4.add(v128.load(layer + a + l), v128.load(layer + a + r)), f32x4.add(v128.load(layer + b + l), v128.load(layer + b + r))));
      v128.store(out + (<usize>(y * w + x) << 4), v128.and(f32x4.pmax(zero, f32x4.sub(f, f32x4.mul(dark, v128.shuffle<f32>(f, f, 3, 3, 3, 3)))), colours));
    }
  }
}
