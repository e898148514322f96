import { scratchAt } from './scratch';

/*
 * Fine structure of a plate and of its clean plate, by cells of 4 by 4 pixels (see core/matte/bodyCells.ts): how their square roots of light vary within each cell, and how far they do so together.
 */

@inline
function sumOf(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3));
}
/** Square roots of the green light of four pixels. */
@inline
function greenRoots(a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.sqrt(f32x4.pmax(f32x4.splat(0), v128.shuffle<f32>(v128.shuffle<f32>(a, b, 1, 5, 1, 5), v128.shuffle<f32>(c, d, 1, 5, 1, 5), 0, 1, 4, 5)));
}
@inline
function fourOf(a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.add(f32x4.add(a, b), f32x4.add(c, d));
}
/**
 * A quarter of the size of two RGBA pictures of one size, as `quarter` gives it, and for each cell the variance of the first one's square roots of green light, of the second one's, and their covariance
 * (`varied`, RGBA; the fourth number is 0), of its first and third row: they tell as much of it as all four. Edge pixels go on. Bands are rows of cells.
 */
export function quarterPair(plate: usize, clean: usize, small: usize, behind: usize, varied: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const w = (width + 3) >> 2, part = f32x4.splat(0.0625), each: f32 = 0.125;
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < w; x++) {
      // Where pixels of the four columns and the four rows stand.
      const c0: usize = <usize>(4 * x) << 4, c1 = <usize>min(width - 1, 4 * x + 1) << 4, c2 = <usize>min(width - 1, 4 * x + 2) << 4, c3 = <usize>min(width - 1, 4 * x + 3) << 4;
      let a = f32x4.splat(0), b = a, ra = a, rb = a, aa = a, bb = a, ab = a;
      for (let j = 0; j < 4; j += 2) {
        const row: usize = <usize>(min(height - 1, 4 * y + j) * width) << 4, next: usize = <usize>(min(height - 1, 4 * y + j + 1) * width) << 4, p = plate + row, q = clean + row, pn = plate + next, qn = clean + next;
        const p0 = v128.load(p + c0), p1 = v128.load(p + c1), p2 = v128.load(p + c2), p3 = v128.load(p + c3), q0 = v128.load(q + c0), q1 = v128.load(q + c1), q2 = v128.load(q + c2), q3 = v128.load(q + c3), u = greenRoots(p0, p1, p2, p3), v = greenRoots(q0, q1, q2, q3);
        a = f32x4.add(a, f32x4.add(fourOf(p0, p1, p2, p3), fourOf(v128.load(pn + c0), v128.load(pn + c1), v128.load(pn + c2), v128.load(pn + c3))));
        b = f32x4.add(b, f32x4.add(fourOf(q0, q1, q2, q3), fourOf(v128.load(qn + c0), v128.load(qn + c1), v128.load(qn + c2), v128.load(qn + c3))));
        ra = f32x4.add(ra, u);
        rb = f32x4.add(rb, v);
        aa = f32x4.add(aa, f32x4.mul(u, u));
        bb = f32x4.add(bb, f32x4.mul(v, v));
        ab = f32x4.add(ab, f32x4.mul(u, v));
      }
      const to: usize = <usize>(y * w + x) << 4, ma: f32 = sumOf(ra) * each, mb: f32 = sumOf(rb) * each;
      v128.store(small + to, f32x4.mul(part, a));
      v128.store(behind + to, f32x4.mul(part, b));
      v128.store(varied + to, f32x4(max<f32>(0, sumOf(aa) * each - ma * ma), max<f32>(0, sumOf(bb) * each - mb * mb), sumOf(ab) * each - ma * mb, 0));
    }
}
/**
 * How surely the clean plate's fine structure is seen about each cell, 0..1, in whatever light: how much of it there is against grain, in squares of five cells of `varied`, and whether what the plate has goes with it.
 * `noise` is the variance of the grain within a cell. Bands are rows.
 */
export function seenStructure(varied: usize, noise: f32, seen: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  // A line of sums down, with two empty places before and behind it.
  const line = scratchAt() + 32, row: usize = <usize>width << 4;
  memory.fill(scratchAt(), 0, row + 64);
  for (let y = y0; y < y1; y++) {
    const from = max(0, y - 2), to = min(height - 1, y + 2);
    for (let x: usize = 0; x < row; x += 16) {
      let sum = v128.load(varied + <usize>from * row + x);
      for (let j = from + 1; j <= to; j++) sum = f32x4.add(sum, v128.load(varied + <usize>j * row + x));
      v128.store(line + x, sum);
    }
    for (let x = 0; x < width; x++) {
      const at = line + (<usize>x << 4), sum = f32x4.add(f32x4.add(f32x4.add(v128.load(at - 32), v128.load(at - 16)), f32x4.add(v128.load(at, 16), v128.load(at, 32))), v128.load(at));
      const k: f32 = <f32>1 / <f32>((to - from + 1) * (min(width - 1, x + 2) - max(0, x - 2) + 1)), vb: f32 = f32x4.extract_lane(sum, 1) * k, both: f32 = f32x4.extract_lane(sum, 2) * k, own = seen + (<usize>(y * width + x) << 2);
      // Most of a picture: nothing goes together.
      if (!(both > 0)) {
        store<f32>(own, 0);
        continue;
      }
      const over = vb / noise, alike: f32 = both / sqrt<f32>(max<f32>(f32x4.extract_lane(sum, 0) * k, <f32>0.3 * vb) * vb + noise * noise);
      store<f32>(own, (over / (over + 3)) * max<f32>(0, min<f32>(1, (alike - <f32>0.6) * (<f32>1 / <f32>0.3))));
    }
  }
}
