import { fallOff4, smooth4 as smooth, unitClamp } from './curves';

/** The integral of `smooth` from 0 to t. */
@inline
function smoothSum(t: v128): v128 {
  const c = unitClamp(t), c2 = f32x4.mul(c, c), over = f32x4.pmax(f32x4.splat(0), f32x4.sub(t, f32x4.splat(1)));
  return f32x4.add(f32x4.sub(f32x4.mul(c2, c), f32x4.mul(f32x4.mul(c2, c2), f32x4.splat(0.5))), over);
}
/** The share of a time in which what goes evenly from a to b has come beyond `at`. */
@inline
function reached(a: f32, b: f32, at: v128): v128 {
  const most = max(a, b), d = most - min(a, b);
  return d > 1e-6
    ? unitClamp(f32x4.mul(f32x4.sub(f32x4.splat(most), at), f32x4.splat(1 / d)))
    : v128.and(f32x4.lt(at, f32x4.splat(a)), f32x4.splat(1));
}

/** Bytes of a node of a line: its place x y and its move while the shutter is open x y. */
const NODE: i32 = 16;

/**
 * Light along a line of straight pieces, laid into `out` (pixels of 16 bytes) where it is stronger than what is there: a core with a soft edge in a halo.
 * `nodes` are pieces + 1 nodes of 4 floats. `table` holds, for each of `places` places along the line, how wide it is there, 0..1, and after all of
 * those by how much its halo is wider there than at its plain width. `params` is 24 floats: width of the core, softness of its edge, pixels by
 * which the edge is softer still, width of the halo (1 / e), its strength, taper (below 0 towards the beginning), 1 where the halo narrows with the
 * beginning, reach beyond the line, strength, gain of the core, how far the tail has gone along the line when the shutter opens and when it closes, 0..1,
 * the head likewise, how far beyond a joint a piece still counts (pixels), 1 where the line moves while the shutter is open, colour of the core, 1 where
 * the edge never reaches inside of the middle, colour of the halo, places. What moves across itself is the mean of its places; the core's in closed
 * form, the halo's as that of a bell. Bands are rows from `top`.
 */
export function lightAlong(nodes: usize, pieces: i32, table: usize, params: usize, out: usize, width: i32, top: i32, y0: i32, y1: i32): void {
  const coreWidth = load<f32>(params), soft = load<f32>(params, 4), edge = load<f32>(params, 8), halo = load<f32>(params, 12), haloStrength = load<f32>(params, 16), taper = load<f32>(params, 20), narrows = load<f32>(params, 24) > 0, far = load<f32>(params, 28), power = load<f32>(params, 32), gain = load<f32>(params, 36);
  const tail0 = load<f32>(params, 40), tail1 = load<f32>(params, 44), head0 = load<f32>(params, 48), head1 = load<f32>(params, 52), beyond = load<f32>(params, 56), moves = load<f32>(params, 60) > 0, blunt = load<f32>(params, 76) > 0, places = <i32>load<f32>(params, 92), last = f32x4.splat(<f32>(places - 1));
  const coreColour = f32x4(load<f32>(params, 64), load<f32>(params, 68), load<f32>(params, 72), 0), haloColour = f32x4(load<f32>(params, 80), load<f32>(params, 84), load<f32>(params, 88), 0);
  const zero = f32x4.splat(0), one = f32x4.splat(1), half = f32x4.splat(0.5), lanes = f32x4(0.5, 1.5, 2.5, 3.5), travels = head0 != head1 || tail0 != tail1, first = min(tail0, tail1), end = max(head0, head1), breaths = table + (<usize>places << 2), count = <f32>pieces;
  for (let i = 0; i < pieces; i++) {
    const node = nodes + <usize>(i * NODE), ax = load<f32>(node), ay = load<f32>(node, 4), dx = load<f32>(node, 16) - ax, dy = load<f32>(node, 20) - ay, l2 = dx * dx + dy * dy;
    const from = max<f32>(0, min<f32>(1, first * count - <f32>i)), to = max<f32>(0, min<f32>(1, end * count - <f32>i));
    if (to <= from) continue;
    const length = sqrt<f32>(l2), per: f32 = l2 > 0 ? 1 / l2 : 0, joint = beyond / max<f32>(1, length), follows = i > 0 && first * count < <f32>i, goesOn = i < pieces - 1 && end * count > <f32>(i + 1);
    const lowest: f32 = follows ? -joint : -1e30, highest: f32 = goesOn ? 1 + joint : 1e30;
    // Its move, and what of that goes across it.
    const mx0 = load<f32>(node, 8), my0 = load<f32>(node, 12), mxd = load<f32>(node, 24) - mx0, myd = load<f32>(node, 28) - my0, nx: f32 = length > 0 ? -dy / length : 0, ny: f32 = length > 0 ? dx / length : 0;
    const x0 = max(0, <i32>floor<f32>(min(ax, ax + dx) - far)), x1 = min(width, <i32>ceil<f32>(max(ax, ax + dx) + far)), from0 = max(y0 + top, <i32>floor<f32>(min(ay, ay + dy) - far)), to0 = min(y1 + top, <i32>ceil<f32>(max(ay, ay + dy) + far));
    for (let y = from0; y < to0; y++) {
      const py = <f32>y + 0.5 - ay;
      // Columns at which this row crosses the piece between its ends and its joints.
      let left = x0, right = x1;
      if (abs(dx) > 1e-3 && l2 > 0) {
        const a = ax + (max<f32>(lowest, -1e6) * l2 - py * dy) / dx, b = ax + (min<f32>(highest, 1e6) * l2 - py * dy) / dx;
        left = max(x0, <i32>max<f32>(-1e6, min<f32>(1e6, floor<f32>(min(a, b)) - 1)));
        right = min(x1, <i32>max<f32>(-1e6, min<f32>(1e6, ceil<f32>(max(a, b)) + 2)));
      }
      const row = out + (<usize>(y * width) << 4), pyv = f32x4.splat(py), alongY = f32x4.splat(py * dy);
      for (let x = left; x < right; x += 4) {
        const px = f32x4.sub(f32x4.add(f32x4.splat(<f32>x), lanes), f32x4.splat(ax));
        const raw = l2 > 0 ? f32x4.mul(f32x4.add(f32x4.mul(px, f32x4.splat(dx)), alongY), f32x4.splat(per)) : f32x4.splat(from);
        const s = f32x4.pmin(f32x4.splat(to), f32x4.pmax(f32x4.splat(from), raw)), ex = f32x4.sub(px, f32x4.mul(s, f32x4.splat(dx))), ey = f32x4.sub(pyv, f32x4.mul(s, f32x4.splat(dy))), d2 = f32x4.add(f32x4.mul(ex, ex), f32x4.mul(ey, ey));
        let seen = v128.and(v128.and(f32x4.le(d2, f32x4.splat(far * far)), f32x4.ge(raw, f32x4.splat(lowest))), f32x4.le(raw, f32x4.splat(highest)));
        const some = right - x;
        if (some < 4) seen = v128.and(seen, f32x4.lt(lanes, f32x4.splat(<f32>some)));
        if (!v128.any_true(seen)) continue;
        const d = f32x4.sqrt(d2), along = f32x4.mul(f32x4.add(f32x4.splat(<f32>i), s), f32x4.splat(1 / count));
        const at = i32x4.shl(i32x4.trunc_sat_f32x4_s(f32x4.nearest(f32x4.mul(along, last))), 2);
        const q0 = <usize>i32x4.extract_lane(at, 0), q1 = <usize>i32x4.extract_lane(at, 1), q2 = <usize>i32x4.extract_lane(at, 2), q3 = <usize>i32x4.extract_lane(at, 3);
        const begins = f32x4(load<f32>(table + q0), load<f32>(table + q1), load<f32>(table + q2), load<f32>(table + q3)), breath = f32x4(load<f32>(breaths + q0), load<f32>(breaths + q1), load<f32>(breaths + q2), load<f32>(breaths + q3));
        const thick = f32x4.mul(begins, taper >= 0 ? f32x4.sub(one, f32x4.mul(f32x4.splat(taper), along)) : f32x4.add(one, f32x4.mul(f32x4.splat(taper), f32x4.sub(one, along))));
        // A core thinner than a pixel keeps its light by being fainter.
        const thin = f32x4.mul(f32x4.splat(coreWidth * 0.5), thick), wide = f32x4.pmax(half, thin);
        const outer = f32x4.add(f32x4.mul(wide, f32x4.splat(1 + soft)), f32x4.splat(edge)), inner0 = f32x4.sub(f32x4.mul(wide, f32x4.splat(1 - soft)), f32x4.splat(edge)), inner = blunt ? f32x4.pmax(zero, inner0) : inner0, slope = f32x4.div(one, f32x4.sub(outer, inner));
        let core: v128, across = zero;
        if (!moves) core = smooth(f32x4.mul(f32x4.sub(outer, d), slope));
        else {
          across = f32x4.pmax(f32x4.splat(0.02), f32x4.abs(f32x4.add(f32x4.mul(f32x4.add(f32x4.splat(mx0), f32x4.mul(f32x4.splat(mxd), s)), f32x4.splat(nx)), f32x4.mul(f32x4.add(f32x4.splat(my0), f32x4.mul(f32x4.splat(myd), s)), f32x4.splat(ny)))));
          // Beyond an end the edge is round: it is narrower across the line, and fainter.
          const off = f32x4.abs(f32x4.add(f32x4.mul(ex, f32x4.splat(nx)), f32x4.mul(ey, f32x4.splat(ny)))), on2 = f32x4.pmax(zero, f32x4.sub(d2, f32x4.mul(off, off))), on = f32x4.sqrt(on2), kept = f32x4.div(smooth(f32x4.mul(f32x4.sub(outer, on), slope)), f32x4.pmax(f32x4.splat(1e-3), smooth(f32x4.mul(outer, slope))));
          const shown1 = f32x4.pmax(f32x4.splat(1e-3), f32x4.sqrt(f32x4.pmax(zero, f32x4.sub(f32x4.mul(outer, outer), on2)))), solid = v128.bitselect(inner, f32x4.sqrt(f32x4.pmax(zero, f32x4.sub(f32x4.mul(inner, inner), on2))), f32x4.lt(on2, f32x4.splat(1e-4))), steep = f32x4.div(one, f32x4.pmax(f32x4.splat(1e-3), f32x4.sub(shown1, solid)));
          const side = f32x4.mul(across, half), whole = smoothSum(f32x4.mul(shown1, steep)), right1 = f32x4.add(off, side), left1 = f32x4.sub(off, side);
          const up = f32x4.sub(whole, smoothSum(f32x4.mul(f32x4.sub(shown1, right1), steep))), down0 = f32x4.sub(whole, smoothSum(f32x4.mul(f32x4.sub(shown1, f32x4.abs(left1)), steep)));
          const down = v128.bitselect(f32x4.neg(down0), down0, f32x4.lt(left1, zero));
          core = f32x4.mul(kept, f32x4.pmax(zero, f32x4.div(f32x4.sub(up, down), f32x4.mul(steep, across))));
        }
        core = f32x4.mul(f32x4.mul(core, f32x4.splat(gain)), f32x4.div(thin, wide));
        let veil = zero;
        if (halo > 0) {
          let spread = f32x4.mul(f32x4.mul(f32x4.splat(halo), f32x4.add(f32x4.splat(0.35), f32x4.mul(f32x4.splat(0.65), thick))), f32x4.add(one, breath));
          if (narrows) spread = f32x4.mul(spread, f32x4.add(f32x4.splat(0.3), f32x4.mul(f32x4.splat(0.7), begins)));
          let close = f32x4.mul(spread, f32x4.splat(0.4)), bright = f32x4.splat(0.75), brightClose = f32x4.splat(0.25);
          if (moves) {
            const more = f32x4.mul(f32x4.mul(across, across), f32x4.splat(1 / 6.0)), wider = f32x4.sqrt(f32x4.add(f32x4.mul(spread, spread), more)), closer = f32x4.sqrt(f32x4.add(f32x4.mul(close, close), more));
            bright = f32x4.mul(bright, f32x4.div(spread, wider));
            brightClose = f32x4.mul(brightClose, f32x4.div(close, closer));
            spread = wider;
            close = closer;
          }
          const a = f32x4.div(d2, f32x4.mul(spread, spread)), b = f32x4.div(d2, f32x4.mul(close, close)), ends = smooth(f32x4.mul(f32x4.sub(f32x4.splat(far), d), f32x4.splat(1 / (0.2 * far))));
          veil = f32x4.mul(f32x4.mul(f32x4.mul(f32x4.splat(haloStrength), f32x4.add(one, f32x4.mul(f32x4.splat(0.6), breath))), f32x4.add(f32x4.mul(bright, fallOff4(a)), f32x4.mul(brightClose, fallOff4(b)))), ends);
          veil = v128.and(veil, f32x4.gt(spread, zero));
        }
        let shown = f32x4.splat(power);
        if (travels) shown = f32x4.mul(shown, f32x4.pmax(zero, f32x4.sub(reached(head0 + 1e-6, head1 + 1e-6, along), reached(tail0, tail1, along))));
        core = v128.and(seen, f32x4.mul(core, shown));
        veil = v128.and(seen, f32x4.mul(veil, shown));
        const to0 = row + (<usize>x << 4), n = min(4, some);
        for (let k = 0; k < n; k++) {
          const pixel = to0 + (<usize>k << 4), c = f32x4.extract_lane(core, 0), h = f32x4.extract_lane(veil, 0);
          if (c > 0 || h > 0) v128.store(pixel, f32x4.pmax(v128.load(pixel), f32x4.add(f32x4.mul(f32x4.splat(c), coreColour), f32x4.mul(f32x4.splat(h), haloColour))));
          core = v128.shuffle<f32>(core, core, 1, 2, 3, 0);
          veil = v128.shuffle<f32>(veil, veil, 1, 2, 3, 0);
        }
      }
    }
  }
}
