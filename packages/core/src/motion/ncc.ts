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
/** Sums of products must stay below this in size, so that the kernel's whole numbers hold them. */
const LARGEST_SUM = 1073741824;
/** Grey values of a pattern keep this many steps to each side. */
const PATTERN_STEPS = 2047;
/** Smaller searches and patterns are not worth a look at half the size first. */
const SMALLEST = 13;
/** At half the size a place stays in question with at least this share of the best score there; and so many places at the most. */
const SHARE = 0.65,
  PLACES = 6;

/** A pattern less its mean in whole numbers, rows padded with zeros to a multiple of eight, and what a search needs to know of it. */
interface Prepared {
  size: number;
  numbers: Int16Array;
  columns: number;
  mean: number;
  /** Sum of squares of grey values less the mean; length of the whole numbers; their steps in a grey value. */
  power: number;
  length: number;
  scale: number;
  half: Prepared | null;
}
const preparedPatterns = new WeakMap<Patch, Prepared>();
function prepared(pattern: Patch): Prepared {
  let made = preparedPatterns.get(pattern);
  if (!made) preparedPatterns.set(pattern, (made = prepare(pattern.data, pattern.size, true)));
  return made;
}
function prepare(data: Float32Array, n: number, deeper: boolean): Prepared {
  const columns = (n + 7) & ~7,
    numbers = new Int16Array(n * columns);
  let [mean, power, largest, squares] = [0, 0, 1e-6, 0];
  for (const v of data) mean += v;
  mean /= n * n;
  for (const v of data) {
    power += (v - mean) * (v - mean);
    largest = Math.max(largest, Math.abs(v - mean));
  }
  const scale = PATTERN_STEPS / largest;
  for (let j = 0, p = 0; j < n; j++)
    for (let i = 0; i < n; i++, p++) {
      const q = Math.round((data[p]! - mean) * scale);
      numbers[j * columns + i] = q;
      squares += q * q;
    }
  const h = n >> 1,
    halved = new Float32Array(h * h);
  for (let j = 0; j < h; j++)
    for (let i = 0; i < h; i++) {
      const p = 2 * j * n + 2 * i;
      halved[j * h + i] = (data[p]! + data[p + 1]! + data[p + n]! + data[p + n + 1]!) / 4;
    }
  const half = deeper && h >= SMALLEST >> 1 ? prepare(halved, h, false) : null;
  return { size: n, numbers, columns, mean, power, length: Math.sqrt(squares), scale, half };
}

/** A square of grey values in which a pattern is looked for: running sums of it, and itself in whole numbers, all in the kernels' memory. */
class SearchWindow {
  private sums!: Float64Array<ArrayBufferLike>;
  private squares!: Float64Array<ArrayBufferLike>;
  private side = 0;
  private unit = 1;
  private planes: Plane[] = [];
  private numbers!: Plane;
  private padded!: Plane;
  private products!: Plane;
  private grey!: Plane;

  /** The grey values, to be filled before `begin`. */
  values(arena: Arena, side: number): Float32Array<ArrayBufferLike> {
    this.side = side;
    this.grey = arena.takePlane(side, side);
    this.planes = [this.grey];
    return this.grey.data;
  }
  begin(arena: Arena, pattern: Prepared): void {
    const { side, grey } = this,
      { size: n, mean, numbers, length, scale } = pattern,
      take = (width: number, height = 1) => {
        const plane = arena.takePlane(width, height);
        this.planes.push(plane);
        return plane;
      };
    this.numbers = take((side * side + pattern.columns + 32) >> 1);
    this.padded = take(numbers.length >> 1);
    this.products = take(side, side);
    const [sums, squares] = [take(2 * (side + 1), side + 1), take(2 * (side + 1), side + 1)],
      farthest = Math.max(1e-6, arena.kernels.farthestFrom(grey.address!, side * side, mean)),
      // By Cauchy and Schwarz no sum is larger than the pattern's length times that of the window under it.
      fine = Math.min(32767 / farthest, LARGEST_SUM / (length * n * farthest + 1));
    this.unit = 1 / (scale * fine);
    shorts(this.padded).set(numbers);
    // Less the pattern's mean, which changes no product and keeps the sums small.
    arena.kernels.windowTables(grey.address!, side, mean, fine, this.numbers.address!, sums.address!, squares.address!);
    shorts(this.numbers).fill(0, side * side);
    this.sums = new Float64Array(sums.data.buffer, sums.data.byteOffset, (side + 1) * (side + 1));
    this.squares = new Float64Array(squares.data.buffer, squares.data.byteOffset, (side + 1) * (side + 1));
  }
  /** Scores of a square of places from (i0, j0) on, into `out` with rows of `span`. */
  score(arena: Arena, pattern: Prepared, i0: number, j0: number, size: number, out: Float32Array, span: number): void {
    const { side, sums, squares, unit, products, numbers, padded } = this,
      { size: n, columns, power } = pattern,
      line = side + 1,
      corner = n * line,
      count = n * n,
      found = products.data;
    arena.kernels.windowProducts(
      numbers.address! + 2 * (j0 * side + i0),
      side,
      padded.address!,
      n,
      columns,
      size,
      products.address!,
      0,
      size,
    );
    for (let b = 0, k = 0; b < size; b++)
      for (let a = 0, at = (j0 + b) * line + i0, o = (j0 + b) * span + i0; a < size; a++, k++, at++, o++) {
        const s = sums[at + corner + n]! - sums[at + n]! - sums[at + corner]! + sums[at]!,
          variance = squares[at + corner + n]! - squares[at + n]! - squares[at + corner]! + squares[at]! - (s * s) / count;
        out[o] = variance < 1e-9 * count || power < 1e-9 * count ? -1 : (found[k]! * unit) / Math.sqrt(variance * power);
      }
  }
  end(arena: Arena): void {
    for (const plane of this.planes) arena.give(plane);
  }
}
const shorts = (plane: Plane) => new Int16Array(plane.data.buffer, plane.data.byteOffset, plane.data.length * 2);
const whole = new SearchWindow(),
  halved = new SearchWindow();
let scores = new Float32Array(0),
  coarse = new Float32Array(0);

/**
 * Correlates a pattern with whole-pixel places in the window of `reach` around (x, y). Gives the best peaks, strongest
 * first, each a local maximum with a parabola's sub-pixel part, in pixel coordinates of the pattern's centre. Window sums come
 * from running tables, so that a place costs one product sum, and that in whole numbers (the score is off by less than 0.001). Means of two by two
 * are searched first: only where these resemble the pattern at least half as well as at their best place are all places tried.
 */
export function searchPattern(plane: Plane, pattern: Patch, x: number, y: number, reach: number, most = 1): Peak[] {
  const p = prepared(pattern),
    n = p.size,
    half = (n - 1) / 2,
    span = 2 * reach + 1,
    side = span + n - 1,
    left = Math.floor(x) - half - reach,
    top = Math.floor(y) - half - reach;
  memory ??= new Arena(16777216);
  if (scores.length < span * span) scores = new Float32Array(span * span);
  const grey = whole.values(memory, side);
  readWindow(plane, left, top, side, grey);
  whole.begin(memory, p);
  if (!p.half || span < SMALLEST) whole.score(memory, p, 0, 0, span, scores, span);
  else {
    scores.fill(-1, 0, span * span);
    for (const [i, j] of promising(p.half, grey, side, reach + 1, most)) {
      let at = [Math.max(0, Math.min(span - 5, i - 2)), Math.max(0, Math.min(span - 5, j - 2))] as [number, number];
      // A square of five by five around it; moved on while the best of it lies on its rim.
      for (let step = 0; step < 3; step++) {
        whole.score(memory, p, at[0], at[1], 5, scores, span);
        const next = towardsBest(scores, span, at);
        if (!next) break;
        at = next;
      }
    }
  }
  whole.end(memory);
  // The pattern's middle must lie on the picture.
  const { width, height } = plane;
  if (left + half < 0 || top + half < 0 || left + half + span > width || top + half + span > height)
    for (let j = 0; j < span; j++)
      for (let i = 0; i < span; i++) {
        const cx = left + half + i,
          cy = top + half + j;
        if (cx < 0 || cy < 0 || cx >= width || cy >= height) scores[j * span + i] = -1;
      }
  return peaksOf(scores, span, left + half + 0.5, top + half + 0.5, most);
}

/** Reads a square of grey values; edges hold. */
function readWindow(plane: Plane, left: number, top: number, side: number, out: Float32Array<ArrayBufferLike>): void {
  const { width, height, data } = plane,
    inside = left >= 0 && left + side <= width;
  for (let j = 0, p = 0; j < side; j++) {
    const row = Math.min(height - 1, Math.max(0, top + j)) * width;
    if (inside) for (let i = 0, q = row + left; i < side; i++, p++, q++) out[p] = data[q]!;
    else for (let i = 0; i < side; i++, p++) out[p] = data[row + Math.min(width - 1, Math.max(0, left + i))]!;
  }
}

/** Places at the whole size around the best local maxima at half the size. */
function promising(pattern: Prepared, grey: Float32Array<ArrayBufferLike>, side: number, span: number, most: number): [number, number][] {
  const h = side >> 1,
    small = halved.values(memory!, h);
  if (coarse.length < span * span) coarse = new Float32Array(span * span);
  for (let j = 0, p = 0; j < h; j++)
    for (let i = 0, q = 2 * j * side; i < h; i++, p++, q += 2)
      small[p] = (grey[q]! + grey[q + 1]! + grey[q + side]! + grey[q + side + 1]!) / 4;
  const places = Math.min(span, h - pattern.size + 1);
  halved.begin(memory!, pattern);
  halved.score(memory!, pattern, 0, 0, places, coarse, places);
  halved.end(memory!);
  const found: { i: number; j: number; score: number }[] = [];
  for (let j = 0, p = 0; j < places; j++)
    for (let i = 0; i < places; i++, p++) {
      const s = coarse[p]!;
      if (s <= 0 || (i > 0 && coarse[p - 1]! > s) || (i + 1 < places && coarse[p + 1]! > s)) continue;
      if ((j > 0 && coarse[p - places]! > s) || (j + 1 < places && coarse[p + places]! > s)) continue;
      found.push({ i: 2 * i, j: 2 * j, score: s });
    }
  found.sort((a, b) => b.score - a.score);
  const least = (found[Math.min(found.length, most) - 1]?.score ?? 0) * SHARE;
  return found.filter((f, k) => k < PLACES + most && f.score >= least).map(({ i, j }) => [i, j]);
}

/** Where a square of five by five should move so that its best place lies inside; null where it does, or cannot move. */
function towardsBest(scores: Float32Array, span: number, [i0, j0]: [number, number]): [number, number] | null {
  let best = -2,
    bi = 0,
    bj = 0;
  for (let j = j0; j < j0 + 5; j++)
    for (let i = i0; i < i0 + 5; i++)
      if (scores[j * span + i]! > best) {
        best = scores[j * span + i]!;
        bi = i;
        bj = j;
      }
  if (bi > i0 && bi < i0 + 4 && bj > j0 && bj < j0 + 4) return null;
  const next: [number, number] = [Math.max(0, Math.min(span - 5, bi - 2)), Math.max(0, Math.min(span - 5, bj - 2))];
  return next[0] === i0 && next[1] === j0 ? null : next;
}

/** The strongest local maxima of a square of scores, each with a parabola's part of a pixel. */
function peaksOf(scores: Float32Array, span: number, left: number, top: number, most: number): Peak[] {
  const peaks: Peak[] = [];
  let least = 0;
  for (let j = 0, p = 0; j < span; j++)
    for (let i = 0; i < span; i++, p++) {
      const s = scores[p]!;
      if (s <= least) continue;
      const l = i > 0 ? scores[p - 1]! : -1,
        r = i + 1 < span ? scores[p + 1]! : -1,
        u = j > 0 ? scores[p - span]! : -1,
        d = j + 1 < span ? scores[p + span]! : -1;
      if (s < l || s < r || s < u || s < d) continue;
      peaks.push({ x: left + i + partOf(l, s, r), y: top + j + partOf(u, s, d), score: s });
      if (peaks.length > 4 * most) {
        peaks.sort((a, b) => b.score - a.score).length = most;
        least = peaks[most - 1]!.score;
      }
    }
  return peaks.sort((a, b) => b.score - a.score).slice(0, most);
}
function partOf(before: number, at: number, after: number): number {
  const d = before - 2 * at + after;
  return before > -1 && after > -1 && d < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (before - after)) / d)) : 0;
}
