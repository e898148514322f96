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
  const colours = i32x4(-1, -1, -1, 0);
  for (let by = b0; by < b1; by++) for (let bx = 0; bx < wide; bx++) {
    const left = bx * BLOCK, top = by * BLOCK, right = min(width, left + BLOCK), bottom = min(height, top + BLOCK), at: usize = <usize>(by * wide + bx) << 2;
    let other = false;
    for (let y = top; y < bottom && !other; y++) for (let x = left; x < right; x++) {
      if (v128.any_true(v128.and(colours, differsAt(below, plate, <usize>(y * width + x) << 4)))) {
        other = true;
        break;
      }
    }
    store<f32>(weight + at, other ? 1 : 0);
    let sum: f32 = 0;
    if (other) for (let y = top; y < top + BLOCK; y++) {
      const y0 = min(height - 1, max(0, y - 1)), y1 = min(height - 1, y), y2 = min(height - 1, y + 1);
      for (let x = left; x < left + BLOCK; x++) {
        const x0 = min(width - 1, max(0, x - 1)), x1 = min(width - 1, x), x2 = min(width - 1, x + 1);
        const found: f32 = (4 * rootAt(below, x1, y1, width) - 2 * (rootAt(below, x0, y1, width) + rootAt(below, x2, y1, width) + rootAt(below, x1, y0, width) + rootAt(below, x1, y2, width)) + rootAt(below, x0, y0, width) + rootAt(below, x2, y0, width) + rootAt(below, x0, y2, width) + rootAt(below, x2, y2, width)) / 6;
        sum += min(most, found * found);
      }
    }
    store<f32>(energy + at, sum / 16);
  }
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
