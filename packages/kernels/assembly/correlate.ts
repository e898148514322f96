@inline
function lanes(v: v128): f32 {
  return <f32>(i32x4.extract_lane(v, 0) + i32x4.extract_lane(v, 1) + i32x4.extract_lane(v, 2) + i32x4.extract_lane(v, 3));
}

/**
 * Sums of products of a pattern with a window at every place: out[j][i] = sum over r, c of pattern[r][c] window[j + r][i + c], for `span` x
 * `span` places, in 16-bit whole numbers with exact 32-bit sums. `rows` is the pattern's height, `columns` the length of its rows, a multiple
 * of 8 (padded with zeros); `side` numbers lie between the window's rows, and 12 more must be readable behind it. The caller keeps the numbers
 * small enough that a sum fits 31 bits. Bands are rows of places.
 */
export function windowProducts(window: usize, side: i32, pattern: usize, rows: i32, columns: i32, span: i32, out: usize, j0: i32, j1: i32): void {
  const rowBytes: usize = <usize>side << 1, patternBytes: usize = <usize>columns << 1;
  for (let j = j0; j < j1; j++) {
    let o = out + (<usize>(j * span) << 2);
    for (let i = 0; i < span; i += 4) {
      // Four places share each piece of the pattern.
      let w = window + <usize>j * rowBytes + (<usize>i << 1), p = pattern;
      let a = i32x4.splat(0), b = a, c = a, d = a;
      for (let r = 0; r < rows; r++) {
        for (let at: usize = 0; at < patternBytes; at += 16) {
          const q = v128.load(p + at), from = w + at;
          a = i32x4.add(a, i32x4.dot_i16x8_s(q, v128.load(from)));
          b = i32x4.add(b, i32x4.dot_i16x8_s(q, v128.load(from, 2)));
          c = i32x4.add(c, i32x4.dot_i16x8_s(q, v128.load(from, 4)));
          d = i32x4.add(d, i32x4.dot_i16x8_s(q, v128.load(from, 6)));
        }
        w += rowBytes; p += patternBytes;
      }
      const some = span - i;
      store<f32>(o, lanes(a));
      if (some > 1) store<f32>(o, lanes(b), 4);
      if (some > 2) store<f32>(o, lanes(c), 8);
      if (some > 3) store<f32>(o, lanes(d), 12);
      o += 16;
    }
  }
}

/** Largest distance of `count` float32 from a value. */
export function farthestFrom(values: usize, count: i32, from: f32): f32 {
  let most = f32x4.splat(0), i = 0, rest: f32 = 0;
  const middle = f32x4.splat(from);
  for (; i + 4 <= count; i += 4) most = f32x4.pmax(most, f32x4.abs(f32x4.sub(v128.load(values + (<usize>i << 2)), middle)));
  for (; i < count; i++) rest = max<f32>(rest, abs<f32>(load<f32>(values + (<usize>i << 2)) - from));
  return max<f32>(max<f32>(max<f32>(f32x4.extract_lane(most, 0), f32x4.extract_lane(most, 1)), max<f32>(f32x4.extract_lane(most, 2), f32x4.extract_lane(most, 3))), rest);
}

/**
 * A square of `side` grey values less `mean`, made ready for a search: in whole numbers (`fine` steps to a grey value, rounded), and as running sums of
 * itself and of its squares, float64 with a row and a column of zeros before them.
 */
export function windowTables(grey: usize, side: i32, mean: f32, fine: f32, numbers: usize, sums: usize, squares: usize): void {
  const line: usize = <usize>(side + 1) << 3;
  memory.fill(sums, 0, line);
  memory.fill(squares, 0, line);
  for (let j = 0; j < side; j++) {
    const row = sums + <usize>(j + 1) * line, square = squares + <usize>(j + 1) * line;
    let s: f64 = 0, t: f64 = 0;
    store<f64>(row, 0);
    store<f64>(square, 0);
    for (let i = 0; i < side; i++) {
      const v = load<f32>(grey) - mean, at: usize = <usize>(i + 1) << 3;
      store<i16>(numbers, <i16><i32>nearest<f32>(v * fine));
      s += <f64>v;
      t += <f64>v * <f64>v;
      store<f64>(row + at, load<f64>(row + at - line) + s);
      store<f64>(square + at, load<f64>(square + at - line) + t);
      grey += 4; numbers += 2;
    }
  }
}
