/**
 * Sums of products of a pattern with a window at every place: out[j][i] = sum over r, c of pattern[r][c] window[j + r][i + c], for
 * `span` x `span` places. `rows` is the pattern's height, `columns` the length of its rows, a multiple of 4 (padded with zeros);
 * `side` floats lie between the window's rows, and 4 floats more must be readable behind it.
 */
export function windowProducts(window: usize, side: i32, pattern: usize, rows: i32, columns: i32, span: i32, out: usize): void {
  const rowBytes: usize = <usize>side << 2, patternBytes: usize = <usize>columns << 2;
  for (let j = 0; j < span; j++) {
    for (let i = 0; i < span; i++) {
      let w = window + <usize>j * rowBytes + (<usize>i << 2), p = pattern;
      let a = f32x4.splat(0), b = f32x4.splat(0);
      for (let r = 0; r < rows; r++) {
        let at: usize = 0;
        while (at + 32 <= patternBytes) {
          a = f32x4.add(a, f32x4.mul(v128.load(p + at), v128.load(w + at)));
          b = f32x4.add(b, f32x4.mul(v128.load(p + at, 16), v128.load(w + at, 16)));
          at += 32;
        }
        if (at < patternBytes) a = f32x4.add(a, f32x4.mul(v128.load(p + at), v128.load(w + at)));
        w += rowBytes; p += patternBytes;
      }
      a = f32x4.add(a, b);
      store<f32>(out, (f32x4.extract_lane(a, 0) + f32x4.extract_lane(a, 1)) + (f32x4.extract_lane(a, 2) + f32x4.extract_lane(a, 3)));
      out += 4;
    }
  }
}
