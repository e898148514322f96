/** Display colours of one kind in a picture: their mean, and how far they stray from it, 0..1. */
export interface Shade {
  colour: readonly [number, number, number];
  spread: number;
}
/** Rounds in which means and members follow each other. */
const ROUNDS = 6;
/** A shade of a smaller share of all pixels is left out. */
const LEAST_SHARE = 0.002;

/**
 * The shades of which a list of colours consists, at the most so many: k-means, begun with colours that lie far from each other, so that the same list gives
 * the same shades.
 * @param colours red, green, blue of one after another. @example paletteOf(Float32Array.of(0, 0, 0, 1, 1, 1), 2).length // 2
 */
export function paletteOf(colours: Float32Array, most: number): Shade[] {
  const n = colours.length / 3;
  if (!n) return [];
  const means = new Float64Array(3 * most),
    nearest = new Float64Array(n).fill(Infinity);
  // Each further beginning is the colour that lies farthest from all before it.
  means.set(colours.subarray(0, 3));
  let k = 1;
  for (; k < most; k++) {
    const red = means[3 * k - 3]!,
      green = means[3 * k - 2]!,
      blue = means[3 * k - 1]!;
    let far = 1e-4,
      at = -1;
    for (let i = 0, q = 0; i < n; i++, q += 3) {
      const r = colours[q]! - red,
        g = colours[q + 1]! - green,
        b = colours[q + 2]! - blue,
        d = r * r + g * g + b * b;
      if (d < nearest[i]!) nearest[i] = d;
      if (nearest[i]! > far) {
        far = nearest[i]!;
        at = i;
      }
    }
    if (at < 0) break;
    means.set(colours.subarray(3 * at, 3 * at + 3), 3 * k);
  }
  const sums = new Float64Array(5 * k);
  for (let round = 0; round < ROUNDS; round++) {
    sums.fill(0);
    for (let q = 0; q < 3 * n; q += 3) {
      const red = colours[q]!,
        green = colours[q + 1]!,
        blue = colours[q + 2]!;
      let least = Infinity,
        own = 0;
      for (let j = 0; j < k; j++) {
        const r = red - means[3 * j]!,
          g = green - means[3 * j + 1]!,
          b = blue - means[3 * j + 2]!,
          d = r * r + g * g + b * b;
        if (d < least) {
          least = d;
          own = j;
        }
      }
      sums[5 * own]! += red;
      sums[5 * own + 1]! += green;
      sums[5 * own + 2]! += blue;
      sums[5 * own + 3]! += least;
      sums[5 * own + 4]!++;
    }
    for (let j = 0; j < k; j++)
      if (sums[5 * j + 4]! > 0) for (let c = 0; c < 3; c++) means[3 * j + c] = sums[5 * j + c]! / sums[5 * j + 4]!;
  }
  return Array.from({ length: k }, (_, j): Shade & { share: number } => ({
    colour: [means[3 * j]!, means[3 * j + 1]!, means[3 * j + 2]!],
    spread: Math.sqrt(sums[5 * j + 3]! / Math.max(1, 3 * sums[5 * j + 4]!)),
    share: sums[5 * j + 4]! / n,
  }))
    .filter(({ share }) => share >= LEAST_SHARE)
    .map(({ colour, spread }) => ({ colour, spread }));
}
