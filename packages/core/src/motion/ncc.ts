import { Arena } from '../image/arena';
import type { Plane } from '../image/picture';

/** A square of grey values around a centre: `size` x `size`, odd, row by row. */
export interface Patch {
  size: number;
  data: Float32Array;
}

const cubic = (a: number, b: number, c: number, d: number, t: number) =>
  b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)));

/** Catmull-Rom sample at pixel coordinates (pixel centres at +0.5); the edge pixel goes on beyond the edge. */
export function sampleCubic(plane: Plane, x: number, y: number): number {
  const { width, height, data } = plane,
    fx = x - 0.5,
    fy = y - 0.5,
    xi = Math.floor(fx),
    yi = Math.floor(fy),
    tx = fx - xi,
    ty = fy - yi;
  if (xi >= 1 && yi >= 1 && xi < width - 2 && yi < height - 2) {
    const at = (yi - 1) * width + xi - 1;
    const row = (p: number) => cubic(data[p]!, data[p + 1]!, data[p + 2]!, data[p + 3]!, tx);
    return cubic(row(at), row(at + width), row(at + 2 * width), row(at + 3 * width), ty);
  }
  const px = (i: number) => (i < 0 ? 0 : i >= width ? width - 1 : i),
    py = (i: number) => (i < 0 ? 0 : i >= height ? height - 1 : i);
  const row = (j: number) => {
    const r = py(j) * width;
    return cubic(data[r + px(xi - 1)]!, data[r + px(xi)]!, data[r + px(xi + 1)]!, data[r + px(xi + 2)]!, tx);
  };
  return cubic(row(yi - 1), row(yi), row(yi + 1), row(yi + 2), ty);
}

/** The patch around (x, y), seen turned by `angle` (cos, sin) and scaled: offset d in the patch looks at centre + scale R d. */
export function samplePatch(
  plane: Plane,
  x: number,
  y: number,
  size: number,
  turn: { cos: number; sin: number; scale: number } = { cos: 1, sin: 0, scale: 1 },
): Patch {
  const half = (size - 1) / 2,
    data = new Float32Array(size * size),
    { cos, sin, scale } = turn;
  for (let j = 0, p = 0; j < size; j++)
    for (let i = 0; i < size; i++, p++) {
      const u = (i - half) * scale,
        v = (j - half) * scale;
      data[p] = sampleCubic(plane, x + u * cos - v * sin, y + u * sin + v * cos);
    }
  return { size, data };
}

/** Normalised cross-correlation of two patches, -1..1; 0 where either is flat. Optional box of the patch (for its quarters). */
export function correlate(a: Patch, b: Patch, box: [number, number, number, number] = [0, 0, a.size, a.size]): number {
  let sa = 0,
    sb = 0,
    saa = 0,
    sbb = 0,
    sab = 0,
    n = 0;
  for (let y = box[1]; y < box[3]; y++)
    for (let x = box[0], p = y * a.size + x; x < box[2]; x++, p++) {
      const u = a.data[p]!,
        v = b.data[p]!;
      sa += u;
      sb += v;
      saa += u * u;
      sbb += v * v;
      sab += u * v;
      n++;
    }
  const va = saa - (sa * sa) / n,
    vb = sbb - (sb * sb) / n;
  return va > 1e-9 * n && vb > 1e-9 * n ? (sab - (sa * sb) / n) / Math.sqrt(va * vb) : 0;
}

export interface Peak {
  x: number;
  y: number;
  score: number;
}

/** Working memory of the search, enough for a pattern of 301 px in a search box of 801 px. Made when the first search asks for it. */
let memory: Arena | null = null;

/**
 * Correlates a pattern with every whole-pixel place in the window of `reach` around (x, y). Gives the best peaks, strongest
 * first, each a local maximum with a parabola's sub-pixel part, in pixel coordinates of the pattern's centre. Window sums come
 * from running tables, so that a place costs one product sum.
 */
export function searchPattern(plane: Plane, pattern: Patch, x: number, y: number, reach: number, most = 1): Peak[] {
  const n = pattern.size,
    half = (n - 1) / 2,
    span = 2 * reach + 1,
    side = span + n - 1;
  const left = Math.floor(x) - half - reach,
    top = Math.floor(y) - half - reach,
    { width, height } = plane;
  memory ??= new Arena(16777216);
  const columns = (n + 3) & ~3,
    window = memory.takePlane(side * side + columns, 1),
    padded = memory.takePlane(n * columns, 1),
    products = memory.takePlane(span, span),
    w = window.data;
  let mean = 0,
    power = 0;
  const count = n * n;
  for (const v of pattern.data) mean += v;
  mean /= count;
  padded.data.fill(0);
  for (let p = 0; p < count; p++) {
    const v = pattern.data[p]! - mean;
    padded.data[Math.floor(p / n) * columns + (p % n)] = v;
    power += v * v;
  }
  w.fill(0, side * side);
  const sums = new Float64Array((side + 1) * (side + 1)),
    squares = new Float64Array((side + 1) * (side + 1));
  for (let j = 0; j < side; j++) {
    const yy = top + j,
      row = Math.min(height - 1, Math.max(0, yy)) * width;
    let s = 0,
      q = 0;
    for (let i = 0; i < side; i++) {
      const v = plane.data[row + Math.min(width - 1, Math.max(0, left + i))]!;
      // Less the pattern's mean, which changes no product and keeps the sums small.
      w[j * side + i] = v - mean;
      s += v;
      q += v * v;
      sums[(j + 1) * (side + 1) + i + 1] = sums[j * (side + 1) + i + 1]! + s;
      squares[(j + 1) * (side + 1) + i + 1] = squares[j * (side + 1) + i + 1]! + q;
    }
  }
  memory.kernels.windowProducts(window.address!, side, padded.address!, n, columns, span, products.address!);
  const scores = new Float32Array(span * span).fill(-1);
  const box = (t: Float64Array, i: number, j: number) =>
    t[(j + n) * (side + 1) + i + n]! - t[j * (side + 1) + i + n]! - t[(j + n) * (side + 1) + i]! + t[j * (side + 1) + i]!;
  for (let j = 0; j < span; j++)
    for (let i = 0; i < span; i++) {
      const cx = left + i + half,
        cy = top + j + half;
      if (cx < 0 || cy < 0 || cx >= width || cy >= height) continue;
      const s = box(sums, i, j),
        variance = box(squares, i, j) - (s * s) / count;
      if (variance < 1e-9 * count || power < 1e-9 * count) continue;
      scores[j * span + i] = products.data[j * span + i]! / Math.sqrt(variance * power);
    }
  for (const working of [window, padded, products]) memory.give(working);
  const peaks: Peak[] = [];
  for (let j = 0; j < span; j++)
    for (let i = 0; i < span; i++) {
      const s = scores[j * span + i]!;
      if (s <= 0) continue;
      const at = (a: number, b: number) => (a < 0 || b < 0 || a >= span || b >= span ? -1 : scores[b * span + a]!);
      if (s < at(i - 1, j) || s < at(i + 1, j) || s < at(i, j - 1) || s < at(i, j + 1)) continue;
      const part = (before: number, after: number) => {
        const d = before - 2 * s + after;
        return before > -1 && after > -1 && d < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (before - after)) / d)) : 0;
      };
      peaks.push({
        x: left + i + half + 0.5 + part(at(i - 1, j), at(i + 1, j)),
        y: top + j + half + 0.5 + part(at(i, j - 1), at(i, j + 1)),
        score: s,
      });
    }
  return peaks.sort((a, b) => b.score - a.score).slice(0, most);
}
