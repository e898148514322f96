import { scatter, unit4 } from './noise';
import { scratchAt } from './scratch';

@inline
function code(at: usize, wide: bool): u32 {
  return wide ? <u32>load<u16>(at) : <u32>load<u8>(at);
}

@inline
function decodeAny(codes: usize, table: usize, channels: i32, wide: bool, out: usize, count: i32): void {
  const size: usize = wide ? 2 : 1, step: usize = <usize>channels * size, top: f32 = wide ? 65535 : 255;
  if (channels == 4) {
    for (let p = 0; p < count; p++) {
      const a: f32 = <f32>code(codes + 3 * size, wide) / top;
      store<f32>(out, load<f32>(table + (<usize>code(codes, wide) << 2)) * a);
      store<f32>(out, load<f32>(table + (<usize>code(codes + size, wide) << 2)) * a, 4);
      store<f32>(out, load<f32>(table + (<usize>code(codes + 2 * size, wide) << 2)) * a, 8);
      store<f32>(out, a, 12);
      codes += step; out += 16;
    }
    return;
  }
  const green: usize = channels == 1 ? 0 : size, blue: usize = channels == 1 ? 0 : 2 * size;
  for (let p = 0; p < count; p++) {
    store<f32>(out, load<f32>(table + (<usize>code(codes, wide) << 2)));
    store<f32>(out, load<f32>(table + (<usize>code(codes + green, wide) << 2)), 4);
    store<f32>(out, load<f32>(table + (<usize>code(codes + blue, wide) << 2)), 8);
    store<f32>(out, 1, 12);
    codes += step; out += 16;
  }
}

/**
 * Codes (1, 3 or 4 channels, 8 bit or `wide` 16 bit, straight alpha) to linear premultiplied light by a table of float32 with an
 * entry for each code.
 */
export function decodeCodes(codes: usize, table: usize, channels: i32, wide: bool, out: usize, width: i32, y0: i32, y1: i32): void {
  codes += <usize>(y0 * width * channels) << (wide ? 1 : 0);
  out += <usize>(y0 * width) << 4;
  if (channels == 3 && !wide) decodeAny(codes, table, 3, false, out, (y1 - y0) * width);
  else if (wide) decodeAny(codes, table, channels, true, out, (y1 - y0) * width);
  else decodeAny(codes, table, channels, false, out, (y1 - y0) * width);
}

@inline
function mixAny(a: usize, b: usize, table: usize, channels: i32, wide: bool, part: f32, out: usize, count: i32): void {
  const size: usize = wide ? 2 : 1, step: usize = <usize>channels * size, top: f32 = wide ? 65535 : 255, rest: f32 = 1 - part;
  const green: usize = channels == 1 ? 0 : size, blue: usize = channels == 1 ? 0 : 2 * size, p = f32x4.splat(part), r = f32x4.splat(rest);
  for (let i = 0; i < count; i++) {
    const aa: f32 = channels == 4 ? <f32>code(a + 3 * size, wide) / top : 1, ba: f32 = channels == 4 ? <f32>code(b + 3 * size, wide) / top : 1;
    const first = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(1), 0, load<f32>(table + (<usize>code(a, wide) << 2))), 1, load<f32>(table + (<usize>code(a + green, wide) << 2))), 2, load<f32>(table + (<usize>code(a + blue, wide) << 2)));
    const second = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(1), 0, load<f32>(table + (<usize>code(b, wide) << 2))), 1, load<f32>(table + (<usize>code(b + green, wide) << 2))), 2, load<f32>(table + (<usize>code(b + blue, wide) << 2)));
    v128.store(out, f32x4.add(f32x4.mul(channels == 4 ? f32x4.mul(first, f32x4.splat(aa)) : first, r), f32x4.mul(channels == 4 ? f32x4.mul(second, f32x4.splat(ba)) : second, p)));
    a += step; b += step; out += 16;
  }
}
/** Two frames of codes, as decodeCodes takes them, mixed in linear light: `part` of the second one. One pass in place of two decodings and their sum. */
export function decodeMixed(a: usize, b: usize, table: usize, channels: i32, wide: bool, part: f32, out: usize, width: i32, y0: i32, y1: i32): void {
  const from = <usize>(y0 * width * channels) << (wide ? 1 : 0);
  out += <usize>(y0 * width) << 4;
  if (channels == 3 && !wide) mixAny(a + from, b + from, table, 3, false, part, out, (y1 - y0) * width);
  else if (wide) mixAny(a + from, b + from, table, channels, true, part, out, (y1 - y0) * width);
  else mixAny(a + from, b + from, table, channels, false, part, out, (y1 - y0) * width);
}

@inline
function reduceAny(codes: usize, table: usize, channels: i32, wide: bool, width: i32, height: i32, factor: i32, out: usize, outWidth: i32, y0: i32, y1: i32): void {
  const size: usize = wide ? 2 : 1, step: usize = <usize>channels * size, top: f32 = wide ? 65535 : 255, rowBytes: usize = <usize>width * step;
  const green: usize = channels == 1 ? 0 : size, blue: usize = channels == 1 ? 0 : 2 * size;
  for (let cy = y0; cy < y1; cy++) {
    const rows = min(factor, height - cy * factor);
    for (let cx = 0; cx < outWidth; cx++) {
      const columns = min(factor, width - cx * factor);
      let r: f32 = 0, g: f32 = 0, b: f32 = 0, alpha: f32 = 0;
      for (let y = 0; y < rows; y++) {
        let p = codes + <usize>(cy * factor + y) * rowBytes + <usize>(cx * factor) * step;
        for (let x = 0; x < columns; x++) {
          const a: f32 = channels == 4 ? <f32>code(p + 3 * size, wide) / top : 1;
          r += load<f32>(table + (<usize>code(p, wide) << 2)) * a;
          g += load<f32>(table + (<usize>code(p + green, wide) << 2)) * a;
          b += load<f32>(table + (<usize>code(p + blue, wide) << 2)) * a;
          alpha += a;
          p += step;
        }
      }
      const k: f32 = 1 / <f32>(rows * columns), o = out + (<usize>(cy * outWidth + cx) << 4);
      store<f32>(o, r * k);
      store<f32>(o, g * k, 4);
      store<f32>(o, b * k, 8);
      store<f32>(o, channels == 4 ? alpha * k : 1, 12);
    }
  }
}

/** Two by two of three channels of 8 bits: half-size drafts. Sums run in the order of reduceBytes. */
function halveBytes(codes: usize, table: usize, width: i32, out: usize, y0: i32, y1: i32): void {
  const rowBytes: usize = <usize>(3 * width), w = width >> 1, part = f32x4.splat(0.25);
  let o = out + (<usize>(y0 * w) << 4);
  for (let cy = y0; cy < y1; cy++) {
    let a = codes + <usize>(2 * cy) * rowBytes, b = a + rowBytes;
    for (let cx = 0; cx < w; cx++) {
      const r: f32 = at(table, a) + at(table, a + 3) + at(table, b) + at(table, b + 3), g: f32 = at(table, a + 1) + at(table, a + 4) + at(table, b + 1) + at(table, b + 4), l: f32 = at(table, a + 2) + at(table, a + 5) + at(table, b + 2) + at(table, b + 5);
      v128.store(o, f32x4.mul(f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(4), 0, r), 1, g), 2, l), part));
      a += 6; b += 6; o += 16;
    }
  }
}
@inline
function at(table: usize, code: usize): f32 {
  return load<f32>(table + (<usize>load<u8>(code) << 2));
}

/** Three channels of 8 bits: most plates. */
function reduceBytes(codes: usize, table: usize, width: i32, height: i32, factor: i32, out: usize, outWidth: i32, y0: i32, y1: i32): void {
  const rowBytes: usize = <usize>(3 * width), whole = width / factor, block: usize = <usize>(3 * factor), full: f32 = 1 / <f32>(factor * factor);
  for (let cy = y0; cy < y1; cy++) {
    const rows = min(factor, height - cy * factor), top = codes + <usize>(cy * factor) * rowBytes;
    let o = out + (<usize>(cy * outWidth) << 4);
    for (let cx = 0; cx < outWidth; cx++) {
      const bytes: usize = cx < whole ? block : <usize>(3 * (width - cx * factor)), k: f32 = cx < whole && rows == factor ? full : 1 / <f32>(rows * <i32>(bytes / 3));
      let r: f32 = 0, g: f32 = 0, b: f32 = 0, line = top + <usize>cx * block;
      for (let y = 0; y < rows; y++) {
        for (let p = line, end = line + bytes; p < end; p += 3) {
          r += load<f32>(table + (<usize>load<u8>(p) << 2));
          g += load<f32>(table + (<usize>load<u8>(p, 1) << 2));
          b += load<f32>(table + (<usize>load<u8>(p, 2) << 2));
        }
        line += rowBytes;
      }
      store<f32>(o, r * k);
      store<f32>(o, g * k, 4);
      store<f32>(o, b * k, 8);
      store<f32>(o, 1, 12);
      o += 16;
    }
  }
}

/** The same at 1/`factor` of the size: the mean of blocks in linear light, edge blocks of what there is. Bands are of the result. */
export function decodeReduced(codes: usize, table: usize, channels: i32, wide: bool, width: i32, height: i32, factor: i32, out: usize, outWidth: i32, y0: i32, y1: i32): void {
  if (channels == 3 && !wide && factor == 2 && !((width | height) & 1)) halveBytes(codes, table, width, out, y0, y1);
  else if (channels == 3 && !wide) reduceBytes(codes, table, width, height, factor, out, outWidth, y0, y1);
  else if (channels == 3) reduceAny(codes, table, 3, true, width, height, factor, out, outWidth, y0, y1);
  else if (wide) reduceAny(codes, table, channels, true, width, height, factor, out, outWidth, y0, y1);
  else reduceAny(codes, table, channels, false, width, height, factor, out, outWidth, y0, y1);
}

/**
 * A value through a curve that is stored as pairs (value, step to the next) over the float's own bits: `1 << (23 - shift)` entries an
 * octave from 2^-14 up to 1, linear between. Below it the curve is a straight line of slope `low`; it ends at 1.
 */
@inline
export function curveAt(x: f32, table: usize, shift: i32, low: f32): f32 {
  const bits = reinterpret<i32>(x);
  if (bits >= 0x3f800000) return x != x ? 0 : 1;
  if (bits < 0x38800000) return bits > 0 ? x * low : 0;
  const from = bits - 0x38800000, entry = table + (<usize>(from >> shift) << 3);
  return load<f32>(entry) + load<f32>(entry, 4) * <f32>(from & ((1 << shift) - 1));
}

/** Three values through a curve each, as curveAt does it for one; the last lane is not looked up. */
@inline
export function threeThrough(v: v128, red: usize, green: usize, blue: usize, shift: i32, low: v128): v128 {
  const first = i32x4.splat(0x38800000), from = i32x4.sub(i32x4.max_s(i32x4.min_s(v, i32x4.splat(0x3f800000)), first), first), at = i32x4.shl(i32x4.shr_u(from, shift), 3);
  const r = v128.load64_zero(red + i32x4.extract_lane(at, 0)), g = v128.load64_zero(green + i32x4.extract_lane(at, 1)), b = v128.load64_zero(blue + i32x4.extract_lane(at, 2));
  const rg = v128.shuffle<f32>(r, g, 0, 4, 1, 5);
  const value = v128.shuffle<f32>(rg, b, 0, 1, 4, 4), step = v128.shuffle<f32>(rg, b, 2, 3, 5, 5);
  const stored = f32x4.add(value, f32x4.mul(step, f32x4.convert_i32x4_s(v128.and(from, i32x4.splat((1 << shift) - 1)))));
  // Below the table a straight line; below 0, and for what is no number, 0.
  const straight = f32x4.pmax(f32x4.splat(0), f32x4.mul(v, low));
  return v128.and(v128.bitselect(straight, stored, i32x4.lt_s(v, first)), f32x4.eq(v, v));
}

/** Straight colours of a pixel (`four` channels: divided by its alpha where that lies between 0 and 1). */
@inline
function straightOf(v: v128, four: bool): v128 {
  if (!four) return v;
  const a = v128.shuffle<f32>(v, v, 3, 3, 3, 3), one = f32x4.splat(1), part = v128.and(f32x4.gt(a, f32x4.splat(0)), f32x4.lt(a, one));
  return f32x4.div(v, v128.bitselect(a, one, part));
}
/** The encoded value times `top` with the noise of its dither, or in the fourth lane of four the alpha, rounded. */
@inline
function stepOf(encoded: v128, v: v128, four: bool, top: v128, noise: v128): v128 {
  const c = f32x4.add(f32x4.mul(encoded, top), noise);
  if (!four) return i32x4.trunc_sat_f32x4_s(c);
  const alpha = f32x4.add(f32x4.mul(f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), v)), top), f32x4.splat(0.5));
  return i32x4.trunc_sat_f32x4_s(v128.bitselect(alpha, c, i32x4(0, 0, 0, -1)));
}

@inline
function shortsAny(src: usize, table: usize, shift: i32, low: f32, four: bool, out: usize, count: i32): void {
  const lines = f32x4.splat(low), top = f32x4.splat(65535), half = f32x4.splat(0.5);
  for (let p = 0; p < count; p++) {
    const v = v128.load(src), c = stepOf(threeThrough(straightOf(v, four), table, table, table, shift, lines), v, four, top, half), packed = i16x8.narrow_i32x4_u(c, c);
    if (four) v128.store64_lane(out, packed, 0);
    else {
      v128.store32_lane(out, packed, 0);
      v128.store16_lane(out, packed, 2, 4);
    }
    src += 16; out += four ? 8 : 6;
  }
}
/** Linear premultiplied light to 16-bit codes with 3 or 4 channels (straight alpha), through an encoding curve (see curveAt). */
export function encodeShorts(src: usize, table: usize, shift: i32, low: f32, channels: i32, out: usize, width: i32, y0: i32, y1: i32): void {
  const p = y0 * width, count = (y1 - y0) * width;
  if (channels == 4) shortsAny(src + (<usize>p << 4), table, shift, low, true, out + (<usize>p << 3), count);
  else shortsAny(src + (<usize>p << 4), table, shift, low, false, out + <usize>(6 * p), count);
}

/** A curve as a polynomial of the fourth root: c0 + c1 t + … + c5 t^5 from `toe` on, a straight line below; held within 0..1, NaN becomes 0. */
@inline
function rootCurve(x: v128, c0: v128, c1: v128, c2: v128, c3: v128, c4: v128, c5: v128, toe: v128, low: v128): v128 {
  const zero = f32x4.splat(0), v = f32x4.pmin(f32x4.splat(1), f32x4.pmax(zero, x)), t = f32x4.sqrt(f32x4.sqrt(v));
  let y = f32x4.add(f32x4.mul(c5, t), c4);
  y = f32x4.add(f32x4.mul(y, t), c3);
  y = f32x4.add(f32x4.mul(y, t), c2);
  y = f32x4.add(f32x4.mul(y, t), c1);
  y = f32x4.add(f32x4.mul(y, t), c0);
  return v128.bitselect(f32x4.mul(v, low), y, f32x4.lt(v, toe));
}

@inline
function bytesAny(src: usize, curve: usize, four: bool, frame: i32, out: usize, p: i32, end: i32): void {
  const c0 = v128.load32_splat(curve), c1 = v128.load32_splat(curve + 4), c2 = v128.load32_splat(curve + 8), c3 = v128.load32_splat(curve + 12), c4 = v128.load32_splat(curve + 16), c5 = v128.load32_splat(curve + 20), toe = v128.load32_splat(curve + 24), low = v128.load32_splat(curve + 28);
  const lanes = i32x4(0, 1, 2, 3), key = i32x4.splat(frame * 0x85ebca77 + 0x27d4eb2f), top = f32x4.splat(255), half = f32x4.splat(0.5), spare = scratchAt();
  for (; p < end; p += 4) {
    const n = f32x4.add(f32x4.mul(f32x4.sub(unit4(scatter(i32x4.add(i32x4.mul(i32x4.add(i32x4.splat(p), lanes), i32x4.splat(0x9e3779b1)), key))), half), f32x4.splat(0.92)), half);
    const v0 = v128.load(src), v1 = v128.load(src, 16), v2 = v128.load(src, 32), v3 = v128.load(src, 48);
    const a = stepOf(rootCurve(straightOf(v0, four), c0, c1, c2, c3, c4, c5, toe, low), v0, four, top, v128.shuffle<f32>(n, n, 0, 0, 0, 0));
    const b = stepOf(rootCurve(straightOf(v1, four), c0, c1, c2, c3, c4, c5, toe, low), v1, four, top, v128.shuffle<f32>(n, n, 1, 1, 1, 1));
    const c = stepOf(rootCurve(straightOf(v2, four), c0, c1, c2, c3, c4, c5, toe, low), v2, four, top, v128.shuffle<f32>(n, n, 2, 2, 2, 2));
    const d = stepOf(rootCurve(straightOf(v3, four), c0, c1, c2, c3, c4, c5, toe, low), v3, four, top, v128.shuffle<f32>(n, n, 3, 3, 3, 3));
    const bytes = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_u(a, b), i16x8.narrow_i32x4_u(c, d)), some = end - p, to = some >= 4 ? out : spare;
    if (four) v128.store(to, bytes);
    else {
      const packed = i8x16.shuffle(bytes, bytes, 0, 1, 2, 4, 5, 6, 8, 9, 10, 12, 13, 14, 0, 0, 0, 0);
      v128.store64_lane(to, packed, 0);
      v128.store32_lane(to, packed, 2, 8);
    }
    const size: usize = four ? 4 : 3;
    if (some < 4) memory.copy(out, spare, size * <usize>some);
    src += 64; out += size << 2;
  }
}
/**
 * Linear premultiplied light to 8-bit codes with 3 or 4 channels (straight alpha), dithered by uniform noise of at most 0.46 of a step keyed by
 * pixel and frame. `curve` is 8 floats, see rootCurve: c0 to c5, the toe, and the slope below it. The picture must be readable up to a multiple of
 * four pixels.
 */
export function encodeBytes(src: usize, curve: usize, channels: i32, frame: i32, out: usize, width: i32, y0: i32, y1: i32): void {
  const p = y0 * width, end = y1 * width;
  if (channels == 4) bytesAny(src + (<usize>p << 4), curve, true, frame, out + (<usize>p << 2), p, end);
  else bytesAny(src + (<usize>p << 4), curve, false, frame, out + <usize>(3 * p), p, end);
}
