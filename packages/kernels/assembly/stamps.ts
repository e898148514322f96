
const TILE: i32 = 32;
/** Pixels of a stamp's side, with a rim of one empty pixel; see SHAPE_BYTES in flakes.ts for what sorts shapes into tiles. */
@inline
function texel(stamp: usize, side: i32, x: i32, y: i32): v128 {
  return v128.load(stamp + (<usize>(y * side + x) << 4));
}

/**
 * Draws the sorted stamps of one side tile by tile, premultiplied, over nothing (every pixel of the picture is written) or, `onto`, over what the
 * picture holds. A shape is 16 floats: middle x y, how its stamp's pixels change with a pixel of the picture (column by x, column by y, row by x, row by y), offset of its stamp in bytes and
 * the stamp's side in pixels (both whole numbers), cover, half box x y (x negative behind the subject), 0, colour r g b and how much it covers (0 is
 * light only). Stamps are premultiplied RGBA with one empty pixel all around, read bilinearly. `ends` is what sortIntoTiles left; bands are rows of
 * tiles.
 */
export function drawStamps(shapes: usize, stamps: usize, ends: usize, entries: usize, behind: bool, onto: bool, out: usize, width: i32, height: i32, r0: i32, r1: i32): void {
  const columns = (width + TILE - 1) >> 5, rows = (height + TILE - 1) >> 5, side = behind ? columns * rows : 0, rowBytes: usize = <usize>width << 4, one = f32x4.splat(1);
  for (let ty = r0; ty < r1; ty++) {
    const top = ty << 5, h = min(TILE, height - top);
    if (!onto) memory.fill(out + <usize>top * rowBytes, 0, <usize>h * rowBytes);
    for (let tx = 0; tx < columns; tx++) {
      const t = side + ty * columns + tx, begin = t ? load<i32>(ends + (<usize>(t - 1) << 2)) : 0, end = load<i32>(ends + (<usize>t << 2)), left = tx << 5, right = min(width, left + TILE);
      for (let e = begin; e < end; e++) {
        const s = shapes + (<usize>load<i32>(entries + (<usize>e << 2)) << 6);
        const x = load<f32>(s), y = load<f32>(s, 4), du = load<f32>(s, 8), uByY = load<f32>(s, 12), dv = load<f32>(s, 16), vByY = load<f32>(s, 20), stamp = stamps + <usize>load<i32>(s, 24), size = load<i32>(s, 28), rx = abs<f32>(load<f32>(s, 36)), ry = load<f32>(s, 40);
        const middle: f32 = <f32>size * 0.5 - 0.5, most: f32 = <f32>(size - 1), cover = f32x4.splat(load<f32>(s, 32)), colour = f32x4.mul(v128.load(s, 48), cover);
        const x0 = max(left, <i32>floor<f32>(x - rx)), x1 = min(right, <i32>ceil<f32>(x + rx)), y0 = max(top, <i32>floor<f32>(y - ry)), y1 = min(top + h, <i32>ceil<f32>(y + ry));
        for (let py = y0; py < y1; py++) {
          const dy: f32 = <f32>py + 0.5 - y, dx: f32 = <f32>x0 + 0.5 - x;
          let u: f32 = dx * du + dy * uByY + middle, v: f32 = dx * dv + dy * vByY + middle, at = out + <usize>py * rowBytes + (<usize>x0 << 4);
          for (let px = x0; px < x1; px++) {
            if (u > 0 && v > 0 && u < most && v < most) {
              const ui = <i32>u, vi = <i32>v, fu = f32x4.splat(u - <f32>ui), fv = f32x4.splat(v - <f32>vi);
              const a = texel(stamp, size, ui, vi), b = texel(stamp, size, ui + 1, vi), d = texel(stamp, size, ui, vi + 1), f = texel(stamp, size, ui + 1, vi + 1);
              const upper = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), fu)), lower = f32x4.add(d, f32x4.mul(f32x4.sub(f, d), fu)), paint = f32x4.mul(f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), fv)), colour);
              v128.store(at, f32x4.add(paint, f32x4.mul(v128.load(at), f32x4.sub(one, v128.shuffle<f32>(paint, paint, 3, 3, 3, 3)))));
            }
            u += du;
            v += dv;
            at += 16;
          }
        }
      }
    }
  }
}
