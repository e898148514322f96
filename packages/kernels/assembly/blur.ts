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
 * `taps` holds reach + 1 float32; `line` is working memory of (width + 2 reach) pixels and 16 bytes more.
 */
export function blurRows(src: usize, dst: usize, width: i32, channels: i32, y0: i32, y1: i32, taps: usize, reach: i32, line: usize): void {
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
export function blurColumns(src: usize, dst: usize, floats: i32, height: i32, y0: i32, y1: i32, taps: usize, reach: i32): void {
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

/** Half the size by the filter 1 3 3 1 in both directions; edge pixels go on. `line` holds one source row. Bands are of the result. */
export function halve(src: usize, dst: usize, width: i32, height: i32, channels: i32, y0: i32, y1: i32, line: usize): void {
  const w = (width + 1) >> 1, floats = width * channels, rowBytes: usize = <usize>floats << 2, outBytes: usize = <usize>(w * channels) << 2, xl = width - 1, yl = height - 1;
  const far = f32x4.splat(0.125), near = f32x4.splat(0.375);
  for (let y = y0; y < y1; y++) {
    const at = 2 * y;
    fourRows(src + <usize>max(0, at - 1) * rowBytes, src + <usize>min(yl, at) * rowBytes, src + <usize>min(yl, at + 1) * rowBytes, src + <usize>min(yl, at + 2) * rowBytes, line, floats, 0.125, 0.375);
    let o = dst + <usize>y * outBytes;
    if (channels == 4) {
      for (let x = 0; x < w; x++) {
        const q = 2 * x;
        const a = v128.load(line + (<usize>max(0, q - 1) << 4)), b = v128.load(line + (<usize>min(xl, q) << 4)), c = v128.load(line + (<usize>min(xl, q + 1) << 4)), d = v128.load(line + (<usize>min(xl, q + 2) << 4));
        v128.store(o, f32x4.add(f32x4.mul(far, f32x4.add(a, d)), f32x4.mul(near, f32x4.add(b, c))));
        o += 16;
      }
    } else {
      for (let x = 0; x < w; x++) {
        const q = 2 * x;
        const a = load<f32>(line + (<usize>max(0, q - 1) << 2)), b = load<f32>(line + (<usize>min(xl, q) << 2)), c = load<f32>(line + (<usize>min(xl, q + 1) << 2)), d = load<f32>(line + (<usize>min(xl, q + 2) << 2));
        store<f32>(o, <f32>0.125 * (a + d) + <f32>0.375 * (b + c));
        o += 4;
      }
    }
  }
}

/** Twice the size by the same filter turned round: three parts of the near pixel, one of the far one. `w`, `h` are the source's size. */
export function double(src: usize, dst: usize, w: i32, h: i32, channels: i32, width: i32, height: i32, y0: i32, y1: i32, line: usize): void {
  const floats = w * channels, rowBytes: usize = <usize>floats << 2, outBytes: usize = <usize>(width * channels) << 2, ones = floats & ~3;
  const three = f32x4.splat(0.75), one = f32x4.splat(0.25);
  for (let y = y0; y < y1; y++) {
    const n = y >> 1, f = min(h - 1, max(0, y & 1 ? n + 1 : n - 1)), a = src + <usize>n * rowBytes, b = src + <usize>f * rowBytes;
    let at: usize = 0, i = 0;
    for (; i < ones; i += 4) { v128.store(line + at, f32x4.add(f32x4.mul(three, v128.load(a + at)), f32x4.mul(one, v128.load(b + at)))); at += 16; }
    for (; i < floats; i++) { store<f32>(line + at, <f32>0.75 * load<f32>(a + at) + <f32>0.25 * load<f32>(b + at)); at += 4; }
    let o = dst + <usize>y * outBytes;
    for (let x = 0; x < width; x++) {
      const p = x >> 1, q = min(w - 1, max(0, x & 1 ? p + 1 : p - 1));
      if (channels == 4) { v128.store(o, f32x4.add(f32x4.mul(three, v128.load(line + (<usize>p << 4))), f32x4.mul(one, v128.load(line + (<usize>q << 4))))); o += 16; }
      else { store<f32>(o, <f32>0.75 * load<f32>(line + (<usize>p << 2)) + <f32>0.25 * load<f32>(line + (<usize>q << 2))); o += 4; }
    }
  }
}
