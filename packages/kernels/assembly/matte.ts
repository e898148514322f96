@inline
function best(a: v128, b: v128, shrink: bool): v128 {
  return shrink ? f32x4.pmin(a, b) : f32x4.pmax(a, b);
}
@inline
function bestOne(a: f32, b: f32, shrink: bool): f32 {
  return shrink ? (b < a ? b : a) : (a < b ? b : a);
}

/** The largest (or, with `shrink`, smallest) value of a pixel and its neighbours: the four beside it, or with `square` all eight. */
export function growOnce(src: usize, dst: usize, width: i32, height: i32, square: bool, shrink: bool, y0: i32, y1: i32): void {
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

/** Square roots of one picture less those of another, alpha 0, for `count` pixels: how far they are apart near display values. */
export function rootDifference(a: usize, b: usize, out: usize, count: i32): void {
  const end = a + (<usize>count << 4), zero = f32x4.splat(0), colours = i32x4(-1, -1, -1, 0);
  while (a < end) {
    const x = f32x4.sqrt(f32x4.pmax(zero, v128.load(a))), y = f32x4.sqrt(f32x4.pmax(zero, v128.load(b)));
    v128.store(out, v128.and(f32x4.sub(x, y), colours));
    a += 16; b += 16; out += 16;
  }
}
