/** What each cell of a grid says by itself (0 outside, 1 inside) and how strongly, and how strongly it holds to its neighbours at the right and below. */
export interface MaskSystem {
  width: number;
  height: number;
  says: Float32Array;
  weight: Float32Array;
  right: Float32Array;
  below: Float32Array;
}

/** Grids smaller than this are solved by themselves. */
const SMALLEST = 12;
/** Passes over the finest grid, there and back; twice as many over each coarser one, which costs a quarter, and at the most so many. */
const PASSES = 4,
  MOST = 64;
/** Over-relaxation. */
const OVER = 1.5;

/** The same at half the size: weights are summed, what is said is their mean. */
function halfOf(s: MaskSystem): MaskSystem {
  const width = (s.width + 1) >> 1,
    height = (s.height + 1) >> 1,
    n = width * height,
    out: MaskSystem = {
      ...{ width, height, says: new Float32Array(n), weight: new Float32Array(n) },
      ...{ right: new Float32Array(n), below: new Float32Array(n) },
    };
  for (let y = 0; y < s.height; y++)
    for (let x = 0; x < s.width; x++) {
      const p = y * s.width + x,
        q = (y >> 1) * width + (x >> 1);
      out.says[q]! += s.says[p]! * s.weight[p]!;
      out.weight[q]! += s.weight[p]!;
      // Two ways lead on side by side; each of them is two steps long.
      if (x & 1) out.right[q]! += 0.5 * s.right[p]!;
      if (y & 1) out.below[q]! += 0.5 * s.below[p]!;
    }
  for (let q = 0; q < n; q++) out.says[q] = out.weight[q]! > 0 ? out.says[q]! / out.weight[q]! : 0;
  return out;
}

/**
 * The smoothest values, 0..1, that agree with what cells say: the least of the sum of weight (u - says)^2 and of link (u - neighbour)^2, as a random
 * walker would find what it reaches first (Grady 2006). Solved from coarse to fine, each grid by successive over-relaxation from the coarser one's values: near enough, not to the last bit.
 */
export function solveMask(s: MaskSystem, passes = PASSES): Float32Array {
  const { width, height } = s,
    u = new Float32Array(width * height);
  if (Math.min(width, height) > SMALLEST) {
    const half = halfOf(s),
      coarse = solveMask(half, Math.min(MOST, 2 * passes));
    for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) u[y * width + x] = coarse[(y >> 1) * half.width + (x >> 1)]!;
  } else u.set(s.says);
  const pass = (p: number, x: number, y: number) => {
    let sum = s.weight[p]! * s.says[p]!,
      all = s.weight[p]!;
    if (x > 0) {
      const w = s.right[p - 1]!;
      sum += w * u[p - 1]!;
      all += w;
    }
    if (x + 1 < width) {
      const w = s.right[p]!;
      sum += w * u[p + 1]!;
      all += w;
    }
    if (y > 0) {
      const w = s.below[p - width]!;
      sum += w * u[p - width]!;
      all += w;
    }
    if (y + 1 < height) {
      const w = s.below[p]!;
      sum += w * u[p + width]!;
      all += w;
    }
    if (!(all > 0)) return;
    const v = u[p]! + OVER * (sum / all - u[p]!);
    // Numbers too small for their format are slow to read.
    u[p] = v > 1e-6 || v < -1e-6 ? v : 0;
  };
  for (let k = 0; k < passes; k++) {
    for (let y = 0, p = 0; y < height; y++) for (let x = 0; x < width; x++, p++) pass(p, x, y);
    for (let y = height - 1, p = width * height - 1; y >= 0; y--) for (let x = width - 1; x >= 0; x--, p--) pass(p, x, y);
  }
  for (let p = 0; p < u.length; p++) u[p] = Math.min(1, Math.max(0, u[p]!));
  return u;
}
