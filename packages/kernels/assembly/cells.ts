import { scratchAt } from './scratch';

/** A row of pixels as a mean of two rows of a coarse plane's cells, in the working memory: rows are mixed once for all of its pixels. */
@inline
function mixedRow(cells: usize, w: i32, h: i32, y: f32): usize {
  const line = scratchAt(), v = max<f32>(0, min<f32>(<f32>(h - 1), y)), r0 = <i32>v, row = cells + (<usize>(r0 * w) << 2), below = cells + (<usize>(min(h - 1, r0 + 1) * w) << 2), part = f32x4.splat(v - <f32>r0);
  // Up to three numbers past the row are those of the next one, or of the arena's margin; nobody reads what comes of them.
  for (let x = 0; x < w; x += 4) {
    const at: usize = <usize>x << 2, a = v128.load(row + at);
    v128.store(line + at, f32x4.add(a, f32x4.mul(f32x4.sub(v128.load(below + at), a), part)));
  }
  return line;
}
/** What lies between the cells of such a row. */
@inline
function between(line: usize, x: f32, w: i32): f32 {
  const u = max<f32>(0, min<f32>(<f32>(w - 1), x)), x0 = <i32>u, a = load<f32>(line + (<usize>x0 << 2));
  return a + (load<f32>(line + (<usize>min(w - 1, x0 + 1) << 2)) - a) * (u - <f32>x0);
}

/**
 * Adds `amount` times a coarse plane (`w` by `h` cells, each 1 / `step` pixels wide, which begins at the pixel originX originY), read between its cells, to a part of a plane. Bands are
 * rows from `top`.
 */
export function addBetween(cells: usize, w: i32, h: i32, step: f32, amount: f32, out: usize, width: i32, left: i32, right: i32, top: i32, originX: i32, originY: i32, y0: i32, y1: i32): void {
  for (let y = y0 + top; y < y1 + top; y++) {
    const line = mixedRow(cells, w, h, (<f32>(y - originY) + 0.5) * step - 0.5);
    let to = out + (<usize>(y * width + left) << 2);
    for (let x = left; x < right; x++, to += 4) store<f32>(to, load<f32>(to) + amount * between(line, (<f32>(x - originX) + 0.5) * step - 0.5, w));
  }
}

/**
 * Lays black under what a premultiplied picture has, by a coarse plane of what fell there: where that is 0.6 it covers half of `share`. Cells as in addBetween; bands are rows
 * from `top`.
 */
export function shadeUnder(cells: usize, w: i32, h: i32, step: f32, share: f32, out: usize, width: i32, left: i32, right: i32, top: i32, y0: i32, y1: i32): void {
  for (let y = y0 + top; y < y1 + top; y++) {
    const line = mixedRow(cells, w, h, (<f32>y + 0.5) * step - 0.5);
    let to = out + (<usize>(y * width + left) << 4) + 12;
    for (let x = left; x < right; x++, to += 16) {
      const deep = between(line, (<f32>x + 0.5) * step - 0.5, w);
      if (deep <= 0.004) continue;
      const a = load<f32>(to);
      store<f32>(to, a + (1 - a) * share * (deep / (0.6 + deep)));
    }
  }
}

/** Counts the cover of shapes (16 floats each, see flakes.ts) in square cells of a plane that is 0: half of each one's box, in parts of a cell. */
export function countCover(shapes: usize, count: i32, cells: usize, w: i32, h: i32, side: f32): void {
  const per: f32 = 1 / side, whole: f32 = 2 / (side * side);
  for (let i = 0; i < count; i++) {
    const s = shapes + (<usize>i << 6), cover = load<f32>(s, 32), x = <i32>floor<f32>(load<f32>(s) * per), y = <i32>floor<f32>(load<f32>(s, 4) * per);
    if (!(cover > 0) || x < 0 || y < 0 || x >= w || y >= h) continue;
    const at = cells + (<usize>(y * w + x) << 2);
    store<f32>(at, load<f32>(at) + cover * abs<f32>(load<f32>(s, 36)) * load<f32>(s, 40) * whole);
  }
}
/**
 * Darkens shapes by what lies `down` pixels above them in such cells: cover of 0.35 takes half of `share` of the light. What is as bright as 0.9 burns and keeps it. Bands
 * are shapes.
 */
export function shadeCovered(shapes: usize, cells: usize, w: i32, h: i32, side: f32, down: f32, share: f32, i0: i32, i1: i32): void {
  const per: f32 = 1 / side;
  for (let i = i0; i < i1; i++) {
    const s = shapes + (<usize>i << 6), x = <i32>floor<f32>(load<f32>(s) * per), y = <i32>floor<f32>((load<f32>(s, 4) - down) * per);
    if (!(load<f32>(s, 32) > 0) || x < 0 || y < 0 || x >= w || y >= h) continue;
    const lies = load<f32>(cells + (<usize>(y * w + x) << 2)), burns = min<f32>(1, max(max(load<f32>(s, 48), load<f32>(s, 52)), load<f32>(s, 56)) * <f32>(1 / 0.9)), k: f32 = 1 - (share * (1 - burns * burns) * lies) / (lies + 0.35);
    v128.store(s, f32x4.mul(v128.load(s, 48), f32x4(k, k, k, 1)), 48);
  }
}

/**
 * Square roots of a picture's luminance by their share of a body, and that share, in the first two channels of `out`; the others are 0. All are `width` wide; bands are
 * rows.
 */
export function rootsOnBody(picture: usize, matte: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  const end = y1 * width;
  for (let i = y0 * width; i < end; i++) {
    const m = max<f32>(0, min<f32>(1, load<f32>(matte + (<usize>i << 2)))), p = v128.load(picture + (<usize>i << 4));
    let root: f32 = 0;
    if (m > 0) root = m * sqrt<f32>(max<f32>(0, 0.2126 * f32x4.extract_lane(p, 0) + 0.7152 * f32x4.extract_lane(p, 1) + 0.0722 * f32x4.extract_lane(p, 2)));
    v128.store(out + (<usize>i << 4), f32x4(root, m, 0, 0));
  }
}
/**
 * How much brighter cells of a body are than what is around it there: of two such pictures, blurred by little and by much. 0 beside the body. What the squares of a row add up to, and
 * how many cells it has, stand in `sums`, two floats a row. Bands are rows.
 */
export function brighterThanAround(fine: usize, around: usize, matte: usize, out: usize, sums: usize, width: i32, y0: i32, y1: i32): void {
  for (let y = y0; y < y1; y++) {
    let squares: f32 = 0, n: f32 = 0;
    for (let x = 0; x < width; x++) {
      const i = <usize>(y * width + x);
      let v: f32 = 0;
      if (load<f32>(matte + (i << 2)) > 0.05) {
        const f = fine + (i << 4), a = around + (i << 4);
        v = load<f32>(f) / max<f32>(0.02, load<f32>(f, 4)) - load<f32>(a) / max<f32>(0.02, load<f32>(a, 4));
        squares += v * v;
        n += 1;
      }
      store<f32>(out + (i << 2), v);
    }
    store<f32>(sums + (<usize>y << 3), squares);
    store<f32>(sums + (<usize>y << 3), n, 4);
  }
}
/** Squeezes a plane between -1 and 1, in place: v / (|v| + deviation). Bands are rows. */
export function squeeze(plane: usize, deviation: f32, width: i32, y0: i32, y1: i32): void {
  const end = y1 * width, d = f32x4.splat(deviation);
  let i = y0 * width;
  for (; i + 4 <= end; i += 4) {
    const v = v128.load(plane + (<usize>i << 2));
    v128.store(plane + (<usize>i << 2), f32x4.div(v, f32x4.add(f32x4.abs(v), d)));
  }
  for (; i < end; i++) {
    const v = load<f32>(plane + (<usize>i << 2));
    store<f32>(plane + (<usize>i << 2), v / (abs<f32>(v) + deviation));
  }
}
