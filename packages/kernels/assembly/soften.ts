import { scratchAt } from './scratch';

/** Where each row of a picture holds anything: its first pixel and the one after its last, as two int32; 0 and 0 where the row is empty. Bands are rows. */
export function rowSpans(picture: usize, spans: usize, width: i32, y0: i32, y1: i32): void {
  for (let y = y0; y < y1; y++) {
    const row = picture + (<usize>(y * width) << 4), to = spans + (<usize>y << 3);
    let first = 0, last = width;
    while (first < last && !v128.any_true(v128.load(row + (<usize>first << 4)))) first++;
    while (last > first && !v128.any_true(v128.load(row + (<usize>(last - 1) << 4)))) last--;
    store<i32>(to, first < last ? first : 0);
    store<i32>(to, first < last ? last : 0, 4);
  }
}

/**
 * The symmetric blur of blurRows and blurColumns in one pass, for pictures of which most is empty: only about what `spans` (of rowSpans) says is there. The edge pixel goes on
 * beyond the edge. All rows of `dst` are written; the sums are those of rows after columns.
 */
export function softenDrawn(src: usize, dst: usize, spans: usize, width: i32, height: i32, taps: usize, reach: i32, y0: i32, y1: i32): void {
  const rowBytes: usize = <usize>width << 4, line = scratchAt(), zero = f32x4.splat(0), middle = v128.load32_splat(taps);
  for (let y = y0; y < y1; y++) {
    let first = width, last = 0;
    for (let k = max(0, y - reach), to = min(height - 1, y + reach); k <= to; k++) {
      const at = spans + (<usize>k << 3), end = load<i32>(at, 4);
      if (!end) continue;
      first = min(first, load<i32>(at));
      last = max(last, end);
    }
    const out = dst + <usize>y * rowBytes;
    if (first >= last) {
      memory.fill(out, 0, rowBytes);
      continue;
    }
    // The line has two reaches of nothing on either side: one that the blur spreads into, and one that it reads there.
    const n = last - first, room = 2 * reach, begin = line + (<usize>room << 4);
    const row = src + <usize>y * rowBytes + (<usize>first << 4);
    for (let x = 0; x < n; x++) v128.store(begin + (<usize>x << 4), f32x4.mul(middle, v128.load(row + (<usize>x << 4))));
    for (let k = 1; k <= reach; k++) {
      const weight = v128.load32_splat(taps + (<usize>k << 2)), up = src + <usize>max(0, y - k) * rowBytes + (<usize>first << 4), down = src + <usize>min(height - 1, y + k) * rowBytes + (<usize>first << 4);
      for (let x = 0; x < n; x++) {
        const at: usize = <usize>x << 4;
        v128.store(begin + at, f32x4.add(v128.load(begin + at), f32x4.mul(weight, f32x4.add(v128.load(up + at), v128.load(down + at)))));
      }
    }
    // Beyond an edge of the picture the edge pixel goes on.
    const before = first ? zero : v128.load(begin), after = last < width ? zero : v128.load(begin + (<usize>(n - 1) << 4));
    for (let k = 0; k < room; k++) {
      v128.store(line + (<usize>k << 4), before);
      v128.store(begin + (<usize>(n + k) << 4), after);
    }
    const from = max(0, first - reach), to = min(width, last + reach);
    memory.fill(out, 0, <usize>from << 4);
    memory.fill(out + (<usize>to << 4), 0, <usize>(width - to) << 4);
    for (let x = from; x < to; x++) {
      const at = begin + (<usize>(x - first) << 4);
      let sum = f32x4.mul(middle, v128.load(at));
      for (let k = 1; k <= reach; k++) sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(taps + (<usize>k << 2)), f32x4.add(v128.load(at - (<usize>k << 4)), v128.load(at + (<usize>k << 4)))));
      v128.store(out + (<usize>x << 4), sum);
    }
  }
}
