/** `before` where the mask is 0, `after` where it is 1, between them in proportion; exact at both ends. `count` pixels. */
export function mixByMask(before: usize, after: usize, mask: usize, out: usize, count: i32): void {
  const end = mask + (<usize>count << 2), zero = f32x4.splat(0), one = f32x4.splat(1);
  while (mask < end) {
    const k = v128.load32_splat(mask), a = v128.load(before), b = v128.load(after);
    const mixed = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), k));
    v128.store(out, v128.bitselect(a, v128.bitselect(b, mixed, f32x4.ge(k, one)), f32x4.le(k, zero)));
    mask += 4; before += 16; after += 16; out += 16;
  }
}

/** base + weight (after - before), for `count` pixels: what an effect changed, laid onto another picture. */
export function addDifference(base: usize, before: usize, after: usize, weight: usize, out: usize, count: i32): void {
  const end = weight + (<usize>count << 2);
  while (weight < end) {
    v128.store(out, f32x4.add(v128.load(base), f32x4.mul(f32x4.sub(v128.load(after), v128.load(before)), v128.load32_splat(weight))));
    weight += 4; base += 16; before += 16; after += 16; out += 16;
  }
}

/** Lays light on a picture by linear screen: x + y - x y while both are at most 1, the larger beyond; alpha stays. `count` pixels. */
export function screenLight(light: usize, below: usize, opacity: f32, out: usize, count: i32): void {
  const end = below + (<usize>count << 4), zero = f32x4.splat(0), one = f32x4.splat(1), power = f32x4.splat(opacity), alpha = i32x4(0, 0, 0, -1);
  while (below < end) {
    const x = f32x4.mul(v128.load(light), power), y = v128.load(below);
    const screened = f32x4.sub(f32x4.add(x, y), f32x4.mul(x, y));
    const bright = v128.bitselect(screened, f32x4.pmax(x, y), v128.and(f32x4.le(x, one), f32x4.le(y, one)));
    v128.store(out, v128.bitselect(y, bright, v128.or(f32x4.le(x, zero), alpha)));
    light += 16; below += 16; out += 16;
  }
}
