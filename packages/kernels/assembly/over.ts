/** Background times what the foreground leaves free, plus the foreground: `f + b (1 - f.a)` (Porter-Duff source-over). */
@inline
function overPixel(f: v128, b: v128): v128 {
  return f32x4.add(f, f32x4.mul(b, f32x4.sub(f32x4.splat(1), v128.shuffle<f32>(f, f, 3, 3, 3, 3))));
}

/**
 * Lays `count` pixels of `front` over `back` into `out`; `out` may be either of them.
 * Four pixels are kept in flight, because one at a time leaves the adder waiting on memory.
 */
export function over(front: usize, back: usize, out: usize, count: i32): void {
  const end = front + (<usize>count << 4);
  const fours = front + (<usize>(count & ~3) << 4);
  while (front < fours) {
    const f0 = v128.load(front), f1 = v128.load(front, 16), f2 = v128.load(front, 32), f3 = v128.load(front, 48);
    const b0 = v128.load(back), b1 = v128.load(back, 16), b2 = v128.load(back, 32), b3 = v128.load(back, 48);
    v128.store(out, overPixel(f0, b0));
    v128.store(out, overPixel(f1, b1), 16);
    v128.store(out, overPixel(f2, b2), 32);
    v128.store(out, overPixel(f3, b3), 48);
    front += 64; back += 64; out += 64;
  }
  while (front < end) {
    v128.store(out, overPixel(v128.load(front), v128.load(back)));
    front += 16; back += 16; out += 16;
  }
}

/** Copies `bytes` bytes: the measure that other kernels are held against. */
export function copy(from: usize, to: usize, bytes: i32): void {
  memory.copy(to, from, bytes);
}
