import type { Picture } from '../image/picture';

/** How dear a step is to each pixel of a picture: 1 on a clear edge, up to `DEAREST` where it is even. */
export interface EdgeCosts {
  width: number;
  height: number;
  costs: Uint8Array;
}
const DEAREST = 60;
/** An edge counts by its contrast against that of the strongest ones near it: cells of this side, pixels. */
const CELL = 24;
/** Contrast of display values below which there is no edge but grain. */
const GRAIN = 0.012;

/**
 * The costs of steps along the edges of a picture, from the contrast of its display values (square roots stand for them) in the channel in which it is strongest,
 * against the strongest edges around: a soft edge in an even part counts as much as a hard one in a busy part.
 */
export function edgeCosts({ width, height, data }: Picture): EdgeCosts {
  const strength = new Float32Array(width * height),
    at = (x: number, y: number, c: number) =>
      Math.sqrt(Math.max(0, data[(Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))) * 4 + c]!));
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      let most = 0;
      for (let c = 0; c < 3; c++) {
        // Sobel's operator: a slope across, smoothed along.
        const [tl, t, tr] = [at(x - 1, y - 1, c), at(x, y - 1, c), at(x + 1, y - 1, c)],
          [l, r] = [at(x - 1, y, c), at(x + 1, y, c)],
          [bl, b, br] = [at(x - 1, y + 1, c), at(x, y + 1, c), at(x + 1, y + 1, c)],
          gx = (tr + 2 * r + br - tl - 2 * l - bl) / 8,
          gy = (bl + 2 * b + br - tl - 2 * t - tr) / 8;
        most = Math.max(most, gx * gx + gy * gy);
      }
      strength[p] = Math.sqrt(most);
    }
  const columns = Math.ceil(width / CELL),
    rows = Math.ceil(height / CELL),
    strongest = new Float32Array(columns * rows);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const cell = Math.floor(y / CELL) * columns + Math.floor(x / CELL);
      if (strength[p]! > strongest[cell]!) strongest[cell] = strength[p]!;
    }
  const around = (cx: number, cy: number) => {
      let most = GRAIN;
      for (let y = Math.max(0, cy - 1); y <= Math.min(rows - 1, cy + 1); y++)
        for (let x = Math.max(0, cx - 1); x <= Math.min(columns - 1, cx + 1); x++) most = Math.max(most, strongest[y * columns + x]!);
      return most;
    },
    tops = Float32Array.from(strongest, (_, i) => around(i % columns, Math.floor(i / columns))),
    costs = new Uint8Array(width * height);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const share = Math.min(1, strength[p]! / tops[Math.floor(y / CELL) * columns + Math.floor(x / CELL)]!);
      costs[p] = Math.max(1, Math.round(DEAREST * (1 - share) * (1 - share)));
    }
  return { width, height, costs };
}

/** Steps to the eight neighbours, and how long each is in tenths. */
const STEPS = [
  [-1, 0, 10],
  [1, 0, 10],
  [0, -1, 10],
  [0, 1, 10],
  [-1, -1, 14],
  [1, -1, 14],
  [-1, 1, 14],
  [1, 1, 14],
] as const;

/**
 * The cheapest ways from one pixel to all those around it, along the edges of the picture (Mortensen and Barrett 1995, "Intelligent scissors"; Dijkstra's
 * algorithm with buckets). Made once where a point was set; then each way is read at once.
 */
export class EdgePaths {
  private readonly left: number;
  private readonly top: number;
  private readonly wide: number;
  private readonly high: number;
  private readonly before: Int32Array;
  /** @param reach pixels to each side that are looked at. */
  constructor(
    { width, height, costs }: EdgeCosts,
    readonly from: readonly [number, number],
    reach: number,
  ) {
    const [fx, fy] = [Math.min(width - 1, Math.max(0, Math.floor(from[0]))), Math.min(height - 1, Math.max(0, Math.floor(from[1])))];
    this.left = Math.max(0, fx - reach);
    this.top = Math.max(0, fy - reach);
    this.wide = Math.min(width - 1, fx + reach) - this.left + 1;
    this.high = Math.min(height - 1, fy + reach) - this.top + 1;
    const { left, top, wide, high } = this,
      n = wide * high,
      cost = new Int32Array(n).fill(0x7fffffff),
      done = new Uint8Array(n),
      // A step costs no more than this, so that so many buckets in a ring are enough.
      ring = DEAREST * 14 + 1,
      buckets: number[][] = Array.from({ length: ring }, () => []),
      start = (fy - top) * wide + fx - left;
    this.before = new Int32Array(n).fill(-1);
    cost[start] = 0;
    buckets[0]!.push(start);
    for (let level = 0, waiting = 1; waiting > 0; level++) {
      const bucket = buckets[level % ring]!;
      while (bucket.length) {
        const p = bucket.pop()!;
        waiting--;
        if (done[p] || cost[p] !== level) continue;
        done[p] = 1;
        const [x, y] = [p % wide, Math.floor(p / wide)];
        for (const [dx, dy, long] of STEPS) {
          const [nx, ny] = [x + dx, y + dy];
          if (nx < 0 || ny < 0 || nx >= wide || ny >= high) continue;
          const q = ny * wide + nx,
            next = level + long * costs[(top + ny) * width + left + nx]!;
          if (done[q] || next >= cost[q]!) continue;
          cost[q] = next;
          this.before[q] = p;
          buckets[next % ring]!.push(q);
          waiting++;
        }
      }
    }
  }
  /** True where a place lies within reach. */
  reaches([x, y]: readonly [number, number]): boolean {
    return x >= this.left && y >= this.top && x < this.left + this.wide && y < this.top + this.high;
  }
  /** The way to a place, from beginning to end, middles of pixels at halves; straight to one beyond reach. */
  to(at: readonly [number, number]): [number, number][] {
    if (!this.reaches(at)) return [[...this.from], [...at]];
    const out: [number, number][] = [],
      { left, top, wide, before } = this;
    for (let p = (Math.floor(at[1]) - top) * wide + Math.floor(at[0]) - left; p >= 0; p = before[p]!)
      out.push([left + (p % wide) + 0.5, top + Math.floor(p / wide) + 0.5]);
    return out.reverse();
  }
}
