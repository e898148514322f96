import { scratchAt, storeSome } from './scratch';

/** Copies one row into `line` with its first and last pixel repeated `reach` times beyond the ends. */
@inline
function padRow(row: usize, line: usize, width: i32, channels: i32, reach: i32): void {
  const pixel: usize = <usize>channels << 2, bytes: usize = <usize>width * pixel;
  for (let k = 0; k < reach; k++) {
    memory.copy(line + <usize>k * pixel, row, pixel);
    memory.copy(line + <usize>(reach + width + k) * pixel, row + bytes - pixel, pixel);
  }
  memory.copy(line + <usize>reach * pixel, row, bytes);
}

/**
 * Symmetric weighted sum along rows: out = taps[0] in + sum of taps[k] (in[-k] + in[+k]), the edge pixel going on beyond the edge.
 * `taps` holds reach + 1 float32; A row with its edges must fit the working memory.
 */
export function blurRows(src: usize, dst: usize, width: i32, channels: i32, taps: usize, reach: i32, y0: i32, y1: i32): void {
  const line = scratchAt();
  const floats = width * channels, rowBytes: usize = <usize>floats << 2, step: usize = <usize>channels << 2, fours = floats & ~15, ones = floats & ~3;
  const centre: usize = line + <usize>reach * step;
  const middle = f32x4.splat(load<f32>(taps));
  for (let y = y0; y < y1; y++) {
    padRow(src + <usize>y * rowBytes, line, width, channels, reach);
    let p = centre, o = dst + <usize>y * rowBytes, i = 0;
    for (; i < fours; i += 16) {
      let a = f32x4.mul(middle, v128.load(p)), b = f32x4.mul(middle, v128.load(p, 16)), c = f32x4.mul(middle, v128.load(p, 32)), d = f32x4.mul(middle, v128.load(p, 48));
      let l = p - step, r = p + step;
      for (let k = 1; k <= reach; k++) {
        const w = f32x4.splat(load<f32>(taps + (<usize>k << 2)));
        a = f32x4.add(a, f32x4.mul(w, f32x4.add(v128.load(l), v128.load(r))));
        b = f32x4.add(b, f32x4.mul(w, f32x4.add(v128.load(l, 16), v128.load(r, 16))));
        c = f32x4.add(c, f32x4.mul(w, f32x4.add(v128.load(l, 32), v128.load(r, 32))));
        d = f32x4.add(d, f32x4.mul(w, f32x4.add(v128.load(l, 48), v128.load(r, 48))));
        l -= step; r += step;
      }
      v128.store(o, a); v128.store(o, b, 16); v128.store(o, c, 32); v128.store(o, d, 48);
      p += 64; o += 64;
    }
    for (; i < ones; i += 4) {
      let a = f32x4.mul(middle, v128.load(p));
      for (let k = 1; k <= reach; k++) a = f32x4.add(a, f32x4.mul(f32x4.splat(load<f32>(taps + (<usize>k << 2))), f32x4.add(v128.load(p - <usize>k * step), v128.load(p + <usize>k * step))));
      v128.store(o, a);
      p += 16; o += 16;
    }
    for (; i < floats; i++) {
      let a: f32 = load<f32>(taps) * load<f32>(p);
      for (let k = 1; k <= reach; k++) a += load<f32>(taps + (<usize>k << 2)) * (load<f32>(p - <usize>k * step) + load<f32>(p + <usize>k * step));
      store<f32>(o, a);
      p += 4; o += 4;
    }
  }
}

/** The same sum along columns. `floats` is the count of float32 in a row, whatever the channels. */
export function blurColumns(src: usize, dst: usize, floats: i32, height: i32, taps: usize, reach: i32, y0: i32, y1: i32): void {
  const rowBytes: usize = <usize>floats << 2, fours = floats & ~15, ones = floats & ~3, last = height - 1;
  const middle = f32x4.splat(load<f32>(taps));
  for (let y = y0; y < y1; y++) {
    const row = src + <usize>y * rowBytes;
    let at: usize = 0, o = dst + <usize>y * rowBytes, i = 0;
    for (; i < fours; i += 16) {
      const p = row + at;
      let a = f32x4.mul(middle, v128.load(p)), b = f32x4.mul(middle, v128.load(p, 16)), c = f32x4.mul(middle, v128.load(p, 32)), d = f32x4.mul(middle, v128.load(p, 48));
      for (let k = 1; k <= reach; k++) {
        const w = f32x4.splat(load<f32>(taps + (<usize>k << 2)));
        const u = src + <usize>max(0, y - k) * rowBytes + at, v = src + <usize>min(last, y + k) * rowBytes + at;
        a = f32x4.add(a, f32x4.mul(w, f32x4.add(v128.load(u), v128.load(v))));
        b = f32x4.add(b, f32x4.mul(w, f32x4.add(v128.load(u, 16), v128.load(v, 16))));
        c = f32x4.add(c, f32x4.mul(w, f32x4.add(v128.load(u, 32), v128.load(v, 32))));
        d = f32x4.add(d, f32x4.mul(w, f32x4.add(v128.load(u, 48), v128.load(v, 48))));
      }
      v128.store(o, a); v128.store(o, b, 16); v128.store(o, c, 32); v128.store(o, d, 48);
      at += 64; o += 64;
    }
    for (; i < ones; i += 4) {
      let a = f32x4.mul(middle, v128.load(row + at));
      for (let k = 1; k <= reach; k++) a = f32x4.add(a, f32x4.mul(f32x4.splat(load<f32>(taps + (<usize>k << 2))), f32x4.add(v128.load(src + <usize>max(0, y - k) * rowBytes + at), v128.load(src + <usize>min(last, y + k) * rowBytes + at))));
      v128.store(o, a);
      at += 16; o += 16;
    }
    for (; i < floats; i++) {
      let a: f32 = load<f32>(taps) * load<f32>(row + at);
      for (let k = 1; k <= reach; k++) a += load<f32>(taps + (<usize>k << 2)) * (load<f32>(src + <usize>max(0, y - k) * rowBytes + at) + load<f32>(src + <usize>min(last, y + k) * rowBytes + at));
      store<f32>(o, a);
      at += 4; o += 4;
    }
  }
}

/** line = near (b + c) + far (a + d) over a row of floats. */
@inline
function fourRows(a: usize, b: usize, c: usize, d: usize, line: usize, floats: i32, far: f32, near: f32): void {
  const f = f32x4.splat(far), n = f32x4.splat(near), ones = floats & ~3;
  let at: usize = 0, i = 0;
  for (; i < ones; i += 4) {
    v128.store(line + at, f32x4.add(f32x4.mul(f, f32x4.add(v128.load(a + at), v128.load(d + at))), f32x4.mul(n, f32x4.add(v128.load(b + at), v128.load(c + at)))));
    at += 16;
  }
  for (; i < floats; i++) {
    store<f32>(line + at, far * (load<f32>(a + at) + load<f32>(d + at)) + near * (load<f32>(b + at) + load<f32>(c + at)));
    at += 4;
  }
}

/** Half the size by the filter 1 3 3 1 in both directions; edge pixels go on. Bands are of the result. */
export function halve(src: usize, dst: usize, width: i32, height: i32, channels: i32, y0: i32, y1: i32): void {
  // Before it lies what goes on beyond the left edge of a plane.
  const line = scratchAt() + 16, w = (width + 1) >> 1, floats = width * channels, rowBytes: usize = <usize>floats << 2, outBytes: usize = <usize>(w * channels) << 2, xl = width - 1, yl = height - 1;
  const far = f32x4.splat(0.125), near = f32x4.splat(0.375);
  for (let y = y0; y < y1; y++) {
    const at = 2 * y;
    fourRows(src + <usize>max(0, at - 1) * rowBytes, src + <usize>min(yl, at) * rowBytes, src + <usize>min(yl, at + 1) * rowBytes, src + <usize>min(yl, at + 2) * rowBytes, line, floats, 0.125, 0.375);
    let o = dst + <usize>y * outBytes;
    if (channels == 4) {
      // All but the edges have their four neighbours.
      const inner = max(1, (width - 1) >> 1);
      for (let x = 1; x < inner; x++) {
        const p = line + (<usize>(2 * x - 1) << 4);
        v128.store(o + (<usize>x << 4), f32x4.add(f32x4.mul(far, f32x4.add(v128.load(p), v128.load(p, 48))), f32x4.mul(near, f32x4.add(v128.load(p, 16), v128.load(p, 32)))));
      }
      for (let x = 0; x < w; x++) {
        if (x == 1 && inner > 1) { x = inner; o += <usize>(inner - 1) << 4; if (x >= w) break; }
        const q = 2 * x;
        const a = v128.load(line + (<usize>max(0, q - 1) << 4)), b = v128.load(line + (<usize>min(xl, q) << 4)), c = v128.load(line + (<usize>min(xl, q + 1) << 4)), d = v128.load(line + (<usize>min(xl, q + 2) << 4));
        v128.store(o, f32x4.add(f32x4.mul(far, f32x4.add(a, d)), f32x4.mul(near, f32x4.add(b, c))));
        o += 16;
      }
    } else {
      goOn(line, width);
      for (let x = 0; x < w; x += 4) {
        const p = line + (<usize>x << 3), v = v128.load(p - 4), u = v128.load(p + 12), s = v128.load(p + 4), t = v128.load(p + 20);
        storeSome(o, f32x4.add(f32x4.mul(far, f32x4.add(v128.shuffle<f32>(v, u, 0, 2, 4, 6), v128.shuffle<f32>(s, t, 1, 3, 5, 7))), f32x4.mul(near, f32x4.add(v128.shuffle<f32>(v, u, 1, 3, 5, 7), v128.shuffle<f32>(s, t, 0, 2, 4, 6)))), w - x);
        o += 16;
      }
    }
  }
}
/** The first number of a line stands before it too, and the last one some times after it. */
@inline
function goOn(line: usize, count: i32): void {
  const end = line + (<usize>count << 2), last = f32x4.splat(load<f32>(end - 4));
  store<f32>(line - 4, load<f32>(line));
  for (let k: usize = 0; k < 64; k += 16) v128.store(end + k, last);
}

/** Twice the size by the same filter turned round: three parts of the near pixel, one of the far one. `w`, `h` are the source's size. */
export function double(src: usize, dst: usize, w: i32, h: i32, channels: i32, width: i32, height: i32, y0: i32, y1: i32): void {
  const line = scratchAt() + 16, floats = w * channels, rowBytes: usize = <usize>floats << 2, outBytes: usize = <usize>(width * channels) << 2, ones = floats & ~3;
  const three = f32x4.splat(0.75), one = f32x4.splat(0.25);
  for (let y = y0; y < y1; y++) {
    const n = y >> 1, f = min(h - 1, max(0, y & 1 ? n + 1 : n - 1)), a = src + <usize>n * rowBytes, b = src + <usize>f * rowBytes;
    let at: usize = 0, i = 0;
    for (; i < ones; i += 4) { v128.store(line + at, f32x4.add(f32x4.mul(three, v128.load(a + at)), f32x4.mul(one, v128.load(b + at)))); at += 16; }
    for (; i < floats; i++) { store<f32>(line + at, <f32>0.75 * load<f32>(a + at) + <f32>0.25 * load<f32>(b + at)); at += 4; }
    let o = dst + <usize>y * outBytes;
    if (channels == 4) doubleLine(line, o, w, width);
    else {
      goOn(line, w);
      for (let x = 0; x < w; x += 4) {
        const p = line + (<usize>x << 2), more = f32x4.mul(three, v128.load(p)), even = f32x4.add(more, f32x4.mul(one, v128.load(p - 4))), odd = f32x4.add(more, f32x4.mul(one, v128.load(p + 4))), some = width - 2 * x;
        storeSome(o, v128.shuffle<f32>(even, odd, 0, 4, 1, 5), some);
        if (some > 4) storeSome(o + 16, v128.shuffle<f32>(even, odd, 2, 6, 3, 7), some - 4);
        o += 32;
      }
    }
  }
}

/** Half the size (rounded up): means of two by two, edge pixels going on. RGBA; `width` x `height` is the source's size. */
export function meanHalf(src: usize, dst: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const w = (width + 1) >> 1, rowBytes: usize = <usize>width << 4, part = f32x4.splat(0.25);
  for (let y = y0; y < y1; y++) {
    const a = src + <usize>(2 * y) * rowBytes, b = src + <usize>min(height - 1, 2 * y + 1) * rowBytes;
    let o = dst + (<usize>(y * w) << 4);
    for (let x = 0; x < w; x++) {
      const l: usize = <usize>x << 5, r: usize = <usize>min(width - 1, 2 * x + 1) << 4;
      v128.store(o, f32x4.mul(part, f32x4.add(f32x4.add(v128.load(a + l), v128.load(a + r)), f32x4.add(v128.load(b + l), v128.load(b + r)))));
      o += 16;
    }
  }
}

/** Half the size (rounded down) of a plane: means of two by two. `width` is the source's. */
export function meanHalfPlane(src: usize, dst: usize, width: i32, y0: i32, y1: i32): void {
  const w = width >> 1, rowBytes: usize = <usize>width << 2, part = f32x4.splat(0.25);
  for (let y = y0; y < y1; y++) {
    let a = src + <usize>(2 * y) * rowBytes, o = dst + (<usize>(y * w) << 2);
    for (let x = 0; x < w; x += 4) {
      const left = f32x4.add(v128.load(a), v128.load(a + rowBytes)), right = f32x4.add(v128.load(a, 16), v128.load(a + rowBytes, 16));
      storeSome(o, f32x4.mul(part, f32x4.add(v128.shuffle<f32>(left, right, 0, 2, 4, 6), v128.shuffle<f32>(left, right, 1, 3, 5, 7))), w - x);
      a += 32; o += 16;
    }
  }
}

/** The sums of four rows at four columns. */
@inline
function sumOfRows(a: usize, b: usize, c: usize, d: usize, at: usize): v128 {
  return f32x4.add(f32x4.add(v128.load(a + at), v128.load(b + at)), f32x4.add(v128.load(c + at), v128.load(d + at)));
}
/** A quarter of the size (rounded up) of a plane: means of four by four, edge pixels going on; `width` x `height` is the source's size. */
export function quarterPlane(src: usize, dst: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const w = (width + 3) >> 2, whole = width >> 2;
  for (let y = y0; y < y1; y++) {
    const a = src + (<usize>(min(height - 1, 4 * y) * width) << 2), b = src + (<usize>(min(height - 1, 4 * y + 1) * width) << 2), c = src + (<usize>(min(height - 1, 4 * y + 2) * width) << 2), d = src + (<usize>(min(height - 1, 4 * y + 3) * width) << 2);
    let to = dst + (<usize>(y * w) << 2), x = 0;
    for (; x + 4 <= whole; x += 4, to += 16) {
      const at: usize = <usize>x << 4, p = sumOfRows(a, b, c, d, at), q = sumOfRows(a, b, c, d, at + 16), r = sumOfRows(a, b, c, d, at + 32), t = sumOfRows(a, b, c, d, at + 48);
      const pq = v128.shuffle<f32>(p, q, 0, 4, 2, 6), rt = v128.shuffle<f32>(r, t, 0, 4, 2, 6), pq2 = v128.shuffle<f32>(p, q, 1, 5, 3, 7), rt2 = v128.shuffle<f32>(r, t, 1, 5, 3, 7), left = f32x4.add(pq, pq2), right = f32x4.add(rt, rt2);
      v128.store(to, f32x4.mul(f32x4.splat(0.0625), f32x4.add(v128.shuffle<f64>(left, right, 0, 2), v128.shuffle<f64>(left, right, 1, 3))));
    }
    for (; x < w; x++, to += 4) {
      let sum: f32 = 0;
      if (x < whole) {
        const four = sumOfRows(a, b, c, d, <usize>x << 4);
        sum = (f32x4.extract_lane(four, 0) + f32x4.extract_lane(four, 1)) + (f32x4.extract_lane(four, 2) + f32x4.extract_lane(four, 3));
      } else
        for (let k = 0; k < 4; k++) {
          const at: usize = <usize>min(width - 1, 4 * x + k) << 2;
          sum += (load<f32>(a + at) + load<f32>(b + at)) + (load<f32>(c + at) + load<f32>(d + at));
        }
      store<f32>(to, sum * 0.0625);
    }
  }
}

/** A quarter of the size (rounded up): means of four by four, edge pixels going on. RGBA; `width` x `height` is the source's size. */
export function quarter(src: usize, dst: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const w = (width + 3) >> 2, inner = width >> 2, rowBytes: usize = <usize>width << 4, part = f32x4.splat(0.0625);
  for (let y = y0; y < y1; y++) {
    let o = dst + (<usize>(y * w) << 4);
    const a = src + <usize>(4 * y) * rowBytes, b = src + <usize>min(height - 1, 4 * y + 1) * rowBytes, c = src + <usize>min(height - 1, 4 * y + 2) * rowBytes, d = src + <usize>min(height - 1, 4 * y + 3) * rowBytes;
    for (let x = 0; x < w; x++) {
      const at: usize = <usize>x << 6;
      if (x < inner) {
        const p = f32x4.add(f32x4.add(v128.load(a + at), v128.load(a + at, 16)), f32x4.add(v128.load(a + at, 32), v128.load(a + at, 48))), q = f32x4.add(f32x4.add(v128.load(b + at), v128.load(b + at, 16)), f32x4.add(v128.load(b + at, 32), v128.load(b + at, 48)));
        const r = f32x4.add(f32x4.add(v128.load(c + at), v128.load(c + at, 16)), f32x4.add(v128.load(c + at, 32), v128.load(c + at, 48))), s = f32x4.add(f32x4.add(v128.load(d + at), v128.load(d + at, 16)), f32x4.add(v128.load(d + at, 32), v128.load(d + at, 48)));
        v128.store(o, f32x4.mul(part, f32x4.add(f32x4.add(p, q), f32x4.add(r, s))));
      } else {
        let sum = f32x4.splat(0);
        for (let i = 0; i < 4; i++) {
          const p: usize = <usize>min(width - 1, 4 * x + i) << 4;
          sum = f32x4.add(sum, f32x4.add(f32x4.add(v128.load(a + p), v128.load(b + p)), f32x4.add(v128.load(c + p), v128.load(d + p))));
        }
        v128.store(o, f32x4.mul(part, sum));
      }
      o += 16;
    }
  }
}

/** Four times the size: `double` done twice, without writing the size between. \`w\` x \`h\` is the source's size, RGBA. */
export function fourfold(src: usize, dst: usize, w: i32, h: i32, width: i32, height: i32, y0: i32, y1: i32): void {
  const near = scratchAt(), middle = near + (<usize>w << 4), half = (width + 1) >> 1, tall = (height + 1) >> 1, rowBytes: usize = <usize>w << 4, three = f32x4.splat(0.75), one = f32x4.splat(0.25);
  for (let y = y0; y < y1; y++) {
    const r = y >> 1, s = min(tall - 1, max(0, y & 1 ? r + 1 : r - 1));
    const ra = src + <usize>(r >> 1) * rowBytes, rb = src + <usize>min(h - 1, max(0, r & 1 ? (r >> 1) + 1 : (r >> 1) - 1)) * rowBytes, sa = src + <usize>(s >> 1) * rowBytes, sb = src + <usize>min(h - 1, max(0, s & 1 ? (s >> 1) + 1 : (s >> 1) - 1)) * rowBytes;
    for (let x = 0; x < w; x++) {
      const at: usize = <usize>x << 4;
      const a = f32x4.add(f32x4.mul(three, v128.load(ra + at)), f32x4.mul(one, v128.load(rb + at))), b = f32x4.add(f32x4.mul(three, v128.load(sa + at)), f32x4.mul(one, v128.load(sb + at)));
      v128.store(near + at, f32x4.add(f32x4.mul(three, a), f32x4.mul(one, b)));
    }
    doubleLine(near, middle, w, half);
    doubleLine(middle, dst + (<usize>(y * width) << 4), half, width);
  }
}
@inline
function doubleLine(line: usize, out: usize, w: i32, width: i32): void {
  const three = f32x4.splat(0.75), one = f32x4.splat(0.25);
  let before = v128.load(line), now = before;
  for (let x = 0; x < w; x++) {
    const after = v128.load(line + (<usize>min(w - 1, x + 1) << 4)), more = f32x4.mul(three, now);
    v128.store(out, f32x4.add(more, f32x4.mul(one, before)));
    if (2 * x + 1 < width) v128.store(out, f32x4.add(more, f32x4.mul(one, after)), 16);
    before = now; now = after;
    out += 32;
  }
}
