@inline
function best(a: v128, b: v128, shrink: bool): v128 {
  return shrink ? f32x4.pmin(a, b) : f32x4.pmax(a, b);
}
@inline
function bestOne(a: f32, b: f32, shrink: bool): f32 {
  return shrink ? (b < a ? b : a) : (a < b ? b : a);
}

@inline
function growAny(src: usize, dst: usize, width: i32, height: i32, square: bool, shrink: bool, y0: i32, y1: i32): void {
  const rowBytes: usize = <usize>width << 2, inner = width - 1;
  for (let y = y0; y < y1; y++) {
    const up = src + <usize>max(0, y - 1) * rowBytes, row = src + <usize>y * rowBytes, down = src + <usize>min(height - 1, y + 1) * rowBytes, o = dst + <usize>y * rowBytes;
    let x = 0;
    while (x < width) {
      if (x > 0 && x + 4 <= inner) {
        const at: usize = <usize>x << 2;
        let v = best(best(v128.load(row + at), v128.load(row + at - 4), shrink), v128.load(row + at + 4), shrink);
        v = best(best(v, v128.load(up + at), shrink), v128.load(down + at), shrink);
        if (square) v = best(best(best(best(v, v128.load(up + at - 4), shrink), v128.load(up + at + 4), shrink), v128.load(down + at - 4), shrink), v128.load(down + at + 4), shrink);
        v128.store(o + at, v);
        x += 4;
      } else {
        const at: usize = <usize>x << 2, l: usize = <usize>max(0, x - 1) << 2, r: usize = <usize>min(inner, x + 1) << 2;
        let v = bestOne(bestOne(load<f32>(row + at), load<f32>(row + l), shrink), load<f32>(row + r), shrink);
        v = bestOne(bestOne(v, load<f32>(up + at), shrink), load<f32>(down + at), shrink);
        if (square) v = bestOne(bestOne(bestOne(bestOne(v, load<f32>(up + l), shrink), load<f32>(up + r), shrink), load<f32>(down + l), shrink), load<f32>(down + r), shrink);
        store<f32>(o + at, v);
        x++;
      }
    }
  }
}

/** The largest (or, with `shrink`, smallest) value of a pixel and its neighbours: the four beside it, or with `square` all eight. */
export function growOnce(src: usize, dst: usize, width: i32, height: i32, square: bool, shrink: bool, y0: i32, y1: i32): void {
  if (square) {
    if (shrink) growAny(src, dst, width, height, true, true, y0, y1);
    else growAny(src, dst, width, height, true, false, y0, y1);
  } else if (shrink) growAny(src, dst, width, height, false, true, y0, y1);
  else growAny(src, dst, width, height, false, false, y0, y1);
}

/** Square roots of one picture less those of another, alpha 0: how far they are apart near display values. */
export function rootDifference(a: usize, b: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  const from: usize = <usize>(y0 * width) << 4, end = a + (<usize>(y1 * width) << 4), zero = f32x4.splat(0), colours = i32x4(-1, -1, -1, 0);
  a += from; b += from; out += from;
  while (a < end) {
    const x = f32x4.sqrt(f32x4.pmax(zero, v128.load(a))), y = f32x4.sqrt(f32x4.pmax(zero, v128.load(b)));
    v128.store(out, v128.and(f32x4.sub(x, y), colours));
    a += 16; b += 16; out += 16;
  }
}

@inline
function three(a: f32, b: f32, c: f32): f32 {
  return max(a, max(b, c));
}

/**
 * How much of a smoothed difference (of square roots, see rootDifference) counts as subject, 0..1: its largest channel through a smooth step from
 * `low` to `high`. With `dropShadow`, pixels that are the clean plate made darker by about the same factor in every channel count less.
 */
export function differenceAmount(difference: usize, clean: usize, low: f32, high: f32, dropShadow: bool, out: usize, width: i32, y0: i32, y1: i32): void {
  const first = y0 * width, end = y1 * width, part: f32 = 1 / (high - low);
  for (let p = first; p < end; p++) {
    const d = difference + (<usize>p << 4), r = load<f32>(d), g = load<f32>(d, 4), b = load<f32>(d, 8);
    let amount = three(abs(r), abs(g), abs(b));
    if (dropShadow && r < 0 && g < 0 && b < 0) {
      const c = f32x4.sqrt(f32x4.pmax(f32x4.splat(0), v128.load(clean + (<usize>p << 4))));
      const kr: f32 = 1 + r / (f32x4.extract_lane(c, 0) + 0.02), kg: f32 = 1 + g / (f32x4.extract_lane(c, 1) + 0.02), kb: f32 = 1 + b / (f32x4.extract_lane(c, 2) + 0.02);
      const most = three(kr, kg, kb), least = min(kr, min(kg, kb));
      if (least > 0.35) {
        const t: f32 = min<f32>(1, max<f32>(0, (most - least - 0.06) / 0.08));
        amount *= t * t * (3 - 2 * t);
      }
    }
    let t: f32 = (amount - low) * part;
    t = t > 0 ? (t < 1 ? t : 1) : 0;
    store<f32>(out + (<usize>p << 2), t * t * (3 - 2 * t));
  }
}
