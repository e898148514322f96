/*
 * Light that falls on what stands behind a body, by cells (see core/matte/thrownLight.ts). `a` and `b` are square roots of light of the plate and of the clean plate, in three planes one after
 * another. `light` is RGBA for each cell: by how much the plate's root is the clean plate's in r g b, and what is known of it: 1 where nothing stands; 2 where structure is seen in
 * another light, more by 1 for each step that light was followed from there; 0 where nobody knows, below 0 where the cell waits to be looked at.
 */

/** Cells to each side that foretell one. */
const REACH = 2;
/** The clean plate's light (squares of its roots) at which half of what a cell says is believed: the ratio of two dark places is noise. */
const DARK: f32 = 0.02;
/** How surely structure must be seen in a cell for it to begin light. */
const SEEN: f32 = 0.3;

@inline
function rgbOf(planes: usize, n: usize, p: usize): v128 {
  return f32x4(load<f32>(planes + (p << 2)), load<f32>(planes + ((n + p) << 2)), load<f32>(planes + ((2 * n + p) << 2)), 0);
}
@inline
function sumOf(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2);
}

/**
 * The ratio of `a` to `b` in each of `n` cells, with how far it is believed in the fourth number; and a first `light`: 1 where `mask` is below 0.5 and `zs`, by how much a cell differs once grey light is made good,
 * is below `within`; 2 where it differs more and yet the clean plate's structure is seen; unknown elsewhere.
 */
export function lightRatios(a: usize, b: usize, mask: usize, zs: usize, surely: usize, within: f32, ratios: usize, light: usize, n: i32): void {
  const least = f32x4.splat(1e-3), ones = f32x4.splat(1), all = <usize>n;
  for (let p: usize = 0; p < all; p++) {
    const behind = rgbOf(b, all, p), square = sumOf(f32x4.mul(behind, behind)), trust = square / (square + DARK), at = p << 2, to = p << 4;
    const state: f32 = load<f32>(zs + at) < within ? (load<f32>(mask + at) <= 0.5 ? 1 : 0) : load<f32>(surely + at) > SEEN ? 2 : 0;
    v128.store(ratios + to, f32x4.replace_lane(f32x4.div(rgbOf(a, all, p), f32x4.pmax(least, behind)), 3, trust * trust));
    v128.store(light + to, f32x4.replace_lane(ones, 3, state));
  }
}

/** The light that the known cells about one foretell there: the value of the plane that fits their ratios best; its fourth number is 0 where too few are known. `needed` is a share of them. */
@inline
function foretold(ratios: usize, light: usize, x: i32, y: i32, needed: f32, slope: f32, width: i32, height: i32): v128 {
  const y0 = max(0, y - REACH), y1 = min(height - 1, y + REACH), x0 = max(0, x - REACH), x1 = min(width - 1, x + REACH);
  let known = 0, w0: f32 = 0, wy: f32 = 0, wx: f32 = 0, yy: f32 = 0, xy: f32 = 0, xx: f32 = 0, r0 = f32x4.splat(0), ry = r0, rx = r0;
  for (let j = y0; j <= y1; j++)
    for (let i = x0; i <= x1; i++) {
      const q: usize = <usize>(j * width + i) << 4;
      if (!(load<f32>(light + q, 12) > 0)) continue;
      const dy = <f32>(j - y), dx = <f32>(i - x), ratio = v128.load(ratios + q), w: f32 = f32x4.extract_lane(ratio, 3) / (dy * dy + dx * dx + 1), r = f32x4.mul(ratio, f32x4.splat(w));
      known++;
      w0 += w;
      wy += w * dy;
      wx += w * dx;
      yy += w * dy * dy;
      xy += w * dx * dy;
      xx += w * dx * dx;
      r0 = f32x4.add(r0, r);
      ry = f32x4.add(ry, f32x4.mul(r, f32x4.splat(dy)));
      rx = f32x4.add(rx, f32x4.mul(r, f32x4.splat(dx)));
    }
  if (<f32>known < needed * <f32>((y1 - y0 + 1) * (x1 - x0 + 1)) || w0 < 1e-4) return f32x4.splat(0);
  // Slopes cost a little, so that few cells do not lean far; the first row of the inverse gives the value here.
  yy += slope * w0;
  xx += slope * w0;
  const c0 = yy * xx - xy * xy, cy = wx * xy - wy * xx, cx = wy * xy - wx * yy, all = w0 * c0 + wy * cy + wx * cx;
  if (all < 1e-12) return f32x4.splat(0);
  const fit = f32x4.mul(f32x4.add(f32x4.mul(r0, f32x4.splat(c0)), f32x4.add(f32x4.mul(ry, f32x4.splat(cy)), f32x4.mul(rx, f32x4.splat(cx)))), f32x4.splat(<f32>1 / all));
  return f32x4.replace_lane(f32x4.pmax(fit, f32x4.splat(0)), 3, 1);
}
/** Whether the plate is the clean plate in a light there: within so many deviations of the grain, more where the clean plate's structure is still seen, less where it is gone. */
@inline
function fits(a: usize, b: usize, structure: usize, like: usize, part: v128, within: f32, light: v128, p: usize, n: usize): bool {
  const has = load<f32>(structure + (p << 2)), alike = load<f32>(like + (p << 2)), seen: f32 = has * max<f32>(0, 2 * alike - 1), gone: f32 = has * max<f32>(0, 1 - <f32>1.6 * max<f32>(0, alike));
  const d = f32x4.mul(f32x4.sub(rgbOf(a, n, p), f32x4.mul(light, rgbOf(b, n, p))), part), most: f32 = within * (1 + seen) * (1 - gone);
  return sumOf(f32x4.mul(d, d)) <= most * most;
}
/** Whether it is so in the share `agree` of the cells about one that nobody knows yet: a body's outline is not crossed where it happens to be like what is behind it. */
@inline
function agreed(a: usize, b: usize, structure: usize, like: usize, part: v128, within: f32, fit: v128, light: usize, x: i32, y: i32, agree: f32, width: i32, height: i32): bool {
  let unknown: f32 = 0, as: f32 = 0;
  for (let j = max(0, y - REACH), y1 = min(height - 1, y + REACH); j <= y1; j++)
    for (let i = max(0, x - REACH), x1 = min(width - 1, x + REACH); i <= x1; i++) {
      const q = j * width + i;
      if (load<f32>(light + (<usize>q << 4), 12) > 0) continue;
      unknown += 1;
      if (fits(a, b, structure, like, part, within, fit, q, width * height)) as += 1;
    }
  return as >= agree * unknown;
}
/** Steps from where structure is seen to a cell, by the cells that touch it; 0 where none of them is lit. */
@inline
function stepsTo(light: usize, x: i32, y: i32, width: i32, height: i32): f32 {
  let least: f32 = 1e6;
  for (let j = max(0, y - 1), y1 = min(height - 1, y + 1); j <= y1; j++)
    for (let i = max(0, x - 1), x1 = min(width - 1, x + 1); i <= x1; i++) {
      const state = load<f32>(light + (<usize>(j * width + i) << 4), 12);
      if (state >= 2) least = min<f32>(least, state - 1);
    }
  return least < 1e6 ? least : 0;
}
/** Puts the unknown cells within reach of one behind what waits. */
@inline
function wait(light: usize, queue: usize, last: i32, x: i32, y: i32, reach: i32, width: i32, height: i32): i32 {
  const n = width * height;
  for (let j = max(0, y - reach), y1 = min(height - 1, y + reach); j <= y1; j++)
    for (let i = max(0, x - reach), x1 = min(width - 1, x + reach); i <= x1; i++) {
      const q = j * width + i, state = light + (<usize>q << 4);
      if (load<f32>(state, 12) != 0) continue;
      store<f32>(state, -1, 12);
      store<i32>(queue + (<usize>last << 2), q);
      last = last + 1 == n ? 0 : last + 1;
    }
  return last;
}
/**
 * Follows light from cells where structure is seen in it into those beside them, `parts[7]` steps at the most and as far as the plate is the clean plate in a light that goes on as it began: within `parts[3]` deviations of the grain (one over
 * it: parts 0 to 2) of what the plane through the known cells foretells, more where the clean plate's structure is still seen, less where it is gone. At least the share `parts[4]` of the cells about one
 * must be known, the share `parts[6]` of the others must agree, and slopes cost `parts[5]`. `queue` has room for a number of each cell. Gives how many cells were reached.
 */
export function growLight(a: usize, b: usize, structure: usize, like: usize, parts: usize, ratios: usize, light: usize, queue: usize, width: i32, height: i32): i32 {
  const n: usize = width * height, part = f32x4(load<f32>(parts), load<f32>(parts, 4), load<f32>(parts, 8), 0), within = load<f32>(parts, 12), needed = load<f32>(parts, 16), slope = load<f32>(parts, 20), agree = load<f32>(parts, 24), furthest = load<f32>(parts, 28);
  let first = 0, last = 0, reached = 0;
  // Where the clean plate's structure is seen, the cells about tell the light.
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at: usize = <usize>(y * width + x) << 4;
      if (load<f32>(light + at, 12) != 2) continue;
      reached++;
      const fit = foretold(ratios, light, x, y, 0, slope, width, height);
      if (f32x4.extract_lane(fit, 3) != 0) v128.store(light + at, f32x4.replace_lane(fit, 3, 2));
    }
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) if (load<f32>(light + (<usize>(y * width + x) << 4), 12) == 0 && stepsTo(light, x, y, width, height) > 0) last = wait(light, queue, last, x, y, 0, width, height);
  while (first != last) {
    const p = load<i32>(queue + (<usize>first << 2)), y = p / width, x = p - y * width, at: usize = <usize>p << 4;
    first = first + 1 == <i32>n ? 0 : first + 1;
    store<f32>(light + at, 0, 12);
    const steps = stepsTo(light, x, y, width, height);
    if (steps == 0 || steps > furthest) continue;
    const fit = foretold(ratios, light, x, y, needed, slope, width, height);
    if (f32x4.extract_lane(fit, 3) == 0) continue;
    if (!fits(a, b, structure, like, part, within, fit, p, n) || !agreed(a, b, structure, like, part, within, fit, light, x, y, agree, width, height)) continue;
    v128.store(light + at, f32x4.replace_lane(fit, 3, 2 + steps));
    reached++;
    last = wait(light, queue, last, x, y, REACH, width, height);
  }
  return reached;
}

/** Carries light so many cells into where nobody knows it, each the mean of the known ones about it; `light` holds 1 beyond. `found` is working memory: a number for each cell. */
export function spreadLight(light: usize, found: usize, rounds: i32, width: i32, height: i32): void {
  for (let round = 0; round < rounds; round++) {
    let count: usize = 0;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const p = y * width + x, at: usize = <usize>p << 4;
        if (load<f32>(light + at, 12) > 0) continue;
        let sum = f32x4.splat(0);
        for (let j = max(0, y - 1), y1 = min(height - 1, y + 1); j <= y1; j++)
          for (let i = max(0, x - 1), x1 = min(width - 1, x + 1); i <= x1; i++) {
            const v = v128.load(light + (<usize>(j * width + i) << 4));
            if (f32x4.extract_lane(v, 3) > 0) sum = f32x4.add(sum, f32x4.replace_lane(v, 3, 1));
          }
        const near = f32x4.extract_lane(sum, 3);
        if (near == 0) continue;
        // Known only from the next round on.
        v128.store(light + at, f32x4.replace_lane(f32x4.mul(sum, f32x4.splat(<f32>1 / near)), 3, 0));
        store<i32>(found + (count << 2), p);
        count++;
      }
    for (let k: usize = 0; k < count; k++) store<f32>(light + (<usize>load<i32>(found + (k << 2)) << 4), 1, 12);
  }
}

/** Lays the light of each of `n` cells on the clean plate's roots `b`, into `out`. */
export function lightPlanes(b: usize, light: usize, out: usize, n: i32): void {
  for (let p: usize = 0, all = <usize>n; p < all; p++) {
    const lit = f32x4.mul(rgbOf(b, all, p), v128.load(light + (p << 4)));
    store<f32>(out + (p << 2), f32x4.extract_lane(lit, 0));
    store<f32>(out + ((all + p) << 2), f32x4.extract_lane(lit, 1));
    store<f32>(out + ((2 * all + p) << 2), f32x4.extract_lane(lit, 2));
  }
}
/** Lays the light of cells of 4 pixels on roots of listed pixels (`at`, of a picture so wide), between the middles of cells along straight lines. In place; bands are of the list. */
export function lightEdge(roots: usize, at: usize, light: usize, cells: i32, rows: i32, width: i32, k0: i32, k1: i32): void {
  for (let k = k0; k < k1; k++) {
    const p = load<i32>(at + (<usize>k << 2)), y = p / width, fx: f32 = max<f32>(0, min<f32>(<f32>(cells - 1), (<f32>(p - y * width) - <f32>1.5) * <f32>0.25)), fy: f32 = max<f32>(0, min<f32>(<f32>(rows - 1), (<f32>y - <f32>1.5) * <f32>0.25));
    const i = <i32>fx, j = <i32>fy, tx = f32x4.splat(fx - <f32>i), ty = f32x4.splat(fy - <f32>j), right: usize = i + 1 < cells ? 16 : 0, down: usize = j + 1 < rows ? <usize>cells << 4 : 0, from = light + (<usize>(j * cells + i) << 4), to = roots + (<usize>k << 4);
    const above = between(v128.load(from), v128.load(from + right), tx), under = between(v128.load(from + down), v128.load(from + down + right), tx);
    v128.store(to, f32x4.mul(v128.load(to), between(above, under, ty)));
  }
}
@inline
function between(a: v128, b: v128, t: v128): v128 {
  return f32x4.add(a, f32x4.mul(f32x4.sub(b, a), t));
}
