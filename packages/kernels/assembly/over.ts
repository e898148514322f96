/** Source-over of premultiplied pictures: out = front + back (1 - front alpha). Rows of `width` pixels. */
export function over(front: usize, back: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  const one = f32x4.splat(1), from: usize = <usize>(y0 * width) << 4, pairs = ((y1 - y0) * width) >> 1;
  front += from; back += from; out += from;
  for (let i = 0; i < pairs; i++) {
    const a = v128.load(front), b = v128.load(back), c = v128.load(front, 16), d = v128.load(back, 16);
    v128.store(out, f32x4.add(a, f32x4.mul(b, f32x4.sub(one, v128.shuffle<f32>(a, a, 3, 3, 3, 3)))));
    v128.store(out, f32x4.add(c, f32x4.mul(d, f32x4.sub(one, v128.shuffle<f32>(c, c, 3, 3, 3, 3)))), 16);
    front += 32; back += 32; out += 32;
  }
  if (((y1 - y0) * width) & 1) {
    const a = v128.load(front);
    v128.store(out, f32x4.add(a, f32x4.mul(v128.load(back), f32x4.sub(one, v128.shuffle<f32>(a, a, 3, 3, 3, 3)))));
  }
}

/** Source-over onto the back itself. Where the front is empty nothing is written, so that sparse layers cost little. */
export function overInto(front: usize, back: usize, opacity: f32, width: i32, y0: i32, y1: i32): void {
  const one = f32x4.splat(1), part = f32x4.splat(opacity), from: usize = <usize>(y0 * width) << 4, end = front + (<usize>(y1 * width) << 4);
  front += from; back += from;
  while (front < end) {
    const v = v128.load(front);
    if (v128.any_true(v)) {
      const a = f32x4.mul(v, part);
      v128.store(back, f32x4.add(a, f32x4.mul(v128.load(back), f32x4.sub(one, v128.shuffle<f32>(a, a, 3, 3, 3, 3)))));
    }
    front += 16; back += 16;
  }
}

/** Source-over with the front at an opacity 0..1. */
export function overPart(front: usize, back: usize, opacity: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  const one = f32x4.splat(1), part = f32x4.splat(opacity), from: usize = <usize>(y0 * width) << 4, end = front + (<usize>(y1 * width) << 4);
  front += from; back += from; out += from;
  while (front < end) {
    const a = f32x4.mul(v128.load(front), part);
    v128.store(out, f32x4.add(a, f32x4.mul(v128.load(back), f32x4.sub(one, v128.shuffle<f32>(a, a, 3, 3, 3, 3)))));
    front += 16; back += 16; out += 16;
  }
}

/** The plus operator: colours are added, alpha up to 1. */
export function plus(front: usize, back: usize, opacity: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  const part = f32x4.splat(opacity), most = f32x4(Infinity, Infinity, Infinity, 1), from: usize = <usize>(y0 * width) << 4, end = front + (<usize>(y1 * width) << 4);
  front += from; back += from; out += from;
  while (front < end) {
    v128.store(out, f32x4.pmin(f32x4.add(v128.load(back), f32x4.mul(v128.load(front), part)), most));
    front += 16; back += 16; out += 16;
  }
}

/** Multiply (`screened` false) or linear screen of straight colours, with the standard's alpha composition; see core's blend table. */
export function blendLinear(front: usize, back: usize, opacity: f32, screened: bool, out: usize, width: i32, y0: i32, y1: i32): void {
  const one = f32x4.splat(1), zero = f32x4.splat(0), part = f32x4.splat(opacity), alpha = i32x4(0, 0, 0, -1);
  const from: usize = <usize>(y0 * width) << 4, end = front + (<usize>(y1 * width) << 4);
  front += from; back += from; out += from;
  while (front < end) {
    const s = v128.load(front), b = v128.load(back), sa = v128.shuffle<f32>(s, s, 3, 3, 3, 3), ab = v128.shuffle<f32>(b, b, 3, 3, 3, 3), as = f32x4.mul(sa, part);
    const seen = f32x4.gt(as, zero);
    // Straight colours; where there is no cover they are not asked for.
    const cs = f32x4.div(s, v128.bitselect(sa, one, seen)), cb = v128.bitselect(f32x4.div(b, v128.bitselect(ab, one, f32x4.gt(ab, zero))), zero, f32x4.gt(ab, zero));
    let mixed = f32x4.mul(cb, cs);
    if (screened) mixed = v128.bitselect(f32x4.sub(f32x4.add(cb, cs), mixed), f32x4.pmax(cb, cs), v128.and(f32x4.le(cb, one), f32x4.le(cs, one)));
    const free = f32x4.sub(one, as), both = f32x4.mul(as, ab);
    const colour = f32x4.add(f32x4.add(f32x4.mul(f32x4.mul(cs, as), f32x4.sub(one, ab)), f32x4.mul(b, free)), f32x4.mul(both, mixed));
    v128.store(out, v128.bitselect(v128.bitselect(f32x4.sub(f32x4.add(as, ab), both), colour, alpha), b, seen));
    front += 16; back += 16; out += 16;
  }
}

/** Copies bytes: what other kernels are measured in. */
export function copy(from: usize, to: usize, bytes: i32): void {
  memory.copy(to, from, bytes);
}
