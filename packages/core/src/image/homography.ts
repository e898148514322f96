import type { Homography } from './warp';

type Point = readonly [number, number];

/*
 * Maps of the plane that keep straight lines straight, as nine numbers by rows that act on (x, y, 1). Hartley & Zisserman, Multiple View Geometry in
 * Computer Vision, 2nd edition, sections 2.3 and 2.4.
 */

/** First `b`, then `a`. */
export function after(a: Homography, b: Homography): Homography {
  const at = (row: number, column: number) =>
    a[3 * row]! * b[column]! + a[3 * row + 1]! * b[3 + column]! + a[3 * row + 2]! * b[6 + column]!;
  return [at(0, 0), at(0, 1), at(0, 2), at(1, 0), at(1, 1), at(1, 2), at(2, 0), at(2, 1), at(2, 2)];
}

/** The way back; null where there is none (everything falls on a line). */
export function back([a, b, c, d, e, f, g, h, i]: Homography): Homography | null {
  const A = e * i - f * h,
    D = f * g - d * i,
    G = d * h - e * g,
    det = a * A + b * D + c * G;
  if (!(Math.abs(det) > 0)) return null;
  return [A, c * h - b * i, b * f - c * e, D, a * i - c * g, c * d - a * f, G, b * g - a * h, a * e - b * d].map(
    (n) => n / det,
  ) as unknown as Homography;
}

/** Where a point goes, and the factor by which it is divided: 0 or less lies behind who looks. */
export function seenAt(m: Homography, [x, y]: Point): { at: [number, number]; depth: number } {
  const w = m[6] * x + m[7] * y + m[8];
  return { at: [(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w], depth: w };
}

/**
 * The map of a rectangle of this size (corner at 0, 0) to four corners, clockwise from the one at 0, 0; null where three of them lie on a line.
 * Heckbert, Fundamentals of Texture Mapping and Image Warping (1989), section 2.2.3.
 */
export function toCorners(width: number, height: number, corners: readonly [Point, Point, Point, Point]): Homography | null {
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = corners,
    sx = x0 - x1 + x2 - x3,
    sy = y0 - y1 + y2 - y3,
    ax = x1 - x2,
    ay = y1 - y2,
    bx = x3 - x2,
    by = y3 - y2,
    det = ax * by - bx * ay,
    twice = ([p, q]: Point, [r, t]: Point, [u, v]: Point) => Math.abs((r - p) * (v - q) - (u - p) * (t - q));
  for (let k = 0; k < 4; k++) if (!(twice(corners[k]!, corners[(k + 1) & 3]!, corners[(k + 2) & 3]!) > 1e-6)) return null;
  const g = (sx * by - bx * sy) / det,
    h = (ax * sy - sx * ay) / det;
  return [
    (x1 - x0 + g * x1) / width,
    (x3 - x0 + h * x3) / height,
    x0,
    (y1 - y0 + g * y1) / width,
    (y3 - y0 + h * y3) / height,
    y0,
    g / width,
    h / height,
    1,
  ];
}

/** The four corners of a rectangle of this size, clockwise from (0, 0), seen through a map; null where one of them lies behind who looks. */
export function cornersOf(m: Homography, width: number, height: number): [Point, Point, Point, Point] | null {
  const seen = (
    [
      [0, 0],
      [width, 0],
      [width, height],
      [0, height],
    ] as const
  ).map((p) => seenAt(m, p));
  return seen.every((s) => s.depth > 1e-6) ? (seen.map((s) => s.at) as unknown as [Point, Point, Point, Point]) : null;
}
