import { clamp, hypot, mix } from '../image/exactMath';
import type { DrawnLine } from './describe';

/** A point of a line, px from the mount. */
type Point = readonly [number, number];

/** Places at even distances along a line. @returns n + 1 of them; all at its one point where it has no length. */
function evenly(points: readonly Point[], n: number): Point[] {
  const ways = [0];
  for (let i = 1; i < points.length; i++)
    ways.push(ways[i - 1]! + hypot(points[i]![0] - points[i - 1]![0], points[i]![1] - points[i - 1]![1]));
  const long = ways.at(-1)!,
    out: Point[] = [];
  for (let k = 0, i = 1; k <= n; k++) {
    const way = (long * k) / n;
    while (i < points.length - 1 && ways[i]! < way) i++;
    const [a, b] = [points[Math.max(0, i - 1)]!, points[Math.min(i, points.length - 1)]!],
      piece = (ways[i] ?? long) - ways[Math.max(0, i - 1)]!,
      t = piece > 0 ? clamp((way - ways[i - 1]!) / piece, 0, 1) : 0;
    out.push([mix(a[0], b[0], t), mix(a[1], b[1], t)]);
  }
  return out;
}
/** A hand does not draw smoothly: each place becomes the mean of those about it, the ends stay. */
function smoothed(points: readonly Point[], times: number): Point[] {
  let now = [...points];
  for (let k = 0; k < times; k++)
    now = now.map((p, i) => {
      const [a, b] = [now[i - 1], now[i + 1]];
      return a && b ? [(a[0] + 2 * p[0] + b[0]) / 4, (a[1] + 2 * p[1] + b[1]) / 4] : p;
    });
  return now;
}

/**
 * The line of a row at a frame: the one that was drawn, or of several what lies between the two whose frames are about it; before the first and after the
 * last one it stands. @returns n + 1 places at even distances, px from the mount; null where none was drawn.
 */
export function lineAt(lines: readonly DrawnLine[], frameInRow: number, n: number): Point[] | null {
  const sorted = [...lines].sort((a, b) => a.frame - b.frame),
    next = sorted.findIndex((line) => line.frame > frameInRow),
    before = sorted[(next < 0 ? sorted.length : next) - 1] ?? sorted[0],
    after = sorted[next < 0 ? sorted.length - 1 : next];
  if (!before || !after) return null;
  const shape = (line: DrawnLine) => smoothed(evenly(line.points, n), 3),
    a = shape(before);
  if (before === after || after.frame <= before.frame) return a;
  const b = shape(after),
    t = clamp((frameInRow - before.frame) / (after.frame - before.frame), 0, 1);
  return a.map((p, i) => [mix(p[0], b[i]![0], t), mix(p[1], b[i]![1], t)]);
}
