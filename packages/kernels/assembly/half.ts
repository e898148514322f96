/** Floats to 16-bit half floats, round to nearest even; beyond the largest half infinite, NaN becomes 0. `width` floats a row. */
export function storeHalf(src: usize, dst: usize, width: i32, y0: i32, y1: i32): void {
  const end = y1 * width;
  let i = y0 * width;
  for (; i + 8 <= end; i += 8) {
    const at = src + (<usize>i << 2);
    v128.store(dst + (<usize>i << 1), i16x8.narrow_i32x4_u(half4(v128.load(at)), half4(v128.load(at, 16))));
  }
  for (; i < end; i++) store<u16>(dst + (<usize>i << 1), <u16>i32x4.extract_lane(half4(v128.load32_splat(src + (<usize>i << 2))), 0));
}

/** Four floats as half floats in 32-bit lanes. Subnormal halves come right by adding a number whose last bit has their weight. */
@inline
function half4(v: v128): v128 {
  const sign = v128.and(i32x4.shr_u(v, 16), i32x4.splat(0x8000)), m = v128.and(v, i32x4.splat(0x7fffffff));
  const small = i32x4.sub(f32x4.add(m, f32x4.splat(0.5)), i32x4.splat(0x3f000000));
  const odd = v128.and(i32x4.shr_u(m, 13), i32x4.splat(1));
  const normal = i32x4.shr_u(i32x4.add(i32x4.add(m, i32x4.splat(0xc8000fff)), odd), 13);
  let h = v128.bitselect(small, normal, i32x4.lt_s(m, i32x4.splat(0x38800000)));
  h = v128.bitselect(i32x4.splat(0x7c00), h, i32x4.ge_s(m, i32x4.splat(0x477ff000)));
  h = v128.or(h, sign);
  return v128.bitselect(i32x4.splat(0), h, i32x4.gt_s(m, i32x4.splat(0x7f800000)));
}

/** Half floats back to floats, exact. */
export function loadHalf(src: usize, dst: usize, width: i32, y0: i32, y1: i32): void {
  const end = y1 * width;
  let i = y0 * width;
  for (; i + 4 <= end; i += 4) v128.store(dst + (<usize>i << 2), whole4(v128.load64_zero(src + (<usize>i << 1))));
  for (; i < end; i++) store<f32>(dst + (<usize>i << 2), f32x4.extract_lane(whole4(i16x8.splat(load<i16>(src + (<usize>i << 1)))), 0));
}
@inline
function whole4(eight: v128): v128 {
  const h = i32x4.extend_low_i16x8_u(eight), sign = i32x4.shl(v128.and(h, i32x4.splat(0x8000)), 16), m = i32x4.shl(v128.and(h, i32x4.splat(0x7fff)), 13);
  // A power of two moves the exponent, for subnormal halves too; infinity keeps its own.
  const scaled = f32x4.mul(m, f32x4.splat(reinterpret<f32>(0x77800000)));
  return v128.or(v128.bitselect(i32x4.splat(0x7f800000), scaled, i32x4.ge_s(m, i32x4.splat(0x0f800000))), sign);
}
