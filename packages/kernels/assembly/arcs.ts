import { smooth4, unitClamp } from './curves';
import { coreNoise4 } from './noise';

/** The hash of four keys, as core/image/random has it: arcs that were drawn before the kernel keep their cells. */
@inline
function stir1(h: i32): i32 {
  h = (h ^ (h >>> 16)) * 0x85ebca6b;
  h = (h ^ (h >>> 13)) * 0xc2b2ae35;
  return h ^ (h >>> 16);
}
@inline
function uniform(a: i32, b: i32, c: i32, d: i32): f32 {
  const h = stir1((a * 0x9e3779b1 + b * 0x85ebca77 + d * 0x27d4eb2f) ^ (c * 0xc2b2ae3d) ^ 0x2545f491);
  return <f32>(<u32>stir1(h + (a ^ (b << 15) ^ (b >>> 17)) * 0x165667b1)) * 2.3283064365386963e-10;
}
/** A number of a cell that is the same in every window. */
@inline
function cellNumber(q: i32, columns: i32, first: i32, top: i32): i32 {
  return ((q / columns + top) << 16) ^ ((q % columns + first) & 0xffff);
}

/**
 * Sparks along the edges of cells: light where the two nearest points of the cells are as far away as each other. `cells` holds the points, x y, `columns` to a
 * row. `ways` says where each place of the skin lies, x y in the cells' own pixels, for cells of `apart` pixels of the picture (`wide` to a row); 0 where that is as
 * `params` turns the picture. `held` is the body's coverage (0: everywhere). `params` is 24 floats: the middle x y; how the cells' x and y change with a pixel of the
 * picture: x by x, y by x, x by y, y by y; radius of the window, size of a cell, size of the roughness and its seed, half width of a line, the mount's growth, strength, share
 * that the body holds, first column and row of the cells, share of the edges that burn, the drawing, the seed, colour r g b, pixels between `ways`. All planes and `out` are `width` wide; bands
 * are rows from `top`.
 */
export function drawArcs(cells: usize, columns: i32, ways: usize, wide: i32, high: i32, held: usize, params: usize, out: usize, width: i32, left: i32, right: i32, top: i32, y0: i32, y1: i32): void {
  const cx = load<f32>(params), cy = load<f32>(params, 4), uByX = load<f32>(params, 8), vByX = load<f32>(params, 12), uByY = load<f32>(params, 16), vByY = load<f32>(params, 20), reach = load<f32>(params, 24), cell = load<f32>(params, 28), fine = <f32>1 / load<f32>(params, 32), rough = <i32>load<f32>(params, 36), half = load<f32>(params, 40), grown = load<f32>(params, 44), power = load<f32>(params, 48), holds = load<f32>(params, 52);
  const first = load<f32>(params, 56), row = load<f32>(params, 60), lit = load<f32>(params, 64), drawing = <i32>load<f32>(params, 68), seed = <i32>load<f32>(params, 72), colour = f32x4(load<f32>(params, 76), load<f32>(params, 80), load<f32>(params, 84), 0), apart = <f32>1 / load<f32>(params, 88);
  const lanes = f32x4(0.5, 1.5, 2.5, 3.5), zero = f32x4.splat(0), one = f32x4.splat(1), inner: f32 = max<f32>(0, half - 0.7), edgeSlope = <f32>1 / (half + 0.7 - inner), perCell = <f32>1 / cell, finer = f32x4.splat(fine), finest = f32x4.splat(fine * 2.5);
  for (let y = y0 + top; y < y1 + top; y++) for (let x = left; x < right; x += 4) {
    const onX = f32x4.sub(f32x4.add(f32x4.splat(<f32>x), lanes), f32x4.splat(cx)), onY = f32x4.splat(<f32>y + 0.5 - cy);
    const dx = f32x4.add(f32x4.mul(onX, f32x4.splat(uByX)), f32x4.mul(onY, f32x4.splat(uByY))), dy = f32x4.add(f32x4.mul(onX, f32x4.splat(vByX)), f32x4.mul(onY, f32x4.splat(vByY)));
    let far = f32x4.mul(f32x4.sqrt(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy))), f32x4.splat(1 / reach));
    let shown = v128.and(f32x4.lt(far, one), f32x4.lt(lanes, f32x4.splat(<f32>(right - x))));
    if (!v128.any_true(shown)) continue;
    const at: usize = <usize>(y * width + x) << 2;
    let kept = held ? f32x4.add(f32x4.splat(1 - holds), f32x4.mul(f32x4.splat(holds), unitClamp(v128.load(held + at)))) : one;
    shown = v128.and(shown, f32x4.ge(kept, f32x4.splat(0.01)));
    if (!v128.any_true(shown)) continue;
    let sx = dx, sy = dy;
    if (ways) {
      // Between the four cells about each pixel.
      const gx = f32x4.pmin(f32x4.splat(<f32>wide - 1.001), f32x4.pmax(zero, f32x4.sub(f32x4.mul(f32x4.add(f32x4.splat(<f32>x), lanes), f32x4.splat(apart)), f32x4.splat(0.5)))), gy = max<f32>(0, min<f32>(<f32>high - 1.001, (<f32>y + 0.5) * apart - 0.5));
      const row0 = <i32>gy, ty = gy - <f32>row0, c0 = i32x4.trunc_sat_f32x4_s(gx), tx = f32x4.sub(gx, f32x4.convert_i32x4_s(c0)), base = ways + (<usize>(row0 * wide) << 3), down: usize = <usize>wide << 3;
      for (let k = 0; k < 4; k++) {
        const column = k == 0 ? i32x4.extract_lane(c0, 0) : k == 1 ? i32x4.extract_lane(c0, 1) : k == 2 ? i32x4.extract_lane(c0, 2) : i32x4.extract_lane(c0, 3), t = k == 0 ? f32x4.extract_lane(tx, 0) : k == 1 ? f32x4.extract_lane(tx, 1) : k == 2 ? f32x4.extract_lane(tx, 2) : f32x4.extract_lane(tx, 3), p = base + (<usize>column << 3);
        const ux = (load<f32>(p) * (1 - t) + load<f32>(p, 8) * t) * (1 - ty) + (load<f32>(p + down) * (1 - t) + load<f32>(p + down, 8) * t) * ty;
        const vy = (load<f32>(p, 4) * (1 - t) + load<f32>(p, 12) * t) * (1 - ty) + (load<f32>(p + down, 4) * (1 - t) + load<f32>(p + down, 12) * t) * ty;
        sx = f32x4.replace_lane(v128.shuffle<f32>(sx, sx, 1, 2, 3, 0), 3, ux);
        sy = f32x4.replace_lane(v128.shuffle<f32>(sy, sy, 1, 2, 3, 0), 3, vy);
      }
    }
    // Edges of cells are straight; sparks are not.
    const ax = f32x4.mul(sx, finer), ay = f32x4.mul(sy, finer), bx = f32x4.mul(sx, finest), by = f32x4.mul(sy, finest), wide5 = f32x4.splat(0.5), small = f32x4.splat(0.22), mean = f32x4.splat(0.36), size = f32x4.splat(cell);
    let wx = f32x4.add(sx, f32x4.mul(size, f32x4.sub(f32x4.add(f32x4.mul(wide5, coreNoise4(ax, ay, rough)), f32x4.mul(small, coreNoise4(bx, by, rough + 1))), mean)));
    let wy = f32x4.add(sy, f32x4.mul(size, f32x4.sub(f32x4.add(f32x4.mul(wide5, coreNoise4(ax, ay, rough + 2)), f32x4.mul(small, coreNoise4(bx, by, rough + 3))), mean)));
    let fading = f32x4.mul(smooth4(f32x4.mul(f32x4.sub(one, far), f32x4.splat(1 / 0.65))), f32x4.mul(kept, f32x4.splat(power)));
    const mask = i32x4.bitmask(shown), to = out + (<usize>(y * width + x) << 4);
    for (let k = 0; k < 4; k++) {
      const px = f32x4.extract_lane(wx, 0), py = f32x4.extract_lane(wy, 0), strength = f32x4.extract_lane(fading, 0);
      wx = v128.shuffle<f32>(wx, wx, 1, 2, 3, 0);
      wy = v128.shuffle<f32>(wy, wy, 1, 2, 3, 0);
      fading = v128.shuffle<f32>(fading, fading, 1, 2, 3, 0);
      if (!((mask >> k) & 1)) continue;
      const ci = <i32>(floor<f32>(px * perCell) - first), cj = <i32>(floor<f32>(py * perCell) - row);
      let a: f32 = 1e18, b: f32 = 1e18, nearest = 0, next = 0;
      for (let j = cj - 1; j <= cj + 1; j++) for (let i = ci - 1; i <= ci + 1; i++) {
        const q = j * columns + i, p = cells + (<usize>q << 3), ex = load<f32>(p) - px, ey = load<f32>(p, 4) - py, d = ex * ex + ey * ey;
        if (d < a) {
          b = a;
          next = nearest;
          a = d;
          nearest = q;
        } else if (d < b) {
          b = d;
          next = q;
        }
      }
      // The way to the edge between the two nearest points.
      const p1 = cells + (<usize>nearest << 3), p2 = cells + (<usize>next << 3), ex = load<f32>(p1) - load<f32>(p2), ey = load<f32>(p1, 4) - load<f32>(p2, 4), edge = (grown * (b - a)) / (2 * max<f32>(1e-6, sqrt<f32>(ex * ex + ey * ey)));
      if (edge > half + 1) continue;
      // On skin the window's own cells change with the body's outline: there a cell is called by where it lies.
      const cellA = ways ? cellNumber(nearest, columns, <i32>first, <i32>row) : nearest, cellB = ways ? cellNumber(next, columns, <i32>first, <i32>row) : next, lower = min(cellA, cellB), higher = max(cellA, cellB);
      if (uniform(lower, higher, drawing, seed) > lit) continue;
      const t = max<f32>(0, min<f32>(1, (half + 0.7 - edge) * edgeSlope)), value = strength * t * t * (3 - 2 * t) * (0.45 + 0.55 * uniform(higher, lower, drawing, 9));
      v128.store(to + (<usize>k << 4), f32x4.mul(f32x4.splat(value), colour));
    }
  }
}
