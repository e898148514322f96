import { scratchAt } from './scratch';

/** Pixels of a row that are read of all frames at once: frames lie far apart in memory. */
const TILE: i32 = 16;
/** Steps of brightness into which votes are counted (four codes of 255 each), and empty ones at both ends. */
const STEPS: i32 = 64;
const PAD: i32 = 4;
const TOP: f32 = 65535;
/** Votes this far from the best brightness speak of the same thing: 16 of 255. */
const NEAR: f32 = 4112;
/** Colours further than this from the mean of those near it are left out of the next mean: 12 of 255. */
const CLOSE: f32 = 3084;
/** Share of the frames in which a background has to be seen to be trusted. */
const ENOUGH: f32 = 0.12;

@inline
function sum4(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3));
}

/**
 * The value at each pixel that is most stable over time, of a strip of rows of many frames. Every frame votes for its brightness; where most votes lie
 * close together is the background; the colours near it are averaged.
 *
 * `strip` has codes of red, green and blue by [row][frame][column], 16-bit where `wide` and 8-bit otherwise; `votes` float32 by [row of cells][column of cells][frame], where frames are
 * counted up to `padded`, a multiple of 4, those beyond `frames` with votes of 0. `first` is the place of the strip's first row of pixels among the rows
 * of cells, between their middles; cells are `side` pixels wide and high. `out` gets float32 red, green, blue (0..65535) and doubt (0..1) a pixel.
 */
export function voteStrip(
  strip: usize, wide: bool, frames: i32, padded: i32, votes: usize, columns: i32, cells: i32, first: f32, side: f32, out: usize, width: i32, y0: i32, y1: i32
): void {
  const line: usize = <usize>padded << 2, rowBytes: usize = <usize>width * (wide ? 6 : 3), reds = scratchAt(),
    greens = reds + <usize>TILE * line, blues = greens + <usize>TILE * line, light = blues + <usize>TILE * line,
    weight = light + line, counted = weight + line, seen = counted + (<usize>(STEPS + 2 * PAD) << 2),
    scale: f32 = <f32>(STEPS - 1) / TOP, zero = f32x4.splat(0), one = f32x4.splat(1),
    fall = f32x4.splat(1 / (3 * CLOSE * CLOSE));
  memory.fill(reds, 0, 3 * <usize>TILE * line);
  for (let y = y0; y < y1; y++) {
    const cy = max<f32>(0, min<f32>(<f32>(cells - 1), first + <f32>y / side)), ya = <i32>cy, yb = min(cells - 1, ya + 1), ty = cy - <f32>ya;
    const upper = votes + <usize>(ya * columns) * line, lower = votes + <usize>(yb * columns) * line;
    for (let x = 0; x < width; x++) {
      const inTile = x % TILE;
      if (inTile == 0) {
        const n = min(TILE, width - x);
        for (let f = 0; f < frames; f++) {
          let from = strip + <usize>(y * frames + f) * rowBytes + <usize>x * (wide ? 6 : 3), to = reds + (<usize>f << 2);
          if (wide)
            for (let i = 0; i < n; i++) {
              store<f32>(to, <f32>load<u16>(from));
              store<f32>(to + <usize>TILE * line, <f32>load<u16>(from, 2));
              store<f32>(to + 2 * <usize>TILE * line, <f32>load<u16>(from, 4));
              from += 6; to += line;
            }
          else
            for (let i = 0; i < n; i++) {
              store<f32>(to, 257 * <f32>load<u8>(from));
              store<f32>(to + <usize>TILE * line, 257 * <f32>load<u8>(from, 1));
              store<f32>(to + 2 * <usize>TILE * line, 257 * <f32>load<u8>(from, 2));
              from += 3; to += line;
            }
        }
      }
      const r0 = reds + <usize>inTile * line, g0 = greens + <usize>inTile * line, b0 = blues + <usize>inTile * line;
      const cx = max<f32>(0, min<f32>(<f32>(columns - 1), (<f32>x + 0.5) / side - 0.5)), xa = <i32>cx, xb = min(columns - 1, xa + 1), tx = cx - <f32>xa;
      const a = upper + <usize>xa * line, b = upper + <usize>xb * line, c = lower + <usize>xa * line, d = lower + <usize>xb * line;
      const ka = f32x4.splat((1 - tx) * (1 - ty)), kb = f32x4.splat(tx * (1 - ty)), kc = f32x4.splat((1 - tx) * ty), kd = f32x4.splat(tx * ty);
      memory.fill(counted, 0, <usize>(STEPS + 2 * PAD) << 3);
      let reach: i32 = 0;
      for (let at: usize = 0; at < line; at += 16) {
        const w = f32x4.add(
          f32x4.add(f32x4.mul(ka, v128.load(a + at)), f32x4.mul(kb, v128.load(b + at))),
          f32x4.add(f32x4.mul(kc, v128.load(c + at)), f32x4.mul(kd, v128.load(d + at)))
        );
        // Rec.709 luma of the codes.
        const l = f32x4.add(
          f32x4.add(f32x4.mul(f32x4.splat(0.2126), v128.load(r0 + at)), f32x4.mul(f32x4.splat(0.7152), v128.load(g0 + at))),
          f32x4.mul(f32x4.splat(0.0722), v128.load(b0 + at))
        );
        v128.store(light + at, l);
        v128.store(weight + at, w);
        for (let k: usize = 0; k < 16; k += 4) {
          const vote = load<f32>(weight + at + k);
          if (vote <= 0) continue;
          reach++;
          const step = load<f32>(light + at + k) * scale, i = <i32>step, t = step - <f32>i, bin = counted + (<usize>(PAD + i) << 2);
          store<f32>(bin, load<f32>(bin) + vote * (1 - t));
          store<f32>(bin, load<f32>(bin, 4) + vote * t, 4);
          // Frames, whatever their votes: what stands behind somebody is seen for a short time, but always the same.
          const tally = bin + (<usize>(STEPS + 2 * PAD) << 2);
          store<f32>(tally, load<f32>(tally) + 1);
        }
      }
      const to = out + (<usize>(y * width + x) << 4);
      if (reach == 0) {
        v128.store(to, f32x4.replace_lane(zero, 3, 1));
        continue;
      }
      let best: i32 = PAD, most: f32 = -1;
      for (let i = PAD; i < PAD + STEPS; i++) {
        const p = counted + (<usize>(i - 3) << 2);
        const s = load<f32>(p) + load<f32>(p, 24) + 2 * (load<f32>(p, 4) + load<f32>(p, 20)) + 3 * (load<f32>(p, 8) + load<f32>(p, 16)) + 4 * load<f32>(p, 12);
        if (s > most) { most = s; best = i; }
      }
      let rival: f32 = 0;
      for (let i = PAD; i < PAD + STEPS; i++)
        if (i < best - 5 || i > best + 5) {
          const p = seen + (<usize>(i - 1) << 2);
          rival = max<f32>(rival, load<f32>(p) + load<f32>(p, 4) + load<f32>(p, 8));
        }
      const value = f32x4.splat(<f32>(best - PAD) / scale), nearest = f32x4.splat(NEAR);
      let n = zero, r = zero, g = zero, l = zero;
      for (let at: usize = 0; at < line; at += 16) {
        const w = v128.load(weight + at);
        const inside = v128.and(f32x4.gt(w, zero), f32x4.le(f32x4.abs(f32x4.sub(v128.load(light + at), value)), nearest));
        const vote = v128.and(inside, w);
        n = f32x4.add(n, vote);
        r = f32x4.add(r, f32x4.mul(vote, v128.load(r0 + at)));
        g = f32x4.add(g, f32x4.mul(vote, v128.load(g0 + at)));
        l = f32x4.add(l, f32x4.mul(vote, v128.load(b0 + at)));
      }
      let count = sum4(n), mr = sum4(r) / count, mg = sum4(g) / count, mb = sum4(l) / count;
      // Two colours may be as bright: votes say first which of them it is, from twice as far; then all that is close to it counts alike.
      for (let round = 0; round < 4; round++) {
        const voting = round < 2, reach2 = f32x4.mul(fall, f32x4.splat(voting ? 0.25 : 1));
        const cr = f32x4.splat(mr), cg = f32x4.splat(mg), cb = f32x4.splat(mb);
        n = zero; r = zero; g = zero; l = zero;
        for (let at: usize = 0; at < line; at += 16) {
          const red = v128.load(r0 + at), green = v128.load(g0 + at), blue = v128.load(b0 + at);
          const dr = f32x4.sub(red, cr), dg = f32x4.sub(green, cg), db = f32x4.sub(blue, cb);
          const far = f32x4.add(f32x4.add(f32x4.mul(dr, dr), f32x4.mul(dg, dg)), f32x4.mul(db, db));
          const w = v128.load(weight + at);
          let q = v128.and(f32x4.gt(w, zero), f32x4.pmax(zero, f32x4.sub(one, f32x4.mul(far, reach2))));
          if (voting) q = f32x4.mul(q, w);
          n = f32x4.add(n, q);
          r = f32x4.add(r, f32x4.mul(q, red));
          g = f32x4.add(g, f32x4.mul(q, green));
          l = f32x4.add(l, f32x4.mul(q, blue));
        }
        const sum = sum4(n);
        if (!(sum > 0)) break;
        count = sum; mr = sum4(r) / sum; mg = sum4(g) / sum; mb = sum4(l) / sum;
      }
      // Something else is seen again and again, or this is seen too seldom.
      const doubt = max<f32>(1.6 * rival / max<f32>(1, count) - 0.16, 1 - count / (<f32>reach * ENOUGH));
      store<f32>(to, mr);
      store<f32>(to, mg, 4);
      store<f32>(to, mb, 8);
      store<f32>(to, min<f32>(1, max<f32>(0, doubt)), 12);
    }
  }
}

/** Weights of Catmull-Rom's cubic for the four values around a place `t` (0..1) between the second and the third of them. */
@inline
function cubic(t: f32): v128 {
  const s = t * t, q = s * t;
  return f32x4(0.5 * (2 * s - q - t), 0.5 * (3 * q - 5 * s + 2), 0.5 * (4 * s - 3 * q + t), 0.5 * (q - s));
}
@inline
function codeAt(at: usize, wide: bool): v128 {
  return wide
    ? f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(at)))
    : f32x4.mul(f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(at)))), f32x4.splat(257));
}
/** A code (0..65535) through a table of 4097 steps and one more. */
@inline
function through(table: usize, code: f32): f32 {
  const at = max<f32>(0, min<f32>(4095.99, code * (4096 / TOP))), i = <i32>at, p = table + (<usize>i << 2), a = load<f32>(p);
  return a + (load<f32>(p, 4) - a) * (at - <f32>i);
}

/**
 * Codes of a frame seen from where another frame's camera stood, by a cubic, and through tables of gain: 16-bit codes of red, green and blue.
 * `from` has rows `fromTop` to before `fromTop + fromRows` of a frame of this size, `channels` codes a pixel (16 readable bytes behind it); `map` nine
 * float64 that take a place of the result to one of the frame; `gains` three tables of 4098 float32, or 0 for none. The rows of the result, from `top` of its picture on, lie
 * `stride` bytes apart. Beyond the frame its edge goes on.
 */
export function steadyCodes(
  from: usize, wide: bool, channels: i32, width: i32, height: i32, fromTop: i32, fromRows: i32, map: usize, gains: usize, top: i32, stride: i32, out: usize, y0: i32, y1: i32
): void {
  const pixel: usize = <usize>channels << (wide ? 1 : 0), line: usize = pixel * <usize>width;
  const m0 = load<f64>(map), m1 = load<f64>(map, 8), m2 = load<f64>(map, 16), m3 = load<f64>(map, 24), m4 = load<f64>(map, 32), m5 = load<f64>(map, 40),
    m6 = load<f64>(map, 48), m7 = load<f64>(map, 56), m8 = load<f64>(map, 64), last = min(height, fromTop + fromRows) - 1, grey = channels < 3;
  for (let y = y0; y < y1; y++) {
    let to = out + <usize>y * <usize>stride;
    const v = <f64>(top + y) + 0.5;
    for (let x = 0; x < width; x++) {
      const u = <f64>x + 0.5, w = 1 / (m6 * u + m7 * v + m8);
      const sx = <f32>max<f64>(0, min<f64>(<f64>(width - 1), (m0 * u + m1 * v + m2) * w - 0.5)), sy = <f32>max<f64>(<f64>fromTop, min<f64>(<f64>last, (m3 * u + m4 * v + m5) * w - 0.5));
      const xi = <i32>sx, yi = <i32>sy, kx = cubic(sx - <f32>xi), ky = cubic(sy - <f32>yi);
      const xa = <usize>max(0, xi - 1) * pixel, xb = <usize>xi * pixel, xc = <usize>min(width - 1, xi + 1) * pixel, xd = <usize>min(width - 1, xi + 2) * pixel;
      const k0 = f32x4.splat(f32x4.extract_lane(kx, 0)), k1 = f32x4.splat(f32x4.extract_lane(kx, 1)), k2 = f32x4.splat(f32x4.extract_lane(kx, 2)), k3 = f32x4.splat(f32x4.extract_lane(kx, 3));
      let sum = f32x4.splat(0);
      for (let j = 0; j < 4; j++) {
        const row = from + <usize>(max(fromTop, min(last, yi - 1 + j)) - fromTop) * line;
        const across = f32x4.add(
          f32x4.add(f32x4.mul(k0, codeAt(row + xa, wide)), f32x4.mul(k1, codeAt(row + xb, wide))),
          f32x4.add(f32x4.mul(k2, codeAt(row + xc, wide)), f32x4.mul(k3, codeAt(row + xd, wide)))
        );
        const k = j == 0 ? f32x4.extract_lane(ky, 0) : j == 1 ? f32x4.extract_lane(ky, 1) : j == 2 ? f32x4.extract_lane(ky, 2) : f32x4.extract_lane(ky, 3);
        sum = f32x4.add(sum, f32x4.mul(f32x4.splat(k), across));
      }
      let r = f32x4.extract_lane(sum, 0), g = grey ? r : f32x4.extract_lane(sum, 1), b = grey ? r : f32x4.extract_lane(sum, 2);
      if (gains) {
        r = through(gains, r); g = through(gains + 16392, g); b = through(gains + 32784, b);
      }
      store<u16>(to, <u16>nearest<f32>(max<f32>(0, min<f32>(TOP, r))));
      store<u16>(to, <u16>nearest<f32>(max<f32>(0, min<f32>(TOP, g))), 2);
      store<u16>(to, <u16>nearest<f32>(max<f32>(0, min<f32>(TOP, b))), 4);
      to += 6;
    }
  }
}
