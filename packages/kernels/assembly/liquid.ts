/** Steps of particles that flow together; see gatherLiquid in core/effects/liquid.ts. */

/** A layer with the brightness of its light, where that is more, as its coverage. Bands are rows. */
export function litCover(layer: usize, out: usize, width: i32, y0: i32, y1: i32): void {
  for (let at = <usize>(y0 * width) << 4, end = <usize>(y1 * width) << 4; at < end; at += 16) {
    const p = v128.load(layer + at), bright = max(f32x4.extract_lane(p, 0), max(f32x4.extract_lane(p, 1), f32x4.extract_lane(p, 2)));
    v128.store(out + at, f32x4.replace_lane(p, 3, max(f32x4.extract_lane(p, 3), min<f32>(1, bright))));
  }
}

@inline
function stepTo(low: f32, high: f32, v: f32): f32 {
  const t: f32 = max<f32>(0, min<f32>(1, (v - low) / (high - low)));
  return t * t * (3 - 2 * t);
}
/**
 * Gives a layer, in place, as much as `amount` the skin of what it is when blurred (`soft`): its coverage cut at `level`, darker where that is thin, and lit from the upper left by its slope over `over` pixels, `shine`
 * strong. Bands are rows.
 */
export function skinLiquid(layer: usize, soft: usize, amount: f32, level: f32, over: f32, shine: f32, width: i32, height: i32, y0: i32, y1: i32): void {
  const row: usize = <usize>width << 4, keeps: f32 = 1 - amount, rest = f32x4.splat(keeps), one: f32 = 1;
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < width; x++) {
      const at = <usize>(y * width + x) << 4, s = soft + at, to = layer + at, own = v128.load(s), a = f32x4.extract_lane(own, 3), before = f32x4.mul(v128.load(to), rest);
      if (a < 0.01) {
        v128.store(to, before);
        continue;
      }
      const body = stepTo(level - 0.07, level + 0.07, a), right = x + 1 < width ? load<f32>(s, 28) : a, left = x > 0 ? load<f32>(s - 4) : a, down = y + 1 < height ? load<f32>(s + row, 12) : a, up = y > 0 ? load<f32>(s - row, 12) : a;
      // The skin bulges where coverage rises: its normal leans against the slope.
      const nx: f32 = (left - right) * over, ny: f32 = (up - down) * over, n: f32 = one / sqrt<f32>(nx * nx + ny * ny + 0.35), towards = max<f32>(0, (0.55 - 0.5 * nx - 0.68 * ny) * n * 0.75), t2 = towards * towards, t4 = t2 * t2;
      const glint: f32 = shine * (t4 * t4 * 1.6 + 0.12 * t2) * body, dark: f32 = 0.55 + 0.45 * stepTo(level, level + 0.45, a);
      const skin = f32x4.add(f32x4.mul(own, f32x4.splat((body / a) * dark)), f32x4.splat(glint));
      v128.store(to, f32x4.add(before, f32x4.mul(f32x4.replace_lane(skin, 3, body), f32x4.splat(amount))));
    }
}
