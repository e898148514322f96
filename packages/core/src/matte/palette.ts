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
  const distance = (i: number, c: ArrayLike<number>, at: number): number => {
    const [r, g, b] = [colours[3 * i]! - c[at]!, colours[3 * i + 1]! - c[at + 1]!, colours[3 * i + 2]! - c[at + 2]!];
    return r * r + g * g + b * b;
  };
  // Each further beginning is the colour that lies farthest from all before it.
  const means: number[] = [colours[0]!, colours[1]!, colours[2]!],
    nearest = new Float64Array(n).fill(Infinity);
  while (means.length < 3 * most) {
    let [far, at] = [1e-4, -1];
    for (let i = 0; i < n; i++) {
      nearest[i] = Math.min(nearest[i]!, distance(i, means, means.length - 3));
      if (nearest[i]! > far) [far, at] = [nearest[i]!, i];
    }
    if (at < 0) break;
    means.push(colours[3 * at]!, colours[3 * at + 1]!, colours[3 * at + 2]!);
  }
  const k = means.length / 3,
    sums = new Float64Array(5 * k);
  for (let round = 0; round < ROUNDS; round++) {
    sums.fill(0);
    for (let i = 0; i < n; i++) {
      let [least, own] = [Infinity, 0];
      for (let j = 0; j < k; j++) {
        const d = distance(i, means, 3 * j);
        if (d < least) [least, own] = [d, j];
      }
      for (let c = 0; c < 3; c++) sums[5 * own + c]! += colours[3 * i + c]!;
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
