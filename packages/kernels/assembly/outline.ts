import { smooth4 } from './curves';
import { scratchAt, storeSome } from './scratch';

/**
 * Coverage of an outline's box from its signed areas: each row of `sums` (`stride` floats, the box's width and two more) holds by how much the cover
 * changes at each pixel. Writes the box at (left, top) of a plane. Bands are rows of the box.
 */
export function coverOutline(sums: usize, stride: i32, left: i32, top: i32, across: i32, out: usize, width: i32, y0: i32, y1: i32): void {
  for (let y = y0; y < y1; y++) {
    let p = sums + (<usize>(y * stride) << 2), o = out + (<usize>((top + y) * width + left) << 2), s: f32 = 0;
    for (let x = 0; x < across; x++) {
      s += load<f32>(p);
      store<f32>(o, min<f32>(1, abs<f32>(s)));
      p += 4; o += 4;
    }
  }
}

/**
 * Softens the box of a covered outline: each pixel takes a smooth step of its distance to the line, 0 at `reach` outside and 1 at `reach` inside.
 * `line` is `points` pairs of float32 in pixels of the plane, closed; what is inside is where `out` holds at least a half. Bands are rows of the box.
 */
export function featherOutline(line: usize, points: i32, reach: f32, left: i32, top: i32, across: i32, out: usize, width: i32, y0: i32, y1: i32): void {
  const near = scratchAt(), lanes = f32x4(0.5, 1.5, 2.5, 3.5), far = f32x4.splat(Infinity), zero = f32x4.splat(0), one = f32x4.splat(1), half = f32x4.splat(0.5), part = f32x4.splat(0.5 / reach), most: f32 = reach * reach, limit = f32x4.splat(most);
  const groups = (across + 3) >> 2, rowBytes: usize = <usize>groups << 4;
  // Squared distances, for as many rows of the band at a time as the working memory holds.
  const rows = max(1, min(y1 - y0, 8));
  for (let begin = y0; begin < y1; begin += rows) {
    const end = min(y1, begin + rows);
    for (let p = near, stop = near + <usize>(end - begin) * rowBytes; p < stop; p += 16) v128.store(p, far);
    for (let k = 0; k < points; k++) {
      const a = line + (<usize>k << 3), b = line + (<usize>(k + 1 < points ? k + 1 : 0) << 3);
      const ax: f32 = load<f32>(a) - <f32>left, ay: f32 = load<f32>(a, 4) - <f32>top, dx: f32 = load<f32>(b) - load<f32>(a), dy: f32 = load<f32>(b, 4) - load<f32>(a, 4), l: f32 = dx * dx + dy * dy, inverse: f32 = l > 0 ? 1 / l : 0;
      const from = max(begin, <i32>floor<f32>(min<f32>(ay, ay + dy) - reach)), to = min(end, <i32>ceil<f32>(max<f32>(ay, ay + dy) + reach));
      const x0 = max(0, <i32>floor<f32>(min<f32>(ax, ax + dx) - reach)) & ~3, x1 = min(across, <i32>ceil<f32>(max<f32>(ax, ax + dx) + reach));
      for (let y = from; y < to; y++) {
        const py: f32 = <f32>y + 0.5 - ay, along = f32x4.splat(py * dy);
        for (let x = x0; x < x1; x += 4) {
          const px = f32x4.add(f32x4.splat(<f32>x - ax), lanes), t = f32x4.pmin(one, f32x4.pmax(zero, f32x4.mul(f32x4.add(f32x4.mul(px, f32x4.splat(dx)), along), f32x4.splat(inverse))));
          const ex = f32x4.sub(px, f32x4.mul(t, f32x4.splat(dx))), ey = f32x4.sub(f32x4.splat(py), f32x4.mul(t, f32x4.splat(dy)));
          const at = near + <usize>(y - begin) * rowBytes + (<usize>x << 2);
          v128.store(at, f32x4.pmin(v128.load(at), f32x4.add(f32x4.mul(ex, ex), f32x4.mul(ey, ey))));
        }
      }
    }
    for (let y = begin; y < end; y++)
      for (let x = 0; x < across; x += 4) {
        const d = v128.load(near + <usize>(y - begin) * rowBytes + (<usize>x << 2)), at = out + (<usize>((top + y) * width + left + x) << 2), cover = v128.load(at), inside = f32x4.ge(cover, half);
        const away = f32x4.sqrt(d), signed = v128.bitselect(away, f32x4.neg(away), inside);
        // Beyond the reach it is 0 or 1, whatever part of a pixel the area had.
        const soft = v128.bitselect(smooth4(f32x4.add(f32x4.mul(signed, part), half)), v128.and(inside, one), f32x4.lt(d, limit));
        storeSome(at, soft, across - x);
      }
  }
}

/**
 * Softens the box of a covered outline whose feather differs along its line: each pixel takes a smooth step of its distance to the nearest place of the
 * line, 1 from that place's inner reach on and 0 from its outer one, with the whole edge `grow` further out. `line` is `points` times four float32: x and
 * y in pixels of the plane, inner and outer reach; `reach` is at least the largest of these and the size of `grow`. Bands are rows of the box.
 */
export function featherByVertex(line: usize, points: i32, grow: f32, reach: f32, left: i32, top: i32, across: i32, out: usize, width: i32, y0: i32, y1: i32): void {
  const near = scratchAt(), lanes = f32x4(0.5, 1.5, 2.5, 3.5), far = f32x4.splat(Infinity), zero = f32x4.splat(0), one = f32x4.splat(1), half = f32x4.splat(0.5), more = f32x4.splat(grow);
  const groups = (across + 3) >> 2, rowBytes: usize = <usize>groups << 4;
  // Squared distance, inner and outer reach, for as many rows of the band at a time as the working memory holds.
  const rows = max(1, min(y1 - y0, 4)), plane = rowBytes * <usize>rows;
  for (let begin = y0; begin < y1; begin += rows) {
    const end = min(y1, begin + rows);
    for (let p = near, stop = near + <usize>(end - begin) * rowBytes; p < stop; p += 16) {
      v128.store(p, far);
      v128.store(p + plane, half);
      v128.store(p + 2 * plane, half);
    }
    for (let k = 0; k < points; k++) {
      const a = line + (<usize>k << 4), b = line + (<usize>(k + 1 < points ? k + 1 : 0) << 4);
      const ax: f32 = load<f32>(a) - <f32>left, ay: f32 = load<f32>(a, 4) - <f32>top, dx: f32 = load<f32>(b) - load<f32>(a), dy: f32 = load<f32>(b, 4) - load<f32>(a, 4), l: f32 = dx * dx + dy * dy, inverse: f32 = l > 0 ? 1 / l : 0;
      const inner = f32x4.splat(load<f32>(a, 8)), innerRise = f32x4.splat(load<f32>(b, 8) - load<f32>(a, 8)), outer = f32x4.splat(load<f32>(a, 12)), outerRise = f32x4.splat(load<f32>(b, 12) - load<f32>(a, 12));
      const from = max(begin, <i32>floor<f32>(min<f32>(ay, ay + dy) - reach)), to = min(end, <i32>ceil<f32>(max<f32>(ay, ay + dy) + reach));
      const x0 = max(0, <i32>floor<f32>(min<f32>(ax, ax + dx) - reach)) & ~3, x1 = min(across, <i32>ceil<f32>(max<f32>(ax, ax + dx) + reach));
      for (let y = from; y < to; y++) {
        const py: f32 = <f32>y + 0.5 - ay, along = f32x4.splat(py * dy);
        for (let x = x0; x < x1; x += 4) {
          const px = f32x4.add(f32x4.splat(<f32>x - ax), lanes), t = f32x4.pmin(one, f32x4.pmax(zero, f32x4.mul(f32x4.add(f32x4.mul(px, f32x4.splat(dx)), along), f32x4.splat(inverse))));
          const ex = f32x4.sub(px, f32x4.mul(t, f32x4.splat(dx))), ey = f32x4.sub(f32x4.splat(py), f32x4.mul(t, f32x4.splat(dy))), d = f32x4.add(f32x4.mul(ex, ex), f32x4.mul(ey, ey));
          const at = near + <usize>(y - begin) * rowBytes + (<usize>x << 2), nearer = f32x4.lt(d, v128.load(at));
          if (!v128.any_true(nearer)) continue;
          v128.store(at, v128.bitselect(d, v128.load(at), nearer));
          v128.store(at + plane, v128.bitselect(f32x4.add(inner, f32x4.mul(t, innerRise)), v128.load(at + plane), nearer));
          v128.store(at + 2 * plane, v128.bitselect(f32x4.add(outer, f32x4.mul(t, outerRise)), v128.load(at + 2 * plane), nearer));
        }
      }
    }
    for (let y = begin; y < end; y++)
      for (let x = 0; x < across; x += 4) {
        const from = near + <usize>(y - begin) * rowBytes + (<usize>x << 2), at = out + (<usize>((top + y) * width + left + x) << 2), inside = f32x4.ge(v128.load(at), half);
        const away = f32x4.sqrt(v128.load(from)), signed = f32x4.add(v128.bitselect(away, f32x4.neg(away), inside), more);
        const inner = v128.load(from + plane), outer = v128.load(from + 2 * plane);
        const share = f32x4.div(f32x4.add(signed, outer), f32x4.add(inner, outer));
        storeSome(at, smooth4(share), across - x);
      }
  }
}
