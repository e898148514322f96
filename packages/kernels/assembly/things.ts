/*
 * What a light throws on what is about it, at a quarter of the picture's size and less; see core/lighting.
 */
const LUMA_R: f32 = 0.2126, LUMA_G: f32 = 0.7152, LUMA_B: f32 = 0.0722;

@inline
function brightness(p: v128): f32 {
  const w = f32x4.mul(p, f32x4(LUMA_R, LUMA_G, LUMA_B, 0));
  return f32x4.extract_lane(w, 0) + f32x4.extract_lane(w, 1) + f32x4.extract_lane(w, 2);
}
@inline
function strongest(p: v128): f32 {
  return max(f32x4.extract_lane(p, 0), max(f32x4.extract_lane(p, 1), f32x4.extract_lane(p, 2)));
}

/** A light as the lamp that it is drawn of, in place: colours times 1 + glare m² / (1 + m²), m being the strongest channel. Alpha stays. Bands are rows. */
export function glareOf(picture: usize, glare: f32, width: i32, y0: i32, y1: i32): void {
  for (let p = picture + (<usize>(y0 * width) << 4), end = picture + (<usize>(y1 * width) << 4); p < end; p += 16) {
    const v = v128.load(p), m = strongest(v);
    if (m <= 0) continue;
    const k: f32 = 1 + (glare * m * m) / (1 + m * m);
    v128.store(p, f32x4.mul(v, f32x4(k, k, k, 1)));
  }
}

/**
 * How bright what a light falls on beside a subject is, row by row: in `sums` (two floats a row) the sum of (1 - matte) times the light's brightness times the picture's, and that without the picture's. The rows of a light that has nothing there are 0.
 */
export function fallsOn(picture: usize, matte: usize, light: usize, sums: usize, width: i32, y0: i32, y1: i32): void {
  for (let y = y0; y < y1; y++) {
    let sum: f32 = 0, all: f32 = 0;
    for (let i = y * width, end = i + width; i < end; i++) {
      const l = brightness(v128.load(light + (<usize>i << 4)));
      if (l <= 0) continue;
      const weight: f32 = (1 - load<f32>(matte + (<usize>i << 2))) * l;
      sum += weight * max<f32>(0, brightness(v128.load(picture + (<usize>i << 4))));
      all += weight;
    }
    store<f32>(sums + (<usize>y << 3), sum);
    store<f32>(sums + (<usize>y << 3), all, 4);
  }
}
/** Gains of a light that falls there: 1 + k times it, and an alpha of 1. Bands are rows. */
export function gainsOf(light: usize, k: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  const by = f32x4(k, k, k, 0), one = f32x4.splat(1);
  for (let at = <usize>(y0 * width) << 4, end = <usize>(y1 * width) << 4; at < end; at += 16) v128.store(out + at, f32x4.add(one, f32x4.mul(v128.load(light + at), by)));
}

/**
 * Darkens gains (two pictures; the second may be 0) where light is near and the ground bright, its own colour least, in place. `params` is 4 floats: share, brightness of the ground from which it is
 * darkened and one over that from there to where it wholly is, and the share of the darkening that the light's own colour is spared. First and last column that change, the last one not among them, in
 * `spans` (two whole numbers a row; 0 and 0 where none does). Bands are rows.
 */
export function darkenNear(gains: usize, others: usize, ground: usize, near: usize, params: usize, spans: usize, width: i32, y0: i32, y1: i32): void {
  const share = load<f32>(params), dusk = load<f32>(params, 4), part = load<f32>(params, 8), rich = load<f32>(params, 12), one = f32x4.splat(1);
  for (let y = y0; y < y1; y++) {
    let first = width, last = 0;
    for (let x = 0; x < width; x++) {
      const at = <usize>(y * width + x) << 4, l = v128.load(near + at), most = strongest(l);
      if (most < 0.001953125) continue;
      const t: f32 = max<f32>(0, min<f32>(1, (brightness(v128.load(ground + at)) - dusk) * part)), dark: f32 = share * (most / (most + 1)) * (t * t * (3 - 2 * t));
      if (dark <= 0) continue;
      first = min(first, x);
      last = x + 1;
      const k = f32x4.replace_lane(f32x4.sub(one, f32x4.mul(f32x4.splat(dark), f32x4.sub(one, f32x4.mul(l, f32x4.splat(rich / most))))), 3, 1);
      v128.store(gains + at, f32x4.mul(v128.load(gains + at), k));
      if (others) v128.store(others + at, f32x4.mul(v128.load(others + at), k));
    }
    store<i32>(spans + (<usize>y << 3), last ? first : 0);
    store<i32>(spans + (<usize>y << 3), last, 4);
  }
}

/**
 * What lamps throw on level ground, by the inverse square and by how steeply it comes down; see groundLight in core/lighting/ground.ts, in whose cells all lengths are. `lamps` are `lw` by `lh` cells of four; those of at most `faint` throw
 * nothing. Rows of the result from `above` on; what stands in it is added to. Bands are rows from there.
 */
export function groundFall(lamps: usize, lw: i32, lh: i32, faint: f32, feet: f32, away: f32, flat: f32, above: i32, out: usize, width: i32, y0: i32, y1: i32): void {
  const lanes = f32x4(1, 3, 5, 7);
  for (let ly = 0; ly < lh; ly++)
    for (let lx = 0; lx < lw; lx++) {
      const lamp = v128.load(lamps + (<usize>(ly * lw + lx) << 4));
      if (strongest(lamp) <= faint) continue;
      const colour = f32x4.replace_lane(lamp, 3, 0), hangs: f32 = max<f32>(2, feet - 4 * (<f32>ly + 0.5)), x0: f32 = 4 * (<f32>lx + 0.5);
      // Sixteen cells, over 2 pi.
      const k = f32x4.splat((16 * hangs) / 6.2831855);
      for (let y = above + y0; y < above + y1; y++) {
        const deep: f32 = (2 * (<f32>y + 0.5) - feet) * flat - away, rest = f32x4.splat(deep * deep + hangs * hangs), row = out + (<usize>(y * width) << 4);
        for (let x = 0; x < width; x += 4) {
          const dx = f32x4.add(f32x4.splat(<f32>x * 2 - x0), lanes), d = f32x4.add(f32x4.mul(dx, dx), rest), e = f32x4.div(k, f32x4.mul(d, f32x4.sqrt(d))), at = row + (<usize>x << 4), some = width - x;
          v128.store(at, f32x4.add(v128.load(at), f32x4.mul(colour, v128.shuffle<f32>(e, e, 0, 0, 0, 0))));
          if (some > 1) v128.store(at, f32x4.add(v128.load(at, 16), f32x4.mul(colour, v128.shuffle<f32>(e, e, 1, 1, 1, 1))), 16);
          if (some > 2) v128.store(at, f32x4.add(v128.load(at, 32), f32x4.mul(colour, v128.shuffle<f32>(e, e, 2, 2, 2, 2))), 32);
          if (some > 3) v128.store(at, f32x4.add(v128.load(at, 48), f32x4.mul(colour, v128.shuffle<f32>(e, e, 3, 3, 3, 3))), 48);
        }
      }
    }
}

/** Slope of a surface for a change of its brightness (-1..1) over two cells. */
@inline
function foldOf(step: f32, folds: f32, steepest: f32): f32 {
  const slope: f32 = 4 * folds * step;
  return slope / (1 + abs<f32>(slope) / steepest);
}
/**
 * Which way the surface of a body looks at each of its cells, x y z of length 1 and the coverage as alpha; 0 0 0 where it is not and no neighbour is; see surfaceOf in core/lighting/roundness.ts. `stands` says how far it stands out, squared,
 * `shade` how bright its folds are, 0..1; both are 0 outside. `folds` is the slope for a change of brightness, `steepest` what it may come to. Bands are rows.
 */
export function bodySurface(matte: usize, stands: usize, shade: usize, folds: f32, steepest: f32, out: usize, width: i32, height: i32, y0: i32, y1: i32): void {
  for (let y = y0; y < y1; y++) {
    const up: isize = y > 0 ? -(width << 2) : 0, down: isize = y < height - 1 ? width << 2 : 0;
    for (let x = 0; x < width; x++) {
      const p: usize = <usize>(y * width + x), at = p << 2, left: isize = x > 0 ? -4 : 0, right: isize = x < width - 1 ? 4 : 0, u = stands + at, m = load<f32>(matte + at);
      const a = load<f32>(u + left), b = load<f32>(u + right), c = load<f32>(u + up), d = load<f32>(u + down);
      if (!(m > 0) && !(a + b + c + d > 0)) {
        v128.store(out + (p << 4), f32x4(0, 0, 0, m));
        continue;
      }
      // Half of the slope of u is the height times its own slope, so that nothing becomes infinite at the edge.
      let nx: f32 = (a - b) * 0.25, ny: f32 = (c - d) * 0.25, nz: f32 = sqrt<f32>(max<f32>(load<f32>(u), 0.25));
      const long: f32 = 1 / sqrt<f32>(nx * nx + ny * ny + nz * nz), g = shade + at;
      nx = nx * long - foldOf(load<f32>(g + right) - load<f32>(g + left), folds, steepest);
      ny = ny * long - foldOf(load<f32>(g + down) - load<f32>(g + up), folds, steepest);
      nz *= long;
      const one: f32 = 1 / sqrt<f32>(nx * nx + ny * ny + nz * nz);
      v128.store(out + (p << 4), f32x4(nx * one, ny * one, nz * one, m));
    }
  }
}
/**
 * What a light multiplies each cell of a body by: 1 and `k` times what falls on it, from before it (`side` 1) or behind it (-1). `surface` is a box of the picture at column `left` and row `top`, `wide` to a row; `potential`, `facing` and `out` are
 * whole (width x height). Light that grazes it gets `round` its edge. What lies beside the surface (0 0 0) is left. Bands are rows of the box.
 */
export function litSurface(surface: usize, potential: usize, facing: usize, k: f32, round: f32, side: f32, out: usize, left: i32, top: i32, wide: i32, width: i32, height: i32, y0: i32, y1: i32): void {
  const by = f32x4(k, k, k, 0), one = f32x4.splat(1), zero = f32x4.splat(0), per = f32x4.splat(1 / (1 + round)), edge = f32x4.splat(round), before = f32x4.splat(side);
  for (let row = y0; row < y1; row++) {
    const y = row + top, up: isize = y > 0 ? -(width << 4) : 0, down: isize = y < height - 1 ? width << 4 : 0;
    for (let i = 0; i < wide; i++) {
      const n = v128.load(surface + (<usize>(row * wide + i) << 4)), nx = v128.shuffle<f32>(n, n, 0, 0, 0, 0), ny = v128.shuffle<f32>(n, n, 1, 1, 1, 1), nz = v128.shuffle<f32>(n, n, 2, 2, 2, 2);
      if (f32x4.extract_lane(n, 0) == 0 && f32x4.extract_lane(n, 1) == 0 && f32x4.extract_lane(n, 2) == 0) continue;
      const x = left + i, at = <usize>(y * width + x) << 4, p = potential + at;
      // Over two quarter pixels, which are one cell of an eighth.
      const gx = f32x4.sub(v128.load(p + (x < width - 1 ? 16 : 0)), v128.load(p - (x > 0 ? 16 : 0))), gy = f32x4.sub(v128.load(p + down), v128.load(p + up)), gz = f32x4.mul(before, v128.load(facing + at));
      const straight = f32x4.add(f32x4.add(f32x4.mul(nx, gx), f32x4.mul(ny, gy)), f32x4.mul(nz, gz)), all = f32x4.sqrt(f32x4.add(f32x4.add(f32x4.mul(gx, gx), f32x4.mul(gy, gy)), f32x4.mul(gz, gz)));
      v128.store(out + at, f32x4.add(one, f32x4.mul(by, f32x4.pmax(zero, f32x4.mul(f32x4.add(straight, f32x4.mul(edge, all)), per)))));
    }
  }
}
