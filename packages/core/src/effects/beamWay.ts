import { hypot, smoothstep } from '../image/exactMath';
import { hash } from '../image/random';
import type { Frame } from '../motion/frame';
import { isJump } from '../placing';
import type { DrawnLine } from './describe';
import { lineAt } from './drawnLine';
import type { Stroke } from './strokes';

/** Straight pieces that a bent or fluttering beam is drawn as. */
export const PIECES = 28;
/** The middle line of a beam, the picture's pixels. */
export interface Way {
  x: Float64Array;
  y: Float64Array;
}

/** A smooth random wave -1..1 along a line that moves on with the frame. */
export function wave(at: number, frame: number, seed: number): number {
  const one = (x: number, key: number) => {
    const i = Math.floor(x),
      f = x - i,
      s = f * f * (3 - 2 * f),
      u = (k: number) => hash(k, key, seed) / 2147483648 - 1;
    return u(i) * (1 - s) + u(i + 1) * s;
  };
  return 0.65 * one(at * 5 + frame * 0.37, 1) + 0.35 * one(at * 13 - frame * 0.61, 2);
}

/**
 * The beam's middle line: a quadratic arc whose middle stands `bend` to the right of the straight way (as seen going along it), or goes through a
 * point; shaken across.
 */
export function beamWay(
  from: readonly [number, number],
  to: readonly [number, number],
  bend: number | readonly [number, number],
  flutter: number,
  frame: number,
  seed: number,
  pieces = bend === 0 && flutter === 0 ? 1 : PIECES,
): Way {
  const dx = to[0] - from[0],
    dy = to[1] - from[1],
    long = Math.sqrt(dx * dx + dy * dy),
    nx = long > 0 ? -dy / long : 0,
    ny = long > 0 ? dx / long : 0,
    n = pieces,
    // How far its middle stands aside of the straight one.
    asideX = typeof bend === 'number' ? nx * bend : bend[0] - (from[0] + to[0]) / 2,
    asideY = typeof bend === 'number' ? ny * bend : bend[1] - (from[1] + to[1]) / 2,
    x = new Float64Array(n + 1),
    y = new Float64Array(n + 1);
  for (let i = 0; i <= n; i++) {
    const s = i / n,
      arc = 4 * s * (1 - s),
      off = flutter ? flutter * wave(s, frame, seed) * smoothstep(0, 0.08, s) * smoothstep(1, 0.92, s) : 0;
    x[i] = from[0] + dx * s + arc * asideX + nx * off;
    y[i] = from[1] + dy * s + arc * asideY + ny * off;
  }
  return { x, y };
}

/** Straight pieces of a drawn line. */
const DRAWN_PIECES = 48;
/** The beam's middle line along one that was drawn, shaken across. @returns null where none was drawn. */
export function drawnWay(
  lines: readonly DrawnLine[],
  frameInRow: number,
  mount: Frame,
  toPicture: number,
  flutter: number,
  frame: number,
  seed: number,
): Way | null {
  const points = lineAt(lines, frameInRow, DRAWN_PIECES)?.map(([x, y]) => mount.toPicture([x * toPicture, y * toPicture]));
  if (!points) return null;
  const n = points.length - 1,
    way: Way = { x: new Float64Array(n + 1), y: new Float64Array(n + 1) };
  points.forEach(([px, py], i) => {
    const [a, b] = [points[Math.max(0, i - 1)]!, points[Math.min(n, i + 1)]!],
      [dx, dy] = [b[0] - a[0], b[1] - a[1]],
      long = Math.max(1e-6, hypot(dx, dy)),
      s = i / n,
      off = flutter ? flutter * wave(s, frame, seed) * smoothstep(0, 0.08, s) * smoothstep(1, 0.92, s) : 0;
    way.x[i] = px - (dy / long) * off;
    way.y[i] = py + (dx / long) * off;
  });
  return way;
}

/**
 * How far each point of a way moves while the shutter is open, from where it is a frame earlier and a frame later; null where that is next to nothing.
 * @param open part of a frame, @param size the longer side of the picture, pixels.
 */
export function movesOf(
  now: Way,
  before: Way | null,
  after: Way | null,
  open: number,
  size: number,
): { x: Float64Array; y: Float64Array } | null {
  const apart = (a: Way, b: Way) => a.x.reduce((most, x, i) => Math.max(most, hypot(x - b.x[i]!, a.y[i]! - b.y[i]!)), 0);
  let [from, to] = [before ?? now, after ?? now];
  const [come, go] = [apart(from, now), apart(to, now)];
  if (isJump(come, go, size)) from = now;
  if (isJump(go, come, size)) to = now;
  const moves = { x: to.x.map((x, i) => 0.5 * open * (x - from.x[i]!)), y: to.y.map((y, i) => 0.5 * open * (y - from.y[i]!)) };
  return moves.x.some((x, i) => hypot(x, moves.y[i]!) > 0.3) ? moves : null;
}

/** The length of a way, pixels. */
export function wayLength({ x, y }: Way): number {
  let long = 0;
  for (let i = 1; i < x.length; i++) long += hypot(x[i]! - x[i - 1]!, y[i]! - y[i - 1]!);
  return long;
}

/** Part of the way on which a beam is whole. */
export const END = 0.86;
/** Strands that it parts into, and how far they spread at its end, core widths. */
const STRANDS = 5,
  SPREAD = 2.3;
/** The strands of its end: each leaves the way somewhere on its last part, and flutters to a place of its own about and beyond the hit. */
export function strandsOf({ x, y }: Way, core: number, power: number, frame: number, seed: number, drawn = false): Stroke[] {
  const n = x.length - 1,
    first = drawn ? Math.floor(n * 0.8) : 0,
    [ex, ey] = [x[n]!, y[n]!],
    // A drawn line comes in from where its last part does.
    [bx, by] = [x[first]!, y[first]!],
    long = Math.max(1e-6, hypot(ex - bx, ey - by)),
    [ux, uy] = [(ex - bx) / long, (ey - by) / long],
    reach = Math.min((drawn ? 1 : 0.25) * long, 24 * core);
  return Array.from({ length: STRANDS }, (_, k) => {
    const from = reach * (0.35 + 0.65 * (hash(k, 3, seed) / 4294967296)),
      side = (k - (STRANDS - 1) / 2) / ((STRANDS - 1) / 2),
      off = core * SPREAD * (side + 0.5 * wave(0.2 * k, frame * 0.8, seed + 20 + k)),
      beyond = core * (0.5 + 1.5 * (hash(k, 4, seed) / 4294967296)) * (1 - Math.abs(side)),
      pieces = 12,
      points = Array.from({ length: pieces + 1 }, (_, i) => {
        const s = i / pieces,
          along = -from + s * (from + beyond),
          // Not smooth: each shakes for itself, more towards its end.
          across = off * s * (0.4 + 0.6 * s) + core * s * wave(1.3 * s + k, frame * 1.7, seed + 40 + k);
        return [ex + ux * along - uy * across, ey + uy * along + ux * across] as const;
      });
    return { x: points.map((p) => p[0]), y: points.map((p) => p[1]), width: [core * 0.55, core * 0.06], power };
  });
}
