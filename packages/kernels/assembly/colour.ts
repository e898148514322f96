/** A float as pictures keep it: what is no number becomes 0, and what is endless the largest half float. */
@inline
function kept(v: f32): f32 {
  return v != v ? 0 : min<f32>(max<f32>(v, -65504), 65504);
}

/**
 * Float codes (3 or 4 channels) to a picture. `straight` colours are multiplied with their alpha, others have been.
 */
export function decodeFloats(codes: usize, channels: i32, straight: bool, out: usize, width: i32, y0: i32, y1: i32): void {
  codes += <usize>(y0 * width * channels) << 2;
  out += <usize>(y0 * width) << 4;
  const step: usize = <usize>channels << 2, green: usize = channels == 1 ? 0 : 4, blue: usize = channels == 1 ? 0 : 8;
  for (let p = (y1 - y0) * width; p > 0; p--) {
    const a: f32 = channels == 4 ? min<f32>(max<f32>(kept(load<f32>(codes, 12)), 0), 1) : 1, k: f32 = straight ? a : 1;
    store<f32>(out, kept(load<f32>(codes)) * k);
    store<f32>(out, kept(load<f32>(codes + green)) * k, 4);
    store<f32>(out, kept(load<f32>(codes + blue)) * k, 8);
    store<f32>(out, a, 12);
    codes += step; out += 16;
  }
}

@inline
function code(at: usize, wide: bool): f32 {
  return wide ? <f32>load<u16>(at) : <f32>load<u8>(at);
}
/** A code that need not be whole through a table of `top` + 1 entries, linear between them. */
@inline
function between(table: usize, value: f32, top: f32): f32 {
  const v = min(value, top), i = min(<i32>v, <i32>top - 1), entry = table + (<usize>i << 2), t: f32 = v - <f32>i;
  return load<f32>(entry) + (load<f32>(entry, 4) - load<f32>(entry)) * t;
}
/**
 * Codes of four channels (8 bit or `wide` 16 bit) whose colours were multiplied with their alpha as they stood, before the transfer curve is taken
 * off: divided again, through a table of float32 with an entry for each code, and multiplied in linear light.
 */
export function decodeMultiplied(codes: usize, table: usize, wide: bool, out: usize, width: i32, y0: i32, y1: i32): void {
  const size: usize = wide ? 2 : 1, top: f32 = wide ? 65535 : 255;
  codes += <usize>(y0 * width * 4) * size;
  out += <usize>(y0 * width) << 4;
  for (let p = (y1 - y0) * width; p > 0; p--) {
    const alpha = code(codes + 3 * size, wide), a: f32 = alpha / top, k: f32 = alpha > 0 ? top / alpha : 0;
    for (let c: usize = 0; c < 3; c++) store<f32>(out + (c << 2), between(table, code(codes + c * size, wide) * k, top) * a);
    store<f32>(out, a, 12);
    codes += 4 * size; out += 16;
  }
}

/**
 * Straight colours of a picture through one table of `count` float32 over `from` to `from + span`, in place; linear between the entries, and beyond
 * the ends in the straight line of the last two.
 */
export function throughTable(picture: usize, table: usize, count: i32, from: f32, span: f32, width: i32, y0: i32, y1: i32): void {
  picture += <usize>(y0 * width) << 4;
  const scale: f32 = <f32>(count - 1) / span, last = count - 2;
  for (let p = (y1 - y0) * width; p > 0; p--) {
    const alpha = load<f32>(picture, 12), part = alpha > 0 && alpha < 1, a: f32 = part ? alpha : 1;
    for (let c: usize = 0; c < 3; c++) {
      const at = picture + (c << 2), x: f32 = ((part ? load<f32>(at) / a : load<f32>(at)) - from) * scale;
      const i = min(max(<i32>floor<f32>(x), 0), last), entry = table + (<usize>i << 2);
      store<f32>(at, (load<f32>(entry) + (load<f32>(entry, 4) - load<f32>(entry)) * (x - <f32>i)) * a);
    }
    picture += 16;
  }
}

/** Straight colours through three tables of `size` triples (one for each channel), in place; held at both ends. `domain`: three lows, then three scales. */
export function throughLines(picture: usize, lut: usize, size: i32, domain: usize, width: i32, y0: i32, y1: i32): void {
  picture += <usize>(y0 * width) << 4;
  const top: f32 = <f32>(size - 1);
  for (let p = (y1 - y0) * width; p > 0; p--) {
    const alpha = load<f32>(picture, 12), part = alpha > 0 && alpha < 1, a: f32 = part ? alpha : 1;
    for (let c: usize = 0; c < 3; c++) {
      const at = picture + (c << 2), x: f32 = min<f32>(max<f32>(((part ? load<f32>(at) / a : load<f32>(at)) - load<f32>(domain + (c << 2))) * load<f32>(domain + (c << 2), 12), 0), 1) * top;
      const i = min(<i32>x, size - 2), entry = lut + <usize>i * 12 + (c << 2), t: f32 = x - <f32>i;
      store<f32>(at, (load<f32>(entry) + (load<f32>(entry, 12) - load<f32>(entry)) * t) * a);
    }
    picture += 16;
  }
}

@inline
function triple(at: usize): v128 {
  return v128.load(at);
}
/**
 * Straight colours through a cube of `size` values a side (triples of float32, red running fastest), in place; tetrahedral between them, held at its
 * faces. `domain`: three lows, then three scales. The cube must be readable four bytes behind its end.
 */
export function throughCube(picture: usize, cube: usize, size: i32, domain: usize, width: i32, y0: i32, y1: i32): void {
  picture += <usize>(y0 * width) << 4;
  const top: f32 = <f32>(size - 1), sg: usize = <usize>size * 12, sb: usize = sg * <usize>size, last = size - 2;
  for (let p = (y1 - y0) * width; p > 0; p--) {
    const alpha = load<f32>(picture, 12), part = alpha > 0 && alpha < 1, a: f32 = part ? alpha : 1;
    const r: f32 = min<f32>(max<f32>((load<f32>(picture) / a - load<f32>(domain)) * load<f32>(domain, 12), 0), 1) * top;
    const g: f32 = min<f32>(max<f32>((load<f32>(picture, 4) / a - load<f32>(domain, 4)) * load<f32>(domain, 16), 0), 1) * top;
    const b: f32 = min<f32>(max<f32>((load<f32>(picture, 8) / a - load<f32>(domain, 8)) * load<f32>(domain, 20), 0), 1) * top;
    const ir = min(<i32>r, last), ig = min(<i32>g, last), ib = min(<i32>b, last);
    const x: f32 = r - <f32>ir, y: f32 = g - <f32>ig, z: f32 = b - <f32>ib;
    const base = cube + <usize>ir * 12 + <usize>ig * sg + <usize>ib * sb, far = base + 12 + sg + sb;
    // The six tetrahedra of a cell, told by the order of the three parts: first step, second step.
    let first: usize, second: usize, most: f32, middle: f32, least: f32;
    if (x >= y) {
      if (y >= z) { first = 12; second = 12 + sg; most = x; middle = y; least = z; }
      else if (x >= z) { first = 12; second = 12 + sb; most = x; middle = z; least = y; }
      else { first = sb; second = sb + 12; most = z; middle = x; least = y; }
    } else if (x >= z) { first = sg; second = sg + 12; most = y; middle = x; least = z; }
    else if (y >= z) { first = sg; second = sg + sb; most = y; middle = z; least = x; }
    else { first = sb; second = sb + sg; most = z; middle = y; least = x; }
    let v = f32x4.mul(triple(base), f32x4.splat(1 - most));
    v = f32x4.add(v, f32x4.mul(triple(base + first), f32x4.splat(most - middle)));
    v = f32x4.add(v, f32x4.mul(triple(base + second), f32x4.splat(middle - least)));
    v = f32x4.add(v, f32x4.mul(triple(far), f32x4.splat(least)));
    v128.store(picture, f32x4.replace_lane(f32x4.mul(v, f32x4.splat(a)), 3, alpha));
    picture += 16;
  }
}
