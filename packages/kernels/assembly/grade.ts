import { curveAt } from './transfer';

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
 * straight colours. What is above 1 keeps its distance times the curve's slope at its end (`ends`: three floats); below 0 it stays.
 */
export function gradeCurves(src: usize, tables: usize, tableBytes: i32, shift: i32, lows: usize, ends: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  const from: usize = <usize>(y0 * width) << 4, end = src + (<usize>(y1 * width) << 4);
  src += from; out += from;
  while (src < end) {
    const alpha = load<f32>(src, 12), whole = alpha >= 1 || !(alpha > 0), back: f32 = whole ? 1 : alpha;
    for (let c: usize = 0; c < 3; c++) {
      const given = load<f32>(src + (c << 2)), x: f32 = whole ? given : given / alpha;
      let v = x;
      if (x > 0) {
        v = curveAt(x, tables + c * <usize>tableBytes, shift, load<f32>(lows + (c << 2)));
        if (x >= 1) v = load<f32>(tables + (c + 1) * <usize>tableBytes - 8) + (x - 1) * load<f32>(ends + (c << 2));
      }
      store<f32>(out + (c << 2), v * back);
    }
    store<f32>(out, alpha, 12);
    src += 16; out += 16;
  }
}
