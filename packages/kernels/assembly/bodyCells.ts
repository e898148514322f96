import { exp4, smooth4 } from './curves';
import { scratchAt, storeSome } from './scratch';

/*
 * What is known of a body against its clean plate, by cells (see core/matte/bodyCells.ts). Square roots of light stand in three planes, one after another, each of `n` numbers.
 */

/** Square roots of a picture's light, times a gain of each channel (3 floats), in three planes. Bands are rows; planes are `n` numbers long. */
export function rootPlanes(picture: usize, gains: usize, out: usize, n: i32, width: i32, y0: i32, y1: i32): void {
  const gain = f32x4(load<f32>(gains), load<f32>(gains, 4), load<f32>(gains, 8), 0), zero = f32x4.splat(0), plane: usize = <usize>n << 2;
  for (let p = y0 * width, end = y1 * width; p < end; p++) {
    const root = f32x4.mul(f32x4.sqrt(f32x4.pmax(zero, v128.load(picture + (<usize>p << 4)))), gain), to = out + (<usize>p << 2);
    store<f32>(to, f32x4.extract_lane(root, 0));
    store<f32>(to + plane, f32x4.extract_lane(root, 1));
    store<f32>(to + 2 * plane, f32x4.extract_lane(root, 2));
  }
}

/** Cells of a square of five, within the picture, along one axis. */
@inline
function nearby(at: v128, size: i32): v128 {
  return f32x4.add(f32x4.sub(f32x4.pmin(f32x4.add(at, f32x4.splat(2)), f32x4.splat(<f32>(size - 1))), f32x4.pmax(f32x4.sub(at, f32x4.splat(2)), f32x4.splat(0))), f32x4.splat(1));
}
/** The sum of five neighbours of a line that has two zeros before and behind it. */
@inline
function fiveOf(line: usize): v128 {
  return f32x4.add(f32x4.add(f32x4.add(v128.load(line - 8), v128.load(line - 4)), f32x4.add(v128.load(line + 4), v128.load(line + 8))), v128.load(line));
}
/**
 * How much structure plane `b` has about each cell, 0..1, and how much what plane `a` has is like it, -1..1: squares of five cells. `noise` is the variance of their grain. Bands are rows.
 */
export function likenessOf(a: usize, b: usize, noise: f32, structure: usize, like: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const room = <usize>(((width + 3) & ~3) + 8) << 2, lines = scratchAt() + 16, zero = f32x4.splat(0), lanes = f32x4(0, 1, 2, 3), grain = f32x4.splat(noise), eight = f32x4.splat(8), least = f32x4.splat(0.3), squared = f32x4.splat(noise * noise);
  memory.fill(scratchAt(), 0, 5 * room + 64);
  for (let y = y0; y < y1; y++) {
    const from = max(0, y - 2), to = min(height - 1, y + 2);
    for (let x = 0; x < width; x += 4) {
      let sa = zero, sb = zero, aa = zero, bb = zero, ab = zero;
      for (let j = from; j <= to; j++) {
        const at: usize = <usize>(j * width + x) << 2, u = v128.load(a + at), v = v128.load(b + at);
        sa = f32x4.add(sa, u);
        sb = f32x4.add(sb, v);
        aa = f32x4.add(aa, f32x4.mul(u, u));
        bb = f32x4.add(bb, f32x4.mul(v, v));
        ab = f32x4.add(ab, f32x4.mul(u, v));
      }
      const line = lines + (<usize>x << 2), some = width - x;
      storeSome(line, sa, some);
      storeSome(line + room, sb, some);
      storeSome(line + 2 * room, aa, some);
      storeSome(line + 3 * room, bb, some);
      storeSome(line + 4 * room, ab, some);
    }
    const down: f32 = <f32>(to - from + 1);
    for (let x = 0; x < width; x += 4) {
      const line = lines + (<usize>x << 2), k = f32x4.div(f32x4.splat(1), f32x4.mul(nearby(f32x4.add(f32x4.splat(<f32>x), lanes), width), f32x4.splat(down)));
      const ma = f32x4.mul(fiveOf(line), k), mb = f32x4.mul(fiveOf(line + room), k), va = f32x4.pmax(zero, f32x4.sub(f32x4.mul(fiveOf(line + 2 * room), k), f32x4.mul(ma, ma))), vb = f32x4.pmax(zero, f32x4.sub(f32x4.mul(fiveOf(line + 3 * room), k), f32x4.mul(mb, mb)));
      const over = f32x4.div(vb, grain), both = f32x4.sub(f32x4.mul(fiveOf(line + 4 * room), k), f32x4.mul(ma, mb)), to4: usize = <usize>(y * width + x) << 2, some = width - x;
      storeSome(structure + to4, f32x4.div(over, f32x4.add(over, eight)), some);
      storeSome(like + to4, v128.and(f32x4.div(both, f32x4.sqrt(f32x4.add(f32x4.mul(f32x4.pmax(va, f32x4.mul(least, vb)), vb), squared))), f32x4.gt(vb, zero)), some);
    }
  }
}

/** How far four places differ, in deviations of the grain; with `dropped`, without the part that is the clean plate made darker or brighter. */
@inline
function differences(a: usize, b: usize, plane: usize, parts: usize, dropped: bool): v128 {
  const r = v128.load(b), g = v128.load(b + plane), l = v128.load(b + 2 * plane);
  let dr = f32x4.sub(v128.load(a), r), dg = f32x4.sub(v128.load(a + plane), g), dl = f32x4.sub(v128.load(a + 2 * plane), l);
  if (dropped) {
    const k = f32x4.div(f32x4.add(f32x4.add(f32x4.mul(dr, r), f32x4.mul(dg, g)), f32x4.mul(dl, l)), f32x4.add(f32x4.add(f32x4.mul(r, r), f32x4.mul(g, g)), f32x4.add(f32x4.mul(l, l), f32x4.splat(1e-4))));
    const light = v128.and(k, v128.and(f32x4.gt(k, v128.load32_splat(parts, 12)), f32x4.lt(k, v128.load32_splat(parts, 16))));
    dr = f32x4.sub(dr, f32x4.mul(light, r));
    dg = f32x4.sub(dg, f32x4.mul(light, g));
    dl = f32x4.sub(dl, f32x4.mul(light, l));
  }
  dr = f32x4.mul(dr, v128.load32_splat(parts));
  dg = f32x4.mul(dg, v128.load32_splat(parts, 4));
  dl = f32x4.mul(dl, v128.load32_splat(parts, 8));
  return f32x4.sqrt(f32x4.add(f32x4.add(f32x4.mul(dr, dr), f32x4.mul(dg, dg)), f32x4.mul(dl, dl)));
}
/** The square of one channel's step between two places, in deviations, less what the clean plate has there, as far as it has the same. */
@inline
function stepOf(a: usize, b: usize, away: usize, part: v128): v128 {
  const own = f32x4.sub(v128.load(a), v128.load(a + away)), off = f32x4.sub(own, f32x4.sub(v128.load(b), v128.load(b + away))), d = f32x4.mul(v128.bitselect(off, own, f32x4.lt(f32x4.abs(off), f32x4.abs(own))), part);
  return f32x4.mul(d, d);
}
/** How strongly places hold together whose steps add up to so much, as a share of 2 parts². */
@inline
function linkOf(far: v128, parts: usize): v128 {
  return f32x4.add(v128.load32_splat(parts, 24), f32x4.mul(v128.load32_splat(parts, 28), v128.and(exp4(f32x4.neg(far)), f32x4.le(far, f32x4.splat(23)))));
}
@inline
function linkTo(a: usize, b: usize, plane: usize, away: usize, parts: usize): v128 {
  const squares = f32x4.add(f32x4.add(stepOf(a, b, away, v128.load32_splat(parts)), stepOf(a + plane, b + plane, away, v128.load32_splat(parts, 4))), stepOf(a + 2 * plane, b + 2 * plane, away, v128.load32_splat(parts, 8)));
  return linkOf(f32x4.mul(squares, v128.load32_splat(parts, 20)), parts);
}

/**
 * What each cell says and how strongly, what holds it to its neighbours (a system of mask.ts), how far it differs (`zs`) and how much of the clean plate's structure it still shows (`kept`). `parts` is
 * 14 floats: one over the grain of r g b; darkest and brightest change of light that still is light; 1 / (2 parts²); the least link and how strong one is beside that; deviations at which
 * a cell begins to differ, and one over those from there to where it does for certain; how much a cell that differs says, one that is the same, and one that says nothing; 1 where
 * light is dropped. Bands are rows.
 */
export function cellSystem(a: usize, b: usize, structure: usize, like: usize, fine: usize, parts: usize, said: usize, weight: usize, right: usize, below: usize, stride: i32, kept: usize, zs: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const plane: usize = <usize>(width * height) << 2, dropped = load<f32>(parts, 52) > 0, zero = f32x4.splat(0), one = f32x4.splat(1), same = v128.load32_splat(parts, 44), empty = v128.load32_splat(parts, 48);
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < width; x += 4) {
      const at: usize = <usize>(y * width + x) << 2, to = <usize>((y + 1) * stride + 4 + x) << 2, some = width - x, p = a + at, q = b + at;
      const z = differences(p, q, plane, parts, dropped), has = v128.load(structure + at), alike = v128.load(like + at);
      const seen = f32x4.mul(has, f32x4.pmax(zero, f32x4.add(alike, f32x4.sub(alike, one)))), gone = f32x4.mul(has, f32x4.pmax(zero, f32x4.sub(one, f32x4.mul(f32x4.pmax(zero, alike), f32x4.splat(1.6)))));
      const differs = smooth4(f32x4.mul(f32x4.sub(z, v128.load32_splat(parts, 32)), v128.load32_splat(parts, 36)));
      // Grey light is made good already; fine structure is seen in whatever light.
      const surely = dropped ? v128.load(fine + at) : zero;
      const covered = f32x4.mul(f32x4.mul(same, gone), v128.bitselect(one, f32x4.splat(0.4), f32x4.gt(z, f32x4.splat(1.5))));
      const inside = f32x4.pmax(f32x4.mul(f32x4.mul(v128.load32_splat(parts, 40), differs), f32x4.sub(one, f32x4.pmax(f32x4.mul(f32x4.splat(0.8), seen), f32x4.mul(f32x4.splat(0.9), surely)))), covered), outside = f32x4.add(f32x4.mul(f32x4.pmax(f32x4.pmax(f32x4.mul(same, seen), surely), empty), f32x4.sub(one, f32x4.mul(differs, f32x4.sub(one, surely)))), empty);
      storeSome(zs + at, z, some);
      storeSome(kept + at, f32x4.pmax(seen, surely), some);
      storeSome(said + to, inside, some);
      storeSome(weight + to, f32x4.add(inside, outside), some);
      storeSome(right + to, linkTo(p, q, plane, 4, parts), some);
      storeSome(below + to, y + 1 < height ? linkTo(p, q, plane, <usize>width << 2, parts) : zero, some);
      // Nothing holds to what lies beside the picture.
      if (some <= 4) store<f32>(right + to + (<usize>(some - 1) << 2), 0);
    }
}

/** Whether both sides of 0.5 are within `reach` of a cell. */
@inline
function bothSides(mask: usize, x: i32, y: i32, reach: i32, width: i32, height: i32): bool {
  const own = load<f32>(mask + (<usize>(y * width + x) << 2)) > 0.5;
  for (let j = max(0, y - reach), last = min(height - 1, y + reach); j <= last; j++)
    for (let i = max(0, x - reach), right = min(width - 1, x + reach); i <= right; i++) if (load<f32>(mask + (<usize>(j * width + i) << 2)) > 0.5 != own) return true;
  return false;
}
/** Cells (1, else 0) within `reach` of which a mask has both sides of 0.5. Bands are rows. */
export function openCells(mask: usize, open: usize, reach: i32, width: i32, height: i32, y0: i32, y1: i32): void {
  const half = f32x4.splat(0.5), one = f32x4.splat(1);
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < width; x += 4) {
      const to = open + (<usize>(y * width + x) << 2), some = min(4, width - x);
      if (x < reach || x + 4 + reach > width) {
        for (let k = 0; k < some; k++) store<f32>(to + (<usize>k << 2), bothSides(mask, x + k, y, reach, width, height) ? 1 : 0);
        continue;
      }
      let any = i32x4.splat(0), all = i32x4.splat(-1);
      for (let j = max(0, y - reach), last = min(height - 1, y + reach); j <= last; j++)
        for (let i = -reach; i <= reach; i++) {
          const inside = f32x4.gt(v128.load(mask + (<usize>(j * width + x + i) << 2)), half);
          any = v128.or(any, inside);
          all = v128.and(all, inside);
        }
      v128.store(to, v128.and(one, v128.andnot(any, all)));
    }
}
/** How far a body differs about each open cell, at the most `most`: the mean of `zs` where the mask is above 0.8, within `around`; 0 where there is none, and in other cells. */
export function cellContrast(mask: usize, zs: usize, open: usize, around: i32, most: f32, out: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < width; x++) {
      let sum: f32 = 0, n: f32 = 0;
      if (load<f32>(open + (<usize>(y * width + x) << 2)) > 0)
        for (let j = max(0, y - around); j <= min(height - 1, y + around); j++)
          for (let i = max(0, x - around); i <= min(width - 1, x + around); i++) {
            const q: usize = <usize>(j * width + i) << 2;
            if (load<f32>(mask + q) <= 0.8) continue;
            sum += min<f32>(most, load<f32>(zs + q));
            n += 1;
          }
      store<f32>(out + (<usize>(y * width + x) << 2), n > 0 ? sum / n : 0);
    }
}
/**
 * How much darker and brighter the light is beside a body about each open cell, as changes of its square root: of every other cell within `around` of which `mask` says less than 0.2. Across the edge it changes by no more than that
 * and `more` (two numbers a cell); where no such cell is near, the widest. Bands are rows.
 */
export function lightBeside(a: usize, b: usize, mask: usize, open: usize, around: i32, more: f32, out: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  const n: usize = <usize>(width * height) << 2;
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < width; x++) {
      const own: usize = <usize>(y * width + x) << 2;
      let least: f32 = 0, most: f32 = 0, any = false;
      if (load<f32>(open + own) > 0)
        for (let j = max(0, y - around); j <= min(height - 1, y + around); j += 2)
          for (let i = max(0, x - around); i <= min(width - 1, x + around); i += 2) {
            const q: usize = <usize>(j * width + i) << 2;
            if (load<f32>(mask + q) >= 0.2) continue;
            const r = load<f32>(b + q), g = load<f32>(b + n + q), l = load<f32>(b + 2 * n + q), light: f32 = ((load<f32>(a + q) - r) * r + (load<f32>(a + n + q) - g) * g + (load<f32>(a + 2 * n + q) - l) * l) / (r * r + g * g + l * l + <f32>1e-4);
            least = min<f32>(least, light);
            most = max<f32>(most, light);
            any = true;
          }
      store<f32>(out + (own << 1), any ? least - more : -1000);
      store<f32>(out + (own << 1), any ? most + more : 1000, 4);
    }
}
/** 1 in each pixel whose cell (4 by 4) a mask has above 0.5, 0 elsewhere. Bands are rows of the picture. */
export function fillCells(mask: usize, cells: i32, out: usize, width: i32, y0: i32, y1: i32): void {
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < width; x += 4) storeSome(out + (<usize>(y * width + x) << 2), f32x4.splat(load<f32>(mask + (<usize>((y >> 2) * cells + (x >> 2)) << 2)) > 0.5 ? 1 : 0), width - x);
}
