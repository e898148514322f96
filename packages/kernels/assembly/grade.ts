import { threeThrough } from './transfer';

/**
 * Colours through a matrix with an offset: out = M rgb + offset alpha, alpha stays. `matrix` holds 16 floats: three columns of
 * (to r, to g, to b, 0) for red, green and blue, then the offset with 0.
 */
export function gradeMatrix(src: usize, matrix: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  const r = v128.load(matrix), g = v128.load(matrix, 16), b = v128.load(matrix, 32), o = v128.load(matrix, 48), alpha = i32x4(0, 0, 0, -1);
  const from: usize = <usize>(y0 * width) << 4, end = src + (<usize>(y1 * width) << 4);
  src += from; out += from;
  while (src < end) {
    const v = v128.load(src);
    const sum = f32x4.add(f32x4.add(f32x4.mul(v128.shuffle<f32>(v, v, 0, 0, 0, 0), r), f32x4.mul(v128.shuffle<f32>(v, v, 1, 1, 1, 1), g)), f32x4.add(f32x4.mul(v128.shuffle<f32>(v, v, 2, 2, 2, 2), b), f32x4.mul(v128.shuffle<f32>(v, v, 3, 3, 3, 3), o)));
    v128.store(out, v128.bitselect(v, sum, alpha));
    src += 16; out += 16;
  }
}

/**
 * Each channel through a curve of its own over 0..1 (see curveAt in transfer; three tables of `tableBytes`, one after another), on
 * straight colours. What is above 1 keeps its distance times the curve's slope at its end (`ends`: three floats; behind `lows` and `ends` another one may be read); below 0 it stays.
 */
export function gradeCurves(src: usize, tables: usize, tableBytes: i32, shift: i32, lows: usize, ends: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  const from: usize = <usize>(y0 * width) << 4, end = src + (<usize>(y1 * width) << 4), one = f32x4.splat(1), zero = f32x4.splat(0), alpha = i32x4(0, 0, 0, -1);
  const green = tables + <usize>tableBytes, blue = green + <usize>tableBytes, low = v128.load(lows), slopes = v128.load(ends), top = f32x4(load<f32>(green - 8), load<f32>(blue - 8), load<f32>(blue + <usize>tableBytes - 8), 0);
  src += from; out += from;
  while (src < end) {
    const v = v128.load(src), a = v128.shuffle<f32>(v, v, 3, 3, 3, 3), by = v128.bitselect(a, one, v128.and(f32x4.gt(a, zero), f32x4.lt(a, one))), x = f32x4.div(v, by);
    const above = f32x4.add(top, f32x4.mul(f32x4.sub(x, one), slopes)), within = threeThrough(x, tables, green, blue, shift, low), y = v128.bitselect(v128.bitselect(above, within, f32x4.ge(x, one)), x, f32x4.gt(x, zero));
    v128.store(out, v128.bitselect(v, f32x4.mul(y, by), alpha));
    src += 16; out += 16;
  }
}
