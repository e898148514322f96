import { scratchAt, storeSome } from './scratch';

/** A coordinate folded back at both edges, as a mirror shows it: 0..size. */
@inline
function fold(t: v128, size: f32): v128 {
  const span = f32x4.splat(2 * size), r = f32x4.sub(t, f32x4.mul(f32x4.floor(f32x4.mul(t, f32x4.splat(1 / (2 * size)))), span));
  return f32x4.pmax(f32x4.splat(0), v128.bitselect(f32x4.sub(span, r), r, f32x4.gt(r, f32x4.splat(size))));
}
/** Where to read, in whole pixels from the middle of the first one: folded or not, then held within the picture; NaN reads there too. */
@inline
function within(t: v128, size: i32, mirror: bool): v128 {
  const half = f32x4.splat(0.5), last = f32x4.splat(<f32>(size - 1));
  const c = mirror ? f32x4.sub(fold(f32x4.add(t, half), <f32>size), half) : t;
  return f32x4.pmin(last, f32x4.pmax(f32x4.splat(0), c));
}

@inline
function straight(o: usize, p: usize, right: usize, down: usize, tx: v128, ty: v128): void {
  const q = p + down, a = v128.load(p), b = v128.load(p + right), c = v128.load(q), d = v128.load(q + right);
  const top = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), tx)), bottom = f32x4.add(c, f32x4.mul(f32x4.sub(d, c), tx));
  v128.store(o, f32x4.add(top, f32x4.mul(f32x4.sub(bottom, top), ty)));
}

/** Four neighbouring pixels of the result, read at four places by straight lines between pixels. */
@inline
function fourStraight(src: usize, width: i32, height: i32, sx: v128, sy: v128, o: usize, some: i32): void {
  const xf = f32x4.floor(sx), yf = f32x4.floor(sy), tx = f32x4.sub(sx, xf), ty = f32x4.sub(sy, yf), xi = i32x4.trunc_sat_f32x4_s(xf), yi = i32x4.trunc_sat_f32x4_s(yf);
  const rowBytes = width << 4, at = i32x4.add(i32x4.mul(yi, i32x4.splat(rowBytes)), i32x4.shl(xi, 4));
  const right = v128.and(i32x4.lt_s(xi, i32x4.splat(width - 1)), i32x4.splat(16)), down = v128.and(i32x4.lt_s(yi, i32x4.splat(height - 1)), i32x4.splat(rowBytes));
  straight(o, src + i32x4.extract_lane(at, 0), i32x4.extract_lane(right, 0), i32x4.extract_lane(down, 0), v128.shuffle<f32>(tx, tx, 0, 0, 0, 0), v128.shuffle<f32>(ty, ty, 0, 0, 0, 0));
  if (some > 1) straight(o + 16, src + i32x4.extract_lane(at, 1), i32x4.extract_lane(right, 1), i32x4.extract_lane(down, 1), v128.shuffle<f32>(tx, tx, 1, 1, 1, 1), v128.shuffle<f32>(ty, ty, 1, 1, 1, 1));
  if (some > 2) straight(o + 32, src + i32x4.extract_lane(at, 2), i32x4.extract_lane(right, 2), i32x4.extract_lane(down, 2), v128.shuffle<f32>(tx, tx, 2, 2, 2, 2), v128.shuffle<f32>(ty, ty, 2, 2, 2, 2));
  if (some > 3) straight(o + 48, src + i32x4.extract_lane(at, 3), i32x4.extract_lane(right, 3), i32x4.extract_lane(down, 3), v128.shuffle<f32>(tx, tx, 3, 3, 3, 3), v128.shuffle<f32>(ty, ty, 3, 3, 3, 3));
}

/** The same where all four have neighbours to the right and below. */
@inline
function fourInside(src: usize, rowBytes: i32, sx: v128, sy: v128, o: usize): void {
  const xi = i32x4.trunc_sat_f32x4_s(sx), yi = i32x4.trunc_sat_f32x4_s(sy), tx = f32x4.sub(sx, f32x4.convert_i32x4_s(xi)), ty = f32x4.sub(sy, f32x4.convert_i32x4_s(yi));
  const at = i32x4.add(i32x4.mul(yi, i32x4.splat(rowBytes)), i32x4.shl(xi, 4));
  straight(o, src + i32x4.extract_lane(at, 0), 16, rowBytes, v128.shuffle<f32>(tx, tx, 0, 0, 0, 0), v128.shuffle<f32>(ty, ty, 0, 0, 0, 0));
  straight(o + 16, src + i32x4.extract_lane(at, 1), 16, rowBytes, v128.shuffle<f32>(tx, tx, 1, 1, 1, 1), v128.shuffle<f32>(ty, ty, 1, 1, 1, 1));
  straight(o + 32, src + i32x4.extract_lane(at, 2), 16, rowBytes, v128.shuffle<f32>(tx, tx, 2, 2, 2, 2), v128.shuffle<f32>(ty, ty, 2, 2, 2, 2));
  straight(o + 48, src + i32x4.extract_lane(at, 3), 16, rowBytes, v128.shuffle<f32>(tx, tx, 3, 3, 3, 3), v128.shuffle<f32>(ty, ty, 3, 3, 3, 3));
}

/** Catmull-Rom weights of four neighbours for a part t. */
@inline
function weightAt(k: i32, t: f32): f32 {
  if (k == 0) return <f32>0.5 * t * (t * (2 - t) - 1);
  if (k == 1) return <f32>0.5 * (t * t * (3 * t - 5) + 2);
  if (k == 2) return <f32>0.5 * t * (t * (4 - 3 * t) + 1);
  return <f32>0.5 * t * t * (t - 1);
}
/** One pixel read at (x, y), in pixels from the middle of the first, through a cubic of sixteen neighbours; edges hold. */
function oneCubic(src: usize, width: i32, height: i32, x: f32, y: f32, o: usize): void {
  const xf = floor<f32>(x), yf = floor<f32>(y), tx = x - xf, ty = y - yf, xi = <i32>xf, yi = <i32>yf, rowBytes: usize = <usize>width << 4;
  let sum = f32x4.splat(0);
  for (let j = 0; j < 4; j++) {
    const row = src + <usize>min(height - 1, max(0, yi - 1 + j)) * rowBytes;
    let line = f32x4.splat(0);
    for (let i = 0; i < 4; i++) line = f32x4.add(line, f32x4.mul(v128.load(row + (<usize>min(width - 1, max(0, xi - 1 + i)) << 4)), f32x4.splat(weightAt(i, tx))));
    sum = f32x4.add(sum, f32x4.mul(line, f32x4.splat(weightAt(j, ty))));
  }
  v128.store(o, sum);
}
/** Weights of four neighbours for four parts, as weightAt gives them: sixteen numbers, those of the first neighbour first. */
@inline
function storeWeights(at: usize, t: v128): void {
  const half = f32x4.splat(0.5), one = f32x4.splat(1), two = f32x4.splat(2), three = f32x4.splat(3), squared = f32x4.mul(t, t), halved = f32x4.mul(half, t);
  v128.store(at, f32x4.mul(halved, f32x4.sub(f32x4.mul(t, f32x4.sub(two, t)), one)));
  v128.store(at, f32x4.mul(half, f32x4.add(f32x4.mul(squared, f32x4.sub(f32x4.mul(three, t), f32x4.splat(5))), two)), 16);
  v128.store(at, f32x4.mul(halved, f32x4.add(f32x4.mul(t, f32x4.sub(f32x4.splat(4), f32x4.mul(three, t))), one)), 32);
  v128.store(at, f32x4.mul(f32x4.mul(halved, t), f32x4.sub(t, one)), 48);
}
/** One row of four neighbours by their weights. */
@inline
function cubicRow(p: usize, a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.add(f32x4.mul(v128.load(p), a), f32x4.mul(v128.load(p, 16), b)), f32x4.mul(v128.load(p, 32), c)), f32x4.mul(v128.load(p, 48), d));
}
/** Four neighbouring pixels of the result, read at four places through a cubic of sixteen neighbours; edges hold. */
@inline
function fourCubic(src: usize, width: i32, height: i32, sx: v128, sy: v128, o: usize, some: i32): void {
  const at = scratchAt(), xf = f32x4.floor(sx), yf = f32x4.floor(sy), one = f32x4.splat(1);
  const inside = v128.and(v128.and(f32x4.ge(xf, one), f32x4.le(xf, f32x4.splat(<f32>(width - 3)))), v128.and(f32x4.ge(yf, one), f32x4.le(yf, f32x4.splat(<f32>(height - 3)))));
  // Nearly always all neighbours of all four are in the picture.
  if (some >= 4 && i32x4.all_true(inside)) {
    const rowBytes: usize = <usize>width << 4, firsts = i32x4.add(i32x4.mul(i32x4.sub(i32x4.trunc_sat_f32x4_s(yf), i32x4.splat(1)), i32x4.splat(width)), i32x4.sub(i32x4.trunc_sat_f32x4_s(xf), i32x4.splat(1)));
    v128.store(at, firsts);
    storeWeights(at + 16, f32x4.sub(sx, xf));
    storeWeights(at + 80, f32x4.sub(sy, yf));
    for (let k: usize = 0; k < 16; k += 4) {
      const w = at + k, p = src + (<usize>load<u32>(w) << 4), a = v128.load32_splat(w, 16), b = v128.load32_splat(w, 32), c = v128.load32_splat(w, 48), d = v128.load32_splat(w, 64);
      let sum = f32x4.mul(cubicRow(p, a, b, c, d), v128.load32_splat(w, 80));
      sum = f32x4.add(sum, f32x4.mul(cubicRow(p + rowBytes, a, b, c, d), v128.load32_splat(w, 96)));
      sum = f32x4.add(sum, f32x4.mul(cubicRow(p + 2 * rowBytes, a, b, c, d), v128.load32_splat(w, 112)));
      sum = f32x4.add(sum, f32x4.mul(cubicRow(p + 3 * rowBytes, a, b, c, d), v128.load32_splat(w, 128)));
      v128.store(o + (k << 2), sum);
    }
    return;
  }
  v128.store(at, sx);
  v128.store(at, sy, 16);
  for (let k = 0; k < some; k++) oneCubic(src, width, height, load<f32>(at + (<usize>k << 2)), load<f32>(at + (<usize>k << 2), 16), o + (<usize>k << 4));
}

/**
 * Moves pixels: out(x, y) = src(x + dx, y + dy) with two planes of displacements in pixels, straight between pixels or cubic; beyond the
 * edge the picture is mirrored or its edge goes on. A displacement that is not a number counts as none.
 */
export function warpByField(src: usize, dx: usize, dy: usize, mirror: bool, cubic: bool, out: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const lanes = f32x4(0, 1, 2, 3), zero = f32x4.splat(0), right = f32x4.splat(<f32>(width - 1)), bottom = f32x4.splat(<f32>(height - 1)), rowBytes = width << 4;
  for (let y = y0; y < y1; y++) {
    const line = f32x4.splat(<f32>y);
    let at: usize = <usize>(y * width) << 2;
    for (let x = 0; x < width; x += 4) {
      const some = min(4, width - x);
      let u = v128.load(dx + at), v = v128.load(dy + at);
      u = v128.and(u, f32x4.eq(u, u));
      v = v128.and(v, f32x4.eq(v, v));
      let sx = f32x4.add(f32x4.add(f32x4.splat(<f32>x), lanes), u), sy = f32x4.add(line, v);
      // Nearly always all four stay well inside, where nothing is to be folded or held.
      const inside = v128.and(v128.and(f32x4.ge(sx, zero), f32x4.lt(sx, right)), v128.and(f32x4.ge(sy, zero), f32x4.lt(sy, bottom)));
      if (!cubic && some >= 4 && i32x4.all_true(inside)) fourInside(src, rowBytes, sx, sy, out + (at << 2));
      else {
        sx = within(sx, width, mirror);
        sy = within(sy, height, mirror);
        if (cubic) fourCubic(src, width, height, sx, sy, out + (at << 2), some);
        else fourStraight(src, width, height, sx, sy, out + (at << 2), some);
      }
      at += 16;
    }
  }
}

/** How much of a pixel at these places lies within 0..size, where the edge is a ramp of `part` = 1 / its width. */
@inline
function edgeCover(t: v128, size: v128, part: v128): v128 {
  return f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), f32x4.add(f32x4.mul(f32x4.pmin(t, f32x4.sub(size, t)), part), f32x4.splat(0.5))));
}

/**
 * A picture seen through a homography: out(x, y) = src(H (x, y)), pixel centres at +0.5. `matrix` is 9 floats by rows that take a pixel
 * of the result to the source; what falls outside the source is empty. `width` x `height` is the source's size. With `edge` above 0 the source's edges
 * are ramps of that many of its pixels, half of them outside it. Nothing is looked for outside the box left..right, top..bottom of the result, which is empty there.
 */
export function warpByHomography(src: usize, width: i32, height: i32, matrix: usize, cubic: bool, edge: f32, left: i32, top: i32, right: i32, bottom: i32, out: usize, outWidth: i32, y0: i32, y1: i32): void {
  const lanes = f32x4(0.5, 1.5, 2.5, 3.5), half = f32x4.splat(0.5), zero = f32x4.splat(0), soft = edge > 0, beyond = f32x4.splat(edge * 0.5), across = f32x4.splat(<f32>width), down = f32x4.splat(<f32>height), endX = f32x4.add(across, beyond), endY = f32x4.add(down, beyond), begin = f32x4.neg(beyond), part = f32x4.splat(soft ? 1 / edge : 0), seen = scratchAt() + 256, rowBytes: usize = <usize>outWidth << 4;
  const a = load<f32>(matrix), b = load<f32>(matrix, 4), c = load<f32>(matrix, 8), d = load<f32>(matrix, 12), e = load<f32>(matrix, 16), f = load<f32>(matrix, 20), g = load<f32>(matrix, 24), h = load<f32>(matrix, 28), i = load<f32>(matrix, 32);
  for (let y = y0; y < y1; y++) {
    const row = out + <usize>y * rowBytes;
    if (y < top || y >= bottom || left >= right) {
      memory.fill(row, 0, rowBytes);
      continue;
    }
    if (left > 0) memory.fill(row, 0, <usize>left << 4);
    if (right < outWidth) memory.fill(row + (<usize>right << 4), 0, <usize>(outWidth - right) << 4);
    const line: f32 = <f32>y + 0.5;
    for (let x = left; x < right; x += 4) {
      const some = min(4, right - x), px = f32x4.add(f32x4.splat(<f32>x), lanes), o = row + (<usize>x << 4);
      const w = f32x4.add(f32x4.mul(px, f32x4.splat(g)), f32x4.splat(h * line + i));
      const sx = f32x4.div(f32x4.add(f32x4.mul(px, f32x4.splat(a)), f32x4.splat(b * line + c)), w), sy = f32x4.div(f32x4.add(f32x4.mul(px, f32x4.splat(d)), f32x4.splat(e * line + f)), w);
      const inside = v128.and(v128.and(v128.and(f32x4.ge(sx, begin), f32x4.le(sx, endX)), v128.and(f32x4.ge(sy, begin), f32x4.le(sy, endY))), f32x4.gt(w, zero));
      const rx = within(f32x4.sub(sx, half), width, false), ry = within(f32x4.sub(sy, half), height, false);
      if (v128.any_true(inside)) {
        if (cubic) fourCubic(src, width, height, rx, ry, o, some);
        else fourStraight(src, width, height, rx, ry, o, some);
        if (soft) {
          const cover = f32x4.mul(edgeCover(sx, across, part), edgeCover(sy, down, part));
          if (!i32x4.all_true(f32x4.ge(cover, f32x4.splat(1)))) {
            v128.store(seen, cover);
            for (let k = 0; k < some; k++) v128.store(o + (<usize>k << 4), f32x4.mul(v128.load(o + (<usize>k << 4)), v128.load32_splat(seen + (<usize>k << 2))));
          }
        }
      }
      if (!i32x4.all_true(inside)) {
        v128.store(seen, inside);
        for (let k = 0; k < some; k++) if (!load<i32>(seen + (<usize>k << 2))) v128.store(o + (<usize>k << 4), zero);
      }
    }
  }
}

/** Whether six numbers of an affine map only shift. */
@inline
function isShift(map: usize): bool {
  return load<f32>(map) == 1 && load<f32>(map, 4) == 0 && load<f32>(map, 12) == 0 && load<f32>(map, 16) == 1;
}
/** A pixel of a row that is seen shifted: between two rows by `ty` and two columns by `tx`. `a` and `b` are where the row's first would lie in either; `k` is how far on this one lies, bytes. */
@inline
function shiftedPixel(a: usize, b: usize, tx: v128, ty: v128, k: usize): v128 {
  const l = v128.load(a + k), r = v128.load(a + k, 16), left = f32x4.add(l, f32x4.mul(f32x4.sub(v128.load(b + k), l), ty)), right = f32x4.add(r, f32x4.mul(f32x4.sub(v128.load(b + k, 16), r), ty));
  return f32x4.add(left, f32x4.mul(f32x4.sub(right, left), tx));
}
/** averageMoved for two shifts, where both of four neighbouring pixels lie within a row; gives the first column from which that is no longer so, and begins with `x`. */
@inline
function shiftedRow(src: usize, maps: usize, o: usize, x: i32, y: i32, width: i32, height: i32): i32 {
  const c = load<f32>(maps, 8), d = load<f32>(maps, 32), f = load<f32>(maps, 20), g = load<f32>(maps, 44), rowBytes: usize = <usize>width << 4, half = f32x4.splat(0.5);
  const fx = floor<f32>(c), gx = floor<f32>(d), cx = <i32>fx, dx = <i32>gx, fy: f32 = max<f32>(0, min<f32>(<f32>(height - 1), <f32>y + f)), gy: f32 = max<f32>(0, min<f32>(<f32>(height - 1), <f32>y + g)), cy = <i32>fy, dy = <i32>gy;
  const tx = f32x4.splat(c - fx), ux = f32x4.splat(d - gx), ty = f32x4.splat(fy - <f32>cy), uy = f32x4.splat(gy - <f32>dy), end = width - 4 - max(0, max(cx, dx) + 1);
  const a = src + <usize>cy * rowBytes + (<usize>cx << 4), b = src + <usize>min(height - 1, cy + 1) * rowBytes + (<usize>cx << 4), e = src + <usize>dy * rowBytes + (<usize>dx << 4), h = src + <usize>min(height - 1, dy + 1) * rowBytes + (<usize>dx << 4);
  if (x + min(cx, dx) < 0) return x;
  // Along a row nothing lies between two of them.
  if (fy == <f32>cy && gy == <f32>dy)
    for (; x <= end; x += 4)
      for (let k = <usize>x << 4, last = k + 64; k < last; k += 16) {
        const p = v128.load(a + k), q = v128.load(e + k);
        v128.store(o + k, f32x4.mul(half, f32x4.add(f32x4.add(p, f32x4.mul(f32x4.sub(v128.load(a + k, 16), p), tx)), f32x4.add(q, f32x4.mul(f32x4.sub(v128.load(e + k, 16), q), ux)))));
      }
  else
    for (; x <= end; x += 4)
      for (let k = <usize>x << 4, last = k + 64; k < last; k += 16) v128.store(o + k, f32x4.mul(half, f32x4.add(shiftedPixel(a, b, tx, ty, k), shiftedPixel(e, h, ux, uy, k))));
  return x;
}

/**
 * Mean of the picture seen through an affine map and through its inverse: one step of a directional blur (map: a shift), of a zoom blur (a
 * scaling) or a spin (a turn). Repeated with half the movement each time, the steps multiply to an even line of samples. `maps` is twice six
 * floats a b c d e f: x' = a x + b y + c, y' = d x + e y + f in pixel coordinates (centres at +0.5); edges hold.
 */
export function averageMoved(src: usize, maps: usize, out: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const lanes = f32x4(0.5, 1.5, 2.5, 3.5), half = f32x4.splat(0.5), pair = scratchAt() + 128, shifts = isShift(maps) && isShift(maps + 24), inner = shifts ? (<i32>max<f32>(0, ceil<f32>(-min(load<f32>(maps, 8), load<f32>(maps, 32)))) + 3) & ~3 : 0;
  for (let y = y0; y < y1; y++) {
    const line: f32 = <f32>y + 0.5;
    for (let x = 0; x < width; x += 4) {
      // A shift is the same for all of a row but its ends.
      if (shifts && x == inner) x = shiftedRow(src, maps, out + (<usize>(y * width) << 4), x, y, width, height);
      if (x >= width) break;
      const some = min(4, width - x), px = f32x4.add(f32x4.splat(<f32>x), lanes);
      let o = out + (<usize>(y * width + x) << 4);
      for (let k: usize = 0; k < 2; k++) {
        const m = maps + k * 24;
        const sx = f32x4.add(f32x4.mul(px, f32x4.splat(load<f32>(m))), f32x4.splat(load<f32>(m, 4) * line + load<f32>(m, 8)));
        const sy = f32x4.add(f32x4.mul(px, f32x4.splat(load<f32>(m, 12))), f32x4.splat(load<f32>(m, 16) * line + load<f32>(m, 20)));
        fourStraight(src, width, height, within(f32x4.sub(sx, half), width, false), within(f32x4.sub(sy, half), height, false), pair + (k << 6), some);
      }
      for (let k = 0; k < some; k++) {
        const at = pair + (<usize>k << 4);
        v128.store(o, f32x4.mul(half, f32x4.add(v128.load(at), v128.load(at, 64))));
        o += 16;
      }
    }
  }
}

/** The slope of a soft plane at four pixels, held: `k` times the step from the one before to the one after. */
@inline
function heldSlope(before: v128, after: v128, k: v128, most: v128): v128 {
  return f32x4.pmax(f32x4.neg(most), f32x4.pmin(most, f32x4.mul(k, f32x4.sub(after, before))));
}
/**
 * Displacement by the slopes of a soft plane: `k` times the step over two pixels, along each axis, within `strength`; it fades out to a radius about the middle (0: nowhere). Edges hold. Bands are rows.
 */
export function slopeField(soft: usize, middleX: f32, middleY: f32, radius: f32, k: f32, strength: f32, dx: usize, dy: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const round: f32 = radius > 0 ? 1 / (radius * radius) : 0, one = f32x4.splat(1), zero = f32x4.splat(0), lanes = f32x4(0.5, 1.5, 2.5, 3.5), by = f32x4.splat(k), most = f32x4.splat(strength), line = scratchAt() + 16;
  for (let y = y0; y < y1; y++) {
    const row = soft + (<usize>(y * width) << 2), above = soft + (<usize>(max(0, y - 1) * width) << 2), below = soft + (<usize>(min(height - 1, y + 1) * width) << 2), away: f32 = <f32>y + 0.5 - middleY;
    memory.copy(line, row, <usize>width << 2);
    store<f32>(line - 4, load<f32>(row));
    store<f32>(line + (<usize>width << 2), load<f32>(row + (<usize>(width - 1) << 2)));
    for (let x = 0; x < width; x += 4) {
      const at: usize = <usize>x << 2, to = (<usize>(y * width) << 2) + at, px = f32x4.sub(f32x4.add(f32x4.splat(<f32>x), lanes), f32x4.splat(middleX));
      const near = f32x4.pmax(zero, f32x4.sub(one, f32x4.mul(f32x4.add(f32x4.mul(px, px), f32x4.splat(away * away)), f32x4.splat(round)))), fade = f32x4.mul(near, near), some = width - x;
      storeSome(dx + to, f32x4.mul(fade, heldSlope(v128.load(line + at - 4), v128.load(line + at + 4), by, most)), some);
      storeSome(dy + to, f32x4.mul(fade, heldSlope(v128.load(above + at), v128.load(below + at), by, most)), some);
    }
  }
}

/** Displacements that show a picture through a homography: dx(x, y) = H(x, y) - (x, y), pixel centres at +0.5. `matrix` is 9 floats by rows that take a pixel of the result to the source. */
export function fieldOfMap(matrix: usize, dx: usize, dy: usize, width: i32, y0: i32, y1: i32): void {
  const lanes = f32x4(0.5, 1.5, 2.5, 3.5), a = v128.load32_splat(matrix), d = v128.load32_splat(matrix, 12), g = v128.load32_splat(matrix, 24);
  for (let y = y0; y < y1; y++) {
    const line: f32 = <f32>y + 0.5, py = f32x4.splat(line), bc = f32x4.splat(load<f32>(matrix, 4) * line + load<f32>(matrix, 8)), ef = f32x4.splat(load<f32>(matrix, 16) * line + load<f32>(matrix, 20)), hi = f32x4.splat(load<f32>(matrix, 28) * line + load<f32>(matrix, 32));
    for (let x = 0; x < width; x += 4) {
      const px = f32x4.add(f32x4.splat(<f32>x), lanes), w = f32x4.add(f32x4.mul(px, g), hi), at: usize = <usize>(y * width + x) << 2, some = width - x;
      storeSome(dx + at, f32x4.sub(f32x4.div(f32x4.add(f32x4.mul(px, a), bc), w), px), some);
      storeSome(dy + at, f32x4.sub(f32x4.div(f32x4.add(f32x4.mul(px, d), ef), w), py), some);
    }
  }
}

/** Displacement of rising air: two grids of wobble (`step` pixels apart) read between their points, times a strength that fades out to a radius. */
export function spreadWobble(gridX: usize, gridY: usize, columns: i32, step: i32, middleX: f32, middleY: f32, radius: f32, strength: f32, dx: usize, dy: usize, width: i32, y0: i32, y1: i32): void {
  // A row of both grids, pair by pair; then for each pixel the address of its pair and its part of the way to the next one.
  const part: f32 = 1 / <f32>step, round: f32 = radius > 0 ? 1 / (radius * radius) : 0, one = f32x4.splat(1), zero = f32x4.splat(0), lanes = f32x4(0.5, 1.5, 2.5, 3.5), line = scratchAt(), places = line + (<usize>columns << 3), parts = places + (<usize>(width + 4) << 2);
  for (let x = 0; x < width + 3; x++) {
    const g: f32 = <f32>min(x, width - 1) * part, i = <i32>g;
    store<i32>(places + (<usize>x << 2), i << 3);
    store<f32>(parts + (<usize>x << 2), g - <f32>i);
  }
  for (let y = y0; y < y1; y++) {
    const gy: f32 = <f32>y * part, j = <i32>gy, w: f32 = gy - <f32>j, row = <usize>(j * columns) << 2, next = <usize>columns << 2;
    for (let i = 0; i < columns; i++) {
      const at = row + (<usize>i << 2), a = load<f32>(gridX + at), b = load<f32>(gridY + at);
      store<f32>(line + (<usize>i << 3), a + (load<f32>(gridX + at + next) - a) * w);
      store<f32>(line + (<usize>i << 3), b + (load<f32>(gridY + at + next) - b) * w, 4);
    }
    const away: f32 = <f32>y + 0.5 - middleY;
    for (let x = 0; x < width; x += 4) {
      const at: usize = <usize>(y * width + x) << 2, some = width - x, place = places + (<usize>x << 2), u = v128.load(parts + (<usize>x << 2));
      const px = f32x4.sub(f32x4.add(f32x4.splat(<f32>x), lanes), f32x4.splat(middleX)), squared = f32x4.add(f32x4.mul(px, px), f32x4.splat(away * away));
      const fall = f32x4.pmax(zero, f32x4.sub(one, f32x4.mul(squared, f32x4.splat(round)))), amount = f32x4.mul(f32x4.mul(fall, fall), f32x4.splat(strength));
      const p = v128.load(line + load<u32>(place)), q = v128.load(line + load<u32>(place, 4)), r = v128.load(line + load<u32>(place, 8)), s = v128.load(line + load<u32>(place, 12));
      // Each of them holds x, y of a point and x, y of the next one.
      const pq = v128.shuffle<f32>(p, q, 0, 4, 1, 5), rs = v128.shuffle<f32>(r, s, 0, 4, 1, 5), pqn = v128.shuffle<f32>(p, q, 2, 6, 3, 7), rsn = v128.shuffle<f32>(r, s, 2, 6, 3, 7);
      const ax = v128.shuffle<f32>(pq, rs, 0, 1, 4, 5), ay = v128.shuffle<f32>(pq, rs, 2, 3, 6, 7), bx = v128.shuffle<f32>(pqn, rsn, 0, 1, 4, 5), by = v128.shuffle<f32>(pqn, rsn, 2, 3, 6, 7);
      storeSome(dx + at, f32x4.mul(f32x4.add(ax, f32x4.mul(f32x4.sub(bx, ax), u)), amount), some);
      storeSome(dy + at, f32x4.mul(f32x4.add(ay, f32x4.mul(f32x4.sub(by, ay), u)), amount), some);
    }
  }
}
