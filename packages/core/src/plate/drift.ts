import type { Homography } from '../image/warp';
import { after, back } from '../image/homography';
import { solved } from '../image/solve';
import type { Luma } from './footage';

/*
 * How the camera has moved from one frame to another, from the brightness of the two alone: Baker & Matthews, "Lucas-Kanade 20 Years On" (2004), inverse
 * compositional, over ever finer pictures, with Tukey's weights, so that whatever moves for itself has no say.
 */

/** What a camera may do between frames. */
export const driftKinds = ['stands still', 'shifts', 'shifts, turns and zooms', 'moves freely'] as const;
export type DriftKind = (typeof driftKinds)[number];
/** The same, or measured. */
export const cameras = ['measured', ...driftKinds] as const;
export type Camera = (typeof cameras)[number];
const FREEDOMS: Record<DriftKind, number> = { 'stands still': 0, shifts: 2, 'shifts, turns and zooms': 4, 'moves freely': 8 };

/** The smallest picture that is still looked at. */
const SMALLEST = 20;
export function pyramidOf(top: Luma): Luma[] {
  const out = [top];
  for (;;) {
    const { columns, rows, data } = out[out.length - 1]!,
      c = columns >> 1,
      r = rows >> 1;
    if (Math.min(c, r) < SMALLEST) return out;
    const half = new Float32Array(c * r);
    for (let y = 0; y < r; y++)
      for (let x = 0; x < c; x++) {
        const p = 2 * y * columns + 2 * x;
        half[y * c + x] = (data[p]! + data[p + 1]! + data[p + columns]! + data[p + columns + 1]!) / 4;
      }
    out.push({ columns: c, rows: r, data: half });
  }
}

/** Places of a picture that say something of where it is, with how it changes when the camera moves. */
interface Marks {
  count: number;
  x: Float32Array;
  y: Float32Array;
  value: Float32Array;
  /** For each place the changes by each freedom. */
  jacobian: Float32Array;
}
/** The most places that are looked at; more make nothing better. */
const MOST_MARKS = 4500;
/** Squares into which a picture is cut so that places are taken from all over it. */
const SQUARES = 12;

/** By how much a place moves, in half heights from the middle, with each freedom: shift, turn and zoom, then stretch, slant and perspective. */
function movesOf(u: number, v: number, out: Float64Array): void {
  out.set([1, 0, 0, 1, -v, u, u, v, u, -v, v, u, u * u, u * v, u * v, v * v]);
}
const unitOf = ({ columns, rows }: Luma): { x: number; y: number; size: number } => ({ x: columns / 2, y: rows / 2, size: rows / 2 });

function marksOf(luma: Luma, freedoms: number): Marks {
  const { columns, rows, data } = luma,
    strength = new Float32Array(columns * rows),
    each = Math.max(8, Math.floor(MOST_MARKS / (SQUARES * SQUARES))),
    found: number[] = [];
  for (let y = 1; y < rows - 1; y++)
    for (let x = 1; x < columns - 1; x++) {
      const p = y * columns + x,
        gx = data[p + 1]! - data[p - 1]!,
        gy = data[p + columns]! - data[p - columns]!;
      strength[p] = gx * gx + gy * gy;
    }
  for (let sy = 0; sy < SQUARES; sy++)
    for (let sx = 0; sx < SQUARES; sx++) {
      const here: number[] = [];
      for (let y = Math.floor((sy * rows) / SQUARES); y < Math.floor(((sy + 1) * rows) / SQUARES); y++)
        for (let x = Math.floor((sx * columns) / SQUARES); x < Math.floor(((sx + 1) * columns) / SQUARES); x++)
          if (strength[y * columns + x]! > 4) here.push(y * columns + x);
      here.sort((a, b) => strength[b]! - strength[a]!);
      found.push(...here.slice(0, each));
    }
  const count = found.length,
    marks: Marks = {
      count,
      x: new Float32Array(count),
      y: new Float32Array(count),
      value: new Float32Array(count),
      jacobian: new Float32Array(count * freedoms),
    },
    unit = unitOf(luma),
    moves = new Float64Array(16);
  found.forEach((p, i) => {
    const x = p % columns,
      y = (p - x) / columns;
    marks.x[i] = x + 0.5;
    marks.y[i] = y + 0.5;
    marks.value[i] = data[p]!;
    movesOf((x + 0.5 - unit.x) / unit.size, (y + 0.5 - unit.y) / unit.size, moves);
    const gx = ((data[p + 1]! - data[p - 1]!) / 2) * unit.size,
      gy = ((data[p + columns]! - data[p - columns]!) / 2) * unit.size;
    for (let k = 0; k < freedoms; k++) marks.jacobian[i * freedoms + k] = gx * moves[2 * k]! + gy * moves[2 * k + 1]!;
  });
  return marks;
}

/** The small map that the freedoms make, about the middle of the picture in half heights. */
function mapOf(p: Float64Array): Homography {
  const at = (k: number) => p[k] ?? 0;
  return [1 + at(3) + at(4), -at(2) + at(5), at(0), at(2) + at(5), 1 + at(3) - at(4), at(1), -at(6), -at(7), 1];
}

/** Value between pixels by Catmull-Rom's cubic: straight lines between them would pull places towards the pixels, by a tenth of one. */
function between(data: Float32Array, columns: number, x: number, y: number): number {
  const xi = Math.floor(x),
    yi = Math.floor(y),
    t = x - xi,
    u = y - yi,
    a = 0.5 * t * (2 * t - t * t - 1),
    b = 0.5 * (t * t * (3 * t - 5) + 2),
    c = 0.5 * t * (4 * t - 3 * t * t + 1),
    d = 0.5 * t * t * (t - 1),
    row = (p: number) => a * data[p - 1]! + b * data[p]! + c * data[p + 1]! + d * data[p + 2]!,
    p = yi * columns + xi;
  return (
    0.5 * u * (2 * u - u * u - 1) * row(p - columns) +
    0.5 * (u * u * (3 * u - 5) + 2) * row(p) +
    0.5 * u * (4 * u - 3 * u * u + 1) * row(p + columns) +
    0.5 * u * u * (u - 1) * row(p + 2 * columns)
  );
}

/** Share of the places that are as they were, without any motion. */
function unmoved({ count, x, y, value }: Marks, data: Float32Array, columns: number, limit: number): number {
  const rest = new Float32Array(count);
  for (let i = 0; i < count; i++) rest[i] = data[Math.floor(y[i]!) * columns + Math.floor(x[i]!)]! - value[i]!;
  const middle = Float32Array.from(rest).sort()[count >> 1]!;
  let n = 0;
  for (const r of rest) if (Math.abs(r - middle) < limit) n++;
  return count ? n / count : 1;
}

/** A frame that others are compared with. */
export interface Anchor {
  kind: DriftKind;
  levels: { luma: Luma; marks: Marks }[];
}
export function anchorOf(luma: Luma, kind: DriftKind): Anchor {
  return { kind, levels: pyramidOf(luma).map((level) => ({ luma: level, marks: marksOf(level, FREEDOMS[kind]) })) };
}

/** Where the camera was: the map from places of the anchor to those of the frame, in half heights from the middle. */
export interface Drift {
  map: Homography;
  /** Share of the places looked at that agree with it, and share of those that agree as well with a camera that has not moved. */
  agrees: number;
  still: number;
}
export const NO_DRIFT: Drift = { map: [1, 0, 0, 0, 1, 0, 0, 0, 1], agrees: 1, still: 1 };
const ROUNDS = 12;
/** One place in so many says how large differences usually are. */
const EVERY = 6;

/**
 * How a frame's camera stands to the anchor's.
 * @param begin where to begin looking: the drift of the frame before.
 */
export function driftOf(anchor: Anchor, frame: Luma, begin: Drift = NO_DRIFT): Drift {
  const n = FREEDOMS[anchor.kind];
  if (!n) return NO_DRIFT;
  const pyramid = pyramidOf(frame);
  let map = begin.map,
    agrees = 0,
    still = 0;
  for (let level = Math.min(pyramid.length, anchor.levels.length) - 1; level >= 0; level--) {
    const { columns, rows, data } = pyramid[level]!,
      { marks } = anchor.levels[level]!,
      unit = unitOf(pyramid[level]!),
      rest = new Float32Array(marks.count),
      sorted = new Float32Array(Math.ceil(marks.count / EVERY));
    for (let round = 0; round < ROUNDS; round++) {
      let some = 0;
      for (let i = 0; i < marks.count; i++) {
        const u = (marks.x[i]! - unit.x) / unit.size,
          v = (marks.y[i]! - unit.y) / unit.size,
          w = map[6] * u + map[7] * v + map[8],
          x = ((map[0] * u + map[1] * v + map[2]) / w) * unit.size + unit.x - 0.5,
          y = ((map[3] * u + map[4] * v + map[5]) / w) * unit.size + unit.y - 0.5;
        if (!(x >= 1 && y >= 1 && x < columns - 2 && y < rows - 2)) {
          rest[i] = NaN;
          continue;
        }
        rest[i] = between(data, columns, x, y) - marks.value[i]!;
        if (i % EVERY === 0) sorted[some++] = rest[i]!;
      }
      if (some < 4 * n) break;
      // The middle of the differences is a change of light, which is no motion.
      const ordered = sorted.subarray(0, some).sort(),
        middle = ordered[some >> 1]!;
      for (let i = 0; i < some; i++) sorted[i] = Math.abs(sorted[i]! - middle);
      const limit = 4.685 * Math.max(0.4, 1.4826 * sorted.subarray(0, some).sort()[some >> 1]!),
        h = new Float64Array(n * n),
        b = new Float64Array(n);
      let good = 0;
      for (let i = 0; i < marks.count; i++) {
        const r = rest[i]! - middle;
        if (!(r < limit && r > -limit)) continue;
        good++;
        const q = 1 - (r / limit) * (r / limit),
          weight = q * q,
          at = i * n;
        for (let k = 0; k < n; k++) {
          const g = weight * marks.jacobian[at + k]!;
          b[k]! += g * r;
          for (let m = 0; m <= k; m++) h[k * n + m]! += g * marks.jacobian[at + m]!;
        }
      }
      agrees = good / marks.count;
      if (!level) still = unmoved(marks, data, columns, limit);
      const step = solved(h, b, n);
      if (!step) break;
      const undone = back(mapOf(step));
      if (!undone) break;
      const next = after(map, undone);
      map = next.map((value) => value / next[8]) as unknown as Homography;
      let most = 0;
      for (let k = 0; k < n; k++) most = Math.max(most, Math.abs(step[k]!) * unit.size);
      if (most < (level ? 0.04 : 0.008)) break;
    }
  }
  return { map, agrees, still };
}

/** A drift as a map between pixels of a picture of this size: from places of the anchor to those of the frame. */
export function inPixels({ map }: Drift, width: number, height: number): Homography {
  const s = height / 2,
    to: Homography = [s, 0, width / 2, 0, s, height / 2, 0, 0, 1],
    from: Homography = [1 / s, 0, -width / 2 / s, 0, 1 / s, -height / 2 / s, 0, 0, 1];
  return after(to, after(map, from));
}

/** The longest way, in pixels, that a corner of the picture goes. */
export function farthest(map: Homography, width: number, height: number): number {
  let most = 0;
  for (const [x, y] of [
    [0, 0],
    [width, 0],
    [0, height],
    [width, height],
  ] as const) {
    const w = map[6] * x + map[7] * y + map[8],
      dx = (map[0] * x + map[1] * y + map[2]) / w - x,
      dy = (map[3] * x + map[4] * y + map[5]) / w - y;
    most = Math.max(most, Math.sqrt(dx * dx + dy * dy));
  }
  return most;
}
