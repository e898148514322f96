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
  const padded = pad(s, u),
    { v, says, weight, right, below, all, wide } = padded;
  for (let k = 0; k < passes; k++)
    for (const back of [false, true])
      for (let row = 0; row < height; row++) {
        const first = ((back ? height - 1 - row : row) + 1) * wide + 1,
          last = first + width - 1;
        for (let p = back ? last : first, step = back ? -1 : 1; back ? p >= first : p <= last; p += step) {
          const total = all[p]!;
          if (!(total > 0)) continue;
          const sum =
              weight[p]! * says[p]! +
              right[p - 1]! * v[p - 1]! +
              right[p]! * v[p + 1]! +
              below[p - wide]! * v[p - wide]! +
              below[p]! * v[p + wide]!,
            next = v[p]! + OVER * (sum / total - v[p]!);
          // Numbers too small for their format are slow to read.
          v[p] = next > 1e-6 || next < -1e-6 ? next : 0;
        }
      }
  for (let y = 0; y < height; y++) u.set(v.subarray((y + 1) * wide + 1, (y + 1) * wide + 1 + width), y * width);
  for (let p = 0; p < u.length; p++) u[p] = Math.min(1, Math.max(0, u[p]!));
  return u;
}

/** A system with a border of cells that hold to nothing, so that no pass over it asks where it is; `all` is what holds each cell, together. */
function pad(s: MaskSystem, u: Float32Array) {
  const { width, height } = s,
    wide = width + 2,
    n = wide * (height + 2),
    [v, says, weight, right, below] = [u, s.says, s.weight, s.right, s.below].map((from) => {
      const to = new Float32Array(n);
      for (let y = 0; y < height; y++) to.set(from.subarray(y * width, (y + 1) * width), (y + 1) * wide + 1);
      return to;
    }) as [Float32Array, Float32Array, Float32Array, Float32Array, Float32Array],
    all = new Float64Array(n);
  // What holds to a neighbour beyond the border holds to nothing.
  for (let y = 1; y <= height; y++) right[y * wide + width] = 0;
  for (let x = 1; x <= width; x++) below[height * wide + x] = 0;
  for (let y = 1; y <= height; y++)
    for (let x = 1, p = y * wide + 1; x <= width; x++, p++) all[p] = weight[p]! + right[p - 1]! + right[p]! + below[p - wide]! + below[p]!;
  return { v, says, weight, right, below, all, wide };
}
