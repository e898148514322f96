type Floats = Float32Array<ArrayBufferLike>;
type Curve = (x: number) => number;
const unit = (x: number) => Math.min(1, Math.max(0, x));

/** The standard's alpha composition with a blend of straight colours (W3C Compositing and Blending Level 1); empty fronts leave the back. */
export function blendTwin(front: Floats, back: Floats, opacity: number, blend: (b: number, s: number) => number, out: Floats): void {
  for (let i = 0; i < out.length; i += 4) {
    const sa = front[i + 3]!,
      as = sa * opacity,
      ab = back[i + 3]!;
    for (let c = 0; c < 4; c++) {
      const cs = front[i + c]! / sa,
        cb = ab > 0 ? back[i + c]! / ab : 0;
      if (!(as > 0)) out[i + c] = back[i + c]!;
      else if (c === 3) out[i + c] = as + ab - as * ab;
      else out[i + c] = cs * as * (1 - ab) + back[i + c]! * (1 - as) + as * ab * blend(cb, cs);
    }
  }
}
const hardLight = (b: number, s: number) => (s <= 0.5 ? 2 * b * s : b + (2 * s - 1) - b * (2 * s - 1));
/** Blends on display-encoded values, in the order of the kernel's modes. */
export const encodedBlends: readonly ((b: number, s: number) => number)[] = [
  Math.max,
  Math.min,
  (b, s) => hardLight(s, b),
  hardLight,
  (b, s) => (s <= 0.5 ? b - (1 - 2 * s) * b * (1 - b) : b + (2 * s - 1) * ((b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b)) - b)),
  (b, s) => Math.abs(b - s),
];

/** One value of a graded channel: the curve on the straight colour, its last slope above 1, as it is below 0. */
export function gradeCurveTwin(value: number, alpha: number, curve: Curve, endSlope: number): number {
  const part = alpha > 0 && alpha < 1 ? alpha : 1,
    x = value / part;
  return (x <= 0 ? x : x >= 1 ? curve(1) + (x - 1) * endSlope : curve(x)) * part;
}

/** How much of a difference of square roots counts as subject; see assembly/matte.ts. */
export function differenceAmountTwin(d: ArrayLike<number>, clean: ArrayLike<number>, low: number, high: number, drop: boolean): number {
  const three = [0, 1, 2],
    ratios = three.map((c) => 1 + d[c]! / (Math.sqrt(Math.max(0, clean[c]!)) + 0.02)),
    most = Math.max(...ratios),
    least = Math.min(...ratios),
    smooth = (t: number) => unit(t) * unit(t) * (3 - 2 * unit(t));
  let amount = Math.max(...three.map((c) => Math.abs(d[c]!)));
  if (drop && three.every((c) => d[c]! < 0) && least > 0.35) amount *= smooth((most - least - 0.06) / 0.08);
  return smooth((amount - low) / (high - low));
}
