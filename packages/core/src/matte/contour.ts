import { hypot } from '../image/exactMath';
import type { Plane } from '../image/picture';

type P = [number, number];
/** The outer boundary of what a matte covers (more than half) about its topmost pixel, clockwise, along pixel edges; empty where it covers nothing. */
export function contourOf({ data, width, height }: Plane): P[] {
  const inside = (x: number, y: number) => x >= 0 && y >= 0 && x < width && y < height && data[y * width + x]! > 0.5,
    first = data.findIndex((v) => v > 0.5),
    start: P = [first % width, Math.floor(first / width)],
    out: P[] = [];
  if (first < 0) return out;
  // Walks along edges with the body at its right: east, south, west, north.
  const ways: P[] = [
    [1, 0],
    [0, 1],
    [-1, 0],
    [0, -1],
  ];
  let [x, y] = start,
    way = 0;
  do {
    out.push([x, y]);
    const [dx, dy] = ways[way]!;
    x += dx;
    y += dy;
    // Pixels ahead at the left and at the right of the corner that it has come to.
    const ahead = (side: -1 | 0) => {
      const corners: Record<number, [P, P]> = {
          0: [
            [0, -1],
            [0, 0],
          ],
          1: [
            [0, 0],
            [-1, 0],
          ],
          2: [
            [-1, 0],
            [-1, -1],
          ],
          3: [
            [-1, -1],
            [0, -1],
          ],
        },
        [cx, cy] = corners[way]![side === -1 ? 0 : 1];
      return inside(x + cx, y + cy);
    };
    if (ahead(-1)) way = (way + 3) % 4;
    else if (!ahead(0)) way = (way + 1) % 4;
  } while (x !== start[0] || y !== start[1]);
  return out;
}
/** Leaves out points that the line between their neighbours passes within `slack` pixels (Douglas and Peucker). */
export function simplified(points: readonly P[], slack: number): P[] {
  if (points.length < 3) return [...points];
  const [a, b] = [points[0]!, points[points.length - 1]!],
    long = Math.max(1e-9, hypot(b[0] - a[0], b[1] - a[1]));
  let worst = 0,
    at = 0;
  points.forEach((p, i) => {
    const d = long < 1 ? hypot(p[0] - a[0], p[1] - a[1]) : Math.abs((b[0] - a[0]) * (a[1] - p[1]) - (a[0] - p[0]) * (b[1] - a[1])) / long;
    if (d > worst) [worst, at] = [d, i];
  });
  return worst <= slack ? [a, b] : [...simplified(points.slice(0, at + 1), slack).slice(0, -1), ...simplified(points.slice(at), slack)];
}
