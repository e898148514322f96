/** Small helpers to shade pictures: soft unions of tapered capsules as signed distances in pixels (negative inside). */
export type Rgb = [number, number, number];
export interface Point {
  x: number;
  y: number;
}

/** Signed distance to a capsule from `a` to `b` whose radius goes from `ra` to `rb`. */
export function capsule(x: number, y: number, a: Point, b: Point, ra: number, rb: number): number {
  const dx = b.x - a.x,
    dy = b.y - a.y;
  const t = Math.max(0, Math.min(1, ((x - a.x) * dx + (y - a.y) * dy) / (dx * dx + dy * dy)));
  const ex = x - a.x - t * dx,
    ey = y - a.y - t * dy;
  return Math.sqrt(ex * ex + ey * ey) - (ra + (rb - ra) * t);
}

/** Smooth minimum of two distances: joins shapes over `k` pixels. */
export function join(a: number, b: number, k: number): number {
  const h = Math.max(0, Math.min(1, 0.5 + (0.5 * (b - a)) / k));
  return b + (a - b) * h - k * h * (1 - h);
}

export const coverage = (distance: number): number => Math.max(0, Math.min(1, 0.5 - distance / 1.6));

/** A rectangle of the picture. */
export interface Region {
  x0: number;
  y0: number;
  width: number;
  height: number;
}
