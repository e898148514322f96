import { curveAt } from './transfer';

@inline
function hardLight(b: f32, s: f32): f32 {
  return s <= 0.5 ? b * 2 * s : b + (2 * s - 1) - b * (2 * s - 1);
}
@inline
function softLight(b: f32, s: f32): f32 {
  if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b);
  const d: f32 = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : sqrt<f32>(b);
  return b + (2 * s - 1) * (d - b);
}
@inline
function mixed(mode: i32, b: f32, s: f32): f32 {
  switch (mode) {
    case 0: return max(b, s);
    case 1: return min(b, s);
    case 2: return hardLight(s, b);
    case 3: return hardLight(b, s);
    case 4: return softLight(b, s);
    default: return abs(b - s);
  }
}

/**
 * Blends on display-encoded values clamped to 0..1 (W3C Compositing and Blending Level 1, 9.1), with the standard's alpha composition: lighten 0,
 * darken 1, overlay 2, hard light 3, soft light 4, difference 5. `encode` and `decode` are curves as curveAt reads them, `shift` for both; `lows`
 * holds the slopes of their straight beginnings.
 */
export function blendEncoded(mode: i32, front: usize, back: usize, opacity: f32, encode: usize, decode: usize, lows: usize, shift: i32, out: usize, width: i32, y0: i32, y1: i32): void {
  const from: usize = <usize>(y0 * width) << 4, end = front + (<usize>(y1 * width) << 4), lowIn = load<f32>(lows), lowOut = load<f32>(lows, 4);
  front += from; back += from; out += from;
  while (front < end) {
    const sa = load<f32>(front, 12), as: f32 = sa * opacity, ab = load<f32>(back, 12);
    if (as > 0) {
      const ks: f32 = 1 / sa, kb: f32 = ab > 0 ? 1 / ab : 0;
      for (let c: usize = 0; c < 3; c++) {
        const cs: f32 = load<f32>(front + (c << 2)) * ks, under = load<f32>(back + (c << 2)), cb: f32 = under * kb;
        const m = curveAt(mixed(mode, curveAt(cb, encode, shift, lowIn), curveAt(cs, encode, shift, lowIn)), decode, shift, lowOut);
        store<f32>(out + (c << 2), cs * as * (1 - ab) + under * (1 - as) + as * ab * m);
      }
      store<f32>(out, as + ab - as * ab, 12);
    } else v128.store(out, v128.load(back));
    front += 16; back += 16; out += 16;
  }
}
