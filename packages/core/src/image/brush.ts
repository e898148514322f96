import { clamp, smoothstep } from './exactMath';

/** The way of a brush's middle, and the disc that it draws: all in pixels of the picture. */
export interface BrushStroke {
  points: readonly (readonly [number, number])[];
  radius: number;
  /** Share of the radius over which it fades out, 0..100 per cent. */
  softness: number;
}

/** Share of the brush at a distance from its middle: whole within its hard part, none from its radius on. */
export const brushShare = (d: number, { radius, softness }: Pick<BrushStroke, 'radius' | 'softness'>): number =>
  d >= radius ? 0 : 1 - smoothstep(radius * (1 - softness / 100) - 1e-6, radius, d);

/** The pixels of a picture near a stroke, and how far the middle of each is from the way of the brush; Infinity further off than it was asked for. */
export interface NearBrush {
  /** Left, top, right and bottom pixels that are in it. */
  box: [number, number, number, number];
  /** Row by row. */
  distance: Float32Array;
}
/**
 * How far pixels are from the way of a brush, within its radius and `more` pixels beyond; null where it does not touch the picture. Each piece of the way
 * looks at the pixels near it alone, so that a long one costs no more than its area.
 */
export function nearBrush({ points, radius }: BrushStroke, width: number, height: number, more = 0): NearBrush | null {
  const reach = radius + more,
    around = (some: BrushStroke['points']): NearBrush['box'] => {
      const xs = some.map((p) => p[0]),
        ys = some.map((p) => p[1]);
      return [
        Math.max(0, Math.floor(Math.min(...xs) - reach)),
        Math.max(0, Math.floor(Math.min(...ys) - reach)),
        Math.min(width - 1, Math.ceil(Math.max(...xs) + reach)),
        Math.min(height - 1, Math.ceil(Math.max(...ys) + reach)),
      ];
    },
    box = around(points),
    [left, top, right, bottom] = box;
  if (right < left || bottom < top) return null;
  const wide = right - left + 1,
    distance = new Float32Array(wide * (bottom - top + 1)).fill(Infinity);
  for (let i = 0; i < points.length; i++) {
    const a = points[i]!,
      b = points[i + 1];
    if (!b && points.length > 1) break;
    const [bx, by] = b ?? a,
      [dx, dy] = [bx - a[0], by - a[1]],
      long = dx * dx + dy * dy,
      [x0, y0, x1, y1] = around([a, b ?? a]);
    for (let y = y0; y <= y1; y++)
      for (let x = x0, p = (y - top) * wide + x0 - left; x <= x1; x++, p++) {
        const [ox, oy] = [x + 0.5 - a[0], y + 0.5 - a[1]],
          t = long > 0 ? clamp((ox * dx + oy * dy) / long, 0, 1) : 0,
          [px, py] = [ox - t * dx, oy - t * dy],
          d = Math.sqrt(px * px + py * py);
        if (d < distance[p]! && d <= reach) distance[p] = d;
      }
  }
  return { box, distance };
}
/** The same stroke on a picture of another size. @param scale its pixels to one of the stroke's. */
export const brushAt = <S extends BrushStroke>(stroke: S, scale: number): S => ({
  ...stroke,
  points: stroke.points.map(([x, y]): [number, number] => [x * scale, y * scale]),
  radius: stroke.radius * scale,
});
