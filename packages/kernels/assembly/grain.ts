import { scratchAt } from './scratch';

/** Side of a block. */
const BLOCK: i32 = 4;

/** Square root of the brightness of a pixel, in which grain is about as strong everywhere. */
@inline
function rootAt(picture: usize, x: i32, y: i32, width: i32): f32 {
  const p = v128.load(picture + (<usize>(y * width + x) << 4)), light: f32 = 0.2126 * f32x4.extract_lane(p, 0) + 0.7152 * f32x4.extract_lane(p, 1) + 0.0722 * f32x4.extract_lane(p, 2);
  return light > 0 ? sqrt<f32>(light) : 0;
}
/** Which channels of a pixel differ. */
@inline
function differsAt(below: usize, plate: usize, at: usize): v128 {
  return f32x4.ne(v128.load(below + at), v128.load(plate + at));
}

/**
 * Of each block of 4 by 4 pixels in which a picture is not the plate any more: the mean variance of its grain, of square roots of light (Immerkaer 1996; what is above `most` is an edge and
 * counts as `most`), and a weight of 1. 0 and 0 elsewhere. `energy` and `weight` have `wide` blocks to a row; bands are rows of blocks.
 */
export function grainAbout(below: usize, plate: usize, most: f32, energy: usize, weight: usize, wide: i32, width: i32, height: i32, b0: i32, b1: i32): void {
  // Six lines of roots, each with one more at both ends: those of a row of blocks and their neighbours.
  const room: usize = <usize>(4 * wide + 8) << 2, lines = scratchAt() + 16, limit = f32x4.splat(most);
  for (let by = b0; by < b1; by++) {
    const top = by * BLOCK, bottom = min(height, top + BLOCK);
    let first = wide, last = 0;
    for (let bx = 0; bx < wide; bx++) {
      const other = blockDiffers(below, plate, bx * BLOCK, min(width, (bx + 1) * BLOCK), top, bottom, width);
      store<f32>(weight + (<usize>(by * wide + bx) << 2), other ? 1 : 0);
      if (!other) continue;
      first = min(first, bx);
      last = bx + 1;
    }
    memory.fill(energy + (<usize>(by * wide) << 2), 0, <usize>wide << 2);
    if (first >= last) continue;
    for (let k = 0; k < 6; k++) rootLine(below + (<usize>(min(height - 1, max(0, top - 1 + k)) * width) << 4), lines + <usize>k * room, first * BLOCK - 1, last * BLOCK + 1, width);
    for (let bx = first; bx < last; bx++) {
      const at: usize = <usize>(by * wide + bx) << 2;
      if (load<f32>(weight + at) == 0) continue;
      let sum: f32 = 0, line = lines + (<usize>bx << 4);
      for (let y = 0; y < BLOCK; y++, line += room) {
        const here = line + room, under = here + room;
        const beside = f32x4.add(f32x4.add(f32x4.add(v128.load(here - 4), v128.load(here + 4)), v128.load(line)), v128.load(under));
        const found = f32x4.div(f32x4.add(f32x4.add(f32x4.add(f32x4.add(f32x4.sub(f32x4.mul(f32x4.splat(4), v128.load(here)), f32x4.mul(f32x4.splat(2), beside)), v128.load(line - 4)), v128.load(line + 4)), v128.load(under - 4)), v128.load(under + 4)), f32x4.splat(6));
        const held = f32x4.pmin(limit, f32x4.mul(found, found));
        sum = sum + f32x4.extract_lane(held, 0) + f32x4.extract_lane(held, 1) + f32x4.extract_lane(held, 2) + f32x4.extract_lane(held, 3);
      }
      store<f32>(energy + at, sum / 16);
    }
  }
}
/** Whether any pixel of a block differs in its colours. */
@inline
function blockDiffers(below: usize, plate: usize, left: i32, right: i32, top: i32, bottom: i32, width: i32): bool {
  const colours = i32x4(-1, -1, -1, 0);
  for (let y = top; y < bottom; y++) for (let x = left; x < right; x++) if (v128.any_true(v128.and(colours, differsAt(below, plate, <usize>(y * width + x) << 4)))) return true;
  return false;
}
/** Roots of the brightness of a row's pixels from one column to another (the last one not among them), those beside the picture as the ones at its edge; column x stands at `line` + 4 x. */
function rootLine(row: usize, line: usize, from: i32, to: i32, width: i32): void {
  let x = from;
  for (; x < to && x < 0; x++) store<f32>(line + (x << 2), rootAt(row, 0, 0, width));
  const red = f32x4.splat(0.2126), green = f32x4.splat(0.7152), blue = f32x4.splat(0.0722), zero = f32x4.splat(0), end = min(to, width);
  for (; x + 4 <= end; x += 4) {
    const p = row + (<usize>x << 4), a = v128.load(p), b = v128.load(p, 16), c = v128.load(p, 32), d = v128.load(p, 48), ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5), cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
    const r = v128.shuffle<f64>(ab, cd, 0, 2), g = v128.shuffle<f64>(ab, cd, 1, 3), l = v128.shuffle<f32>(v128.shuffle<f32>(a, b, 2, 6, 2, 6), v128.shuffle<f32>(c, d, 2, 6, 2, 6), 0, 1, 4, 5);
    v128.store(line + (x << 2), f32x4.sqrt(f32x4.pmax(zero, f32x4.add(f32x4.add(f32x4.mul(red, r), f32x4.mul(green, g)), f32x4.mul(blue, l)))));
  }
  for (; x < to; x++) store<f32>(line + (x << 2), rootAt(row, min(x, width - 1), 0, width));
}

/**
 * How much of the plate's grain a picture lacks at each pixel, 0..1, where it is not the plate: from the grain about each block (`soft`, over `known`: grainAbout's planes, blurred) and how far a pixel is from the
 * plate's. `deviation` is that of the plate's grain. Bands are rows of blocks; all rows of the mask are written.
 */
export function lackingGrain(below: usize, plate: usize, soft: usize, known: usize, weight: usize, deviation: f32, mask: usize, wide: i32, width: i32, height: i32, b0: i32, b1: i32): void {
  const has: f32 = 1 / (deviation * deviation), change: f32 = 1 / (4 * deviation);
  for (let by = b0; by < b1; by++) {
    const top = by * BLOCK, bottom = min(height, top + BLOCK);
    memory.fill(mask + (<usize>(top * width) << 2), 0, <usize>((bottom - top) * width) << 2);
    for (let bx = 0; bx < wide; bx++) {
      const at: usize = <usize>(by * wide + bx) << 2, k = load<f32>(known + at);
      if (!(load<f32>(weight + at) > 0)) continue;
      const lacks: f32 = 1 - (k > 1e-3 ? load<f32>(soft + at) / k : 0) * has;
      if (lacks <= 0.2) continue;
      // What lacks a variance gets a deviation.
      const share = sqrt<f32>(lacks), left = bx * BLOCK, right = min(width, left + BLOCK);
      for (let y = top; y < bottom; y++) for (let x = left; x < right; x++) {
        const p: usize = <usize>(y * width + x) << 4, d = f32x4.abs(f32x4.sub(v128.load(below + p), v128.load(plate + p)));
        const away = max(max(abs<f32>(rootAt(below, x, y, width) - rootAt(plate, x, y, width)), f32x4.extract_lane(d, 0)), f32x4.extract_lane(d, 2));
        store<f32>(mask + (p >> 2), share * max<f32>(0, min<f32>(1, away * change - 0.25)));
      }
    }
  }
}
