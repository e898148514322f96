import { exp4 } from './curves';

/*
 * The edge of a body by pixels: those of open cells (4 by 4) stand in a list, `at`, and `index` says for each pixel of the picture where it stands there, below 0 where it does not. Those whose
 * column and row add up to an even number come first, so that neighbours are never worked on together.
 */

/** Lists the pixels of open cells, and gives how many there are. */
export function listOpen(open: usize, cells: i32, at: usize, index: usize, width: i32, height: i32): i32 {
  let m = 0;
  memory.fill(index, 0xff, <usize>(width * height) << 2);
  for (let odd = 0; odd < 2; odd++)
    for (let y = 0; y < height; y++)
      for (let q = 0, row = open + (<usize>((y >> 2) * cells) << 2); q < cells; q++) {
        if (!(load<f32>(row + (<usize>q << 2)) > 0)) continue;
        for (let x = 4 * q + ((y + odd) & 1), end = min(width, 4 * q + 4); x < end; x += 2) {
          store<i32>(at + (<usize>m << 2), y * width + x);
          store<i32>(index + (<usize>(y * width + x) << 2), m);
          m++;
        }
      }
  return m;
}

/** Square roots of listed pixels' light, as a mean of each with its four neighbours against grain, times a gain of each channel (3 floats): RGBA. Bands are of the list. */
export function edgeRoots(picture: usize, at: usize, gains: usize, out: usize, width: i32, height: i32, k0: i32, k1: i32): void {
  const gain = f32x4(load<f32>(gains), load<f32>(gains, 4), load<f32>(gains, 8), 0), zero = f32x4.splat(0), last = width * height - width, row: usize = <usize>width << 4;
  for (let k = k0; k < k1; k++) {
    const p = load<i32>(at + (<usize>k << 2)), x = p % width, from = picture + (<usize>p << 4);
    let sum = f32x4.sqrt(f32x4.pmax(zero, v128.load(from))), count: f32 = 1;
    if (x > 0) {
      sum = f32x4.add(sum, f32x4.sqrt(f32x4.pmax(zero, v128.load(from - 16))));
      count += 1;
    }
    if (x + 1 < width) {
      sum = f32x4.add(sum, f32x4.sqrt(f32x4.pmax(zero, v128.load(from, 16))));
      count += 1;
    }
    if (p >= width) {
      sum = f32x4.add(sum, f32x4.sqrt(f32x4.pmax(zero, v128.load(from - row))));
      count += 1;
    }
    if (p < last) {
      sum = f32x4.add(sum, f32x4.sqrt(f32x4.pmax(zero, v128.load(from + row))));
      count += 1;
    }
    v128.store(out + (<usize>k << 4), f32x4.mul(f32x4.mul(sum, gain), f32x4.splat(<f32>1 / count)));
  }
}

@inline
function sumOf(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2);
}
/** The squares of the steps between two places, in deviations, less what the clean plate has there, as far as it has the same. */
@inline
function stepsTo(a: v128, b: v128, roots: usize, clean: usize, j: i32, part: v128): f32 {
  const to: usize = <usize>j << 4, own = f32x4.sub(a, v128.load(roots + to)), off = f32x4.sub(own, f32x4.sub(b, v128.load(clean + to))), d = f32x4.mul(v128.bitselect(off, own, f32x4.lt(f32x4.abs(off), f32x4.abs(own))), part);
  return sumOf(f32x4.mul(d, d));
}

/**
 * What each listed pixel says (`said`, times its `weight`), and what holds it to the one on its right and the one below. Its first value, in the picture `u`, is what it says. `parts` is 18 floats: one over the grain of
 * r g b; darkest and brightest change of light that still is light; 1 / (2 parts²); the least link and how strong one is beside that; the shares of the body's contrast between which a
 * pixel is half body; deviations at which one begins to differ at the least, and from which it does for certain; how much a pixel that differs says, one that is the same, and one that says nothing; how much one says that
 * is clear; what its cell says. A last one is 1 where light is dropped. `contrast`, `kept` and `mask` are by cells. Bands are of the list.
 */
export function edgeSystem(roots: usize, clean: usize, at: usize, index: usize, contrast: usize, kept: usize, bounds: usize, mask: usize, cells: i32, parts: usize, said: usize, weight: usize, right: usize, below: usize, u: usize, width: i32, height: i32, k0: i32, k1: i32): void {
  const part = f32x4(load<f32>(parts), load<f32>(parts, 4), load<f32>(parts, 8), 0), darkest = load<f32>(parts, 12), brightest = load<f32>(parts, 16), narrow = load<f32>(parts, 20), least = v128.load32_splat(parts, 24), holds = v128.load32_splat(parts, 28);
  const low = load<f32>(parts, 32), high = load<f32>(parts, 36), begins = load<f32>(parts, 40), certain = load<f32>(parts, 44), differing = load<f32>(parts, 48), same = load<f32>(parts, 52), nothing = load<f32>(parts, 56), clearly = load<f32>(parts, 60), cellSays = load<f32>(parts, 64), dropped = load<f32>(parts, 68) > 0, one: f32 = 1;
  for (let k = k0; k < k1; k++) {
    const to: usize = <usize>k << 2, p = load<i32>(at + to), y = p / width, x = p - y * width, cell: usize = <usize>((y >> 2) * cells + (x >> 2)) << 2, a = v128.load(roots + (<usize>k << 4)), b = v128.load(clean + (<usize>k << 4));
    let d = f32x4.sub(a, b);
    if (dropped) {
      const light: f32 = sumOf(f32x4.mul(d, b)) / (sumOf(f32x4.mul(b, b)) + 1e-4);
      const most = bounds + (cell << 1);
      if (light > darkest && light < brightest) d = f32x4.sub(d, f32x4.mul(f32x4.splat(max<f32>(load<f32>(most), min<f32>(load<f32>(most, 4), light))), b));
    }
    d = f32x4.mul(d, part);
    const z = sqrt<f32>(sumOf(f32x4.mul(d, d))), stands = load<f32>(contrast + cell), shows = load<f32>(kept + cell), clear = max<f32>(0, min<f32>(one, (low * stands - begins) / (2 * begins))), empty = nothing + clearly * clear;
    const from = max(begins, low * stands), t = max<f32>(0, min<f32>(one, (z - from) / (max(certain, high * stands) - from))), differs = t * t * (3 - 2 * t);
    const inside: f32 = max<f32>(0, differing * differs * (one - 0.8 * shows)), outside: f32 = max(same * shows, empty) * (one - differs) + nothing;
    // The cell's own word, weakly: it looked at more.
    const all = inside + outside + cellSays, says = inside + load<f32>(mask + cell) * cellSays, r = x + 1 < width ? load<i32>(index + (<usize>(p + 1) << 2)) : -1, l = y + 1 < height ? load<i32>(index + (<usize>(p + width) << 2)) : -1;
    store<f32>(weight + to, all);
    store<f32>(said + to, says);
    store<f32>(u + (<usize>p << 2), says / all);
    // Steps first; what follows of them is worked out four at a time. 1000 parts for certain.
    store<f32>(right + to, r < 0 ? 1000 : narrow * stepsTo(a, b, roots, clean, r, part));
    store<f32>(below + to, l < 0 ? 1000 : narrow * stepsTo(a, b, roots, clean, l, part));
  }
  let k = k0;
  for (; k + 4 <= k1; k += 4) {
    linksOf(right + (<usize>k << 2), least, holds);
    linksOf(below + (<usize>k << 2), least, holds);
  }
  for (; k < k1; k++) {
    const r = right + (<usize>k << 2), l = below + (<usize>k << 2);
    store<f32>(r, f32x4.extract_lane(linkFrom(v128.load32_splat(r), least, holds), 0));
    store<f32>(l, f32x4.extract_lane(linkFrom(v128.load32_splat(l), least, holds), 0));
  }
}
@inline
function linkFrom(far: v128, least: v128, holds: v128): v128 {
  return f32x4.add(least, f32x4.mul(holds, v128.and(exp4(f32x4.neg(far)), f32x4.le(far, f32x4.splat(23)))));
}
@inline
function linksOf(at: usize, least: v128, holds: v128): void {
  v128.store(at, linkFrom(v128.load(at), least, holds));
}

/**
 * Passes of over-relaxation over the listed pixels of the picture `u`, in place, even ones and odd ones by turns; those beside them are held by the least link. `places` and `links` are working memory: four whole
 * numbers and four floats for each. In the end what lies between a quarter and three quarters is spread over 0 to 1, smoothly.
 */
export function relaxEdge(u: usize, at: usize, index: usize, said: usize, weight: usize, right: usize, below: usize, places: usize, links: usize, least: f32, over: f32, passes: i32, m: i32, width: i32, height: i32): void {
  const last = width * height - width;
  for (let k = 0; k < m; k++) {
    const p = load<i32>(at + (<usize>k << 2)), x = p % width, place = places + (<usize>k << 4), link = links + (<usize>k << 4), l = x > 0 ? p - 1 : -1, r = x + 1 < width ? p + 1 : -1, a = p - width, b = p < last ? p + width : -1;
    const kl = l >= 0 ? load<i32>(index + (<usize>l << 2)) : -1, ka = a >= 0 ? load<i32>(index + (<usize>a << 2)) : -1;
    const toLeft: f32 = l < 0 ? 0 : kl < 0 ? least : load<f32>(right + (<usize>kl << 2)), toRight: f32 = r < 0 ? 0 : load<f32>(right + (<usize>k << 2)), toAbove: f32 = a < 0 ? 0 : ka < 0 ? least : load<f32>(below + (<usize>ka << 2)), toBelow: f32 = b < 0 ? 0 : load<f32>(below + (<usize>k << 2));
    store<i32>(place, (l < 0 ? p : l) << 2);
    store<i32>(place, (r < 0 ? p : r) << 2, 4);
    store<i32>(place, (a < 0 ? p : a) << 2, 8);
    store<i32>(place, (b < 0 ? p : b) << 2, 12);
    const part: f32 = over / (load<f32>(weight + (<usize>k << 2)) + toLeft + toRight + toAbove + toBelow);
    // All is divided by what holds the pixel, and over-relaxed, at once.
    v128.store(link, f32x4.mul(f32x4(toLeft, toRight, toAbove, toBelow), f32x4.splat(part)));
    store<f32>(said + (<usize>k << 2), load<f32>(said + (<usize>k << 2)) * part);
  }
  const keeps: f32 = 1 - over;
  for (let pass = 0; pass < passes; pass++)
    for (let k = 0; k < m; k++) {
      const place = places + (<usize>k << 4), link = links + (<usize>k << 4), to = u + (<usize>load<u32>(at + (<usize>k << 2)) << 2);
      const v: f32 = load<f32>(said + (<usize>k << 2)) + load<f32>(link) * load<f32>(u + <usize>load<u32>(place)) + load<f32>(link, 4) * load<f32>(u + <usize>load<u32>(place, 4)) + (load<f32>(link, 8) * load<f32>(u + <usize>load<u32>(place, 8)) + load<f32>(link, 12) * load<f32>(u + <usize>load<u32>(place, 12))) + keeps * load<f32>(to);
      // Numbers too small for their format are slow to read.
      store<f32>(to, abs<f32>(v) > 1e-6 ? v : 0);
    }
  for (let k = 0; k < m; k++) {
    const to = u + (<usize>load<u32>(at + (<usize>k << 2)) << 2), t = max<f32>(0, min<f32>(1, (load<f32>(to) - 0.25) * 2));
    store<f32>(to, t * t * (3 - 2 * t));
  }
}
