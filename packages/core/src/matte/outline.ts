import { smoothstep } from '../image/exactMath';
import type { Plane } from '../image/picture';
import type { Pictures } from '../image/arena';

/** A vertex of a closed Bezier outline, whole-shot pixels; `in` and `out` are its handles as offsets from it. */
export interface Vertex {
  x: number;
  y: number;
  in: [number, number];
  out: [number, number];
}

type Polyline = Float64Array; // x, y pairs, closed

/** The outline as straight pieces, each at most about 2 px long at this scale. */
export function flatten(vertices: readonly Vertex[], scale: number, shift: [number, number] = [0, 0]): Polyline {
  const out: number[] = [];
  for (let i = 0; i < vertices.length; i++) {
    const a = vertices[i]!,
      b = vertices[(i + 1) % vertices.length]!;
    const x0 = a.x,
      y0 = a.y,
      x1 = a.x + a.out[0],
      y1 = a.y + a.out[1],
      x2 = b.x + b.in[0],
      y2 = b.y + b.in[1],
      x3 = b.x,
      y3 = b.y;
    const straight = a.out[0] === 0 && a.out[1] === 0 && b.in[0] === 0 && b.in[1] === 0;
    const length =
      Math.sqrt((x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0)) +
      Math.sqrt((x2 - x1) * (x2 - x1) + (y2 - y1) * (y2 - y1)) +
      Math.sqrt((x3 - x2) * (x3 - x2) + (y3 - y2) * (y3 - y2));
    const n = straight ? 1 : Math.max(2, Math.min(200, Math.ceil((length * scale) / 2)));
    for (let k = 0; k < n; k++) {
      const t = k / n,
        w = 1 - t,
        p = w * w * w,
        q = 3 * w * w * t,
        r = 3 * w * t * t,
        s = t * t * t;
      out.push((p * x0 + q * x1 + r * x2 + s * x3 + shift[0]) * scale, (p * y0 + q * y1 + r * y2 + s * y3 + shift[1]) * scale);
    }
  }
  return Float64Array.from(out);
}

/** Exact area of each pixel inside the polyline (non-zero winding of simple outlines), by summing signed trapezoids row by row. */
function areaCoverage(line: Polyline, out: Plane): void {
  const { width, height, data } = out,
    sums = new Float64Array((width + 2) * height),
    n = line.length / 2;
  for (let i = 0; i < n; i++) {
    let ax = line[2 * i]!,
      ay = line[2 * i + 1]!,
      bx = line[2 * ((i + 1) % n)]!,
      by = line[2 * ((i + 1) % n) + 1]!;
    if (ay === by) continue;
    const sign = ay < by ? 1 : -1;
    if (sign < 0) {
      [ax, bx] = [bx, ax];
      [ay, by] = [by, ay];
    }
    const slope = (bx - ax) / (by - ay);
    for (let y = Math.max(0, Math.floor(ay)); y < Math.min(height, Math.ceil(by)); y++) {
      const top = Math.max(ay, y),
        bottom = Math.min(by, y + 1);
      let xa = ax + (top - ay) * slope,
        xb = ax + (bottom - ay) * slope;
      if (xa > xb) [xa, xb] = [xb, xa];
      const dy = (bottom - top) * sign,
        row = y * (width + 2);
      const l = Math.max(0, Math.min(width, Math.floor(xa))),
        r = Math.max(0, Math.min(width, Math.floor(xb)));
      if (xb <= 0) {
        sums[row]! += dy;
        continue;
      }
      if (xa >= width) continue;
      if (l === r || xb - xa < 1e-9) {
        const covered = l + 1 - Math.max(l, Math.min(l + 1, (xa + xb) / 2));
        sums[row + l]! += dy * covered;
        sums[row + l + 1]! += dy * (1 - covered);
        continue;
      }
      // The edge crosses several pixels of this row: share its height by the part of x in each.
      for (let x = Math.max(0, Math.floor(xa)); x <= Math.min(width - 1, Math.floor(xb)); x++) {
        const from = Math.max(xa, x),
          to = Math.min(xb, x + 1),
          part = (dy * (to - from)) / (xb - xa),
          covered = x + 1 - (from + to) / 2;
        sums[row + x]! += part * covered;
        sums[row + x + 1]! += part * (1 - covered);
      }
      if (xa < 0) sums[row]! += (dy * (0 - xa)) / (xb - xa);
    }
  }
  for (let y = 0; y < height; y++)
    for (let x = 0, s = 0; x < width; x++) {
      s += sums[y * (width + 2) + x]!;
      data[y * width + x] = Math.min(1, Math.abs(s));
    }
}

/**
 * Coverage of a closed Bezier outline, 0..1. `feather` is the full width in whole-shot pixels over which it falls from 1 to 0,
 * centred on the edge. Fewer than three vertices cover nothing.
 */
export function outlineCoverage(
  vertices: readonly Vertex[],
  feather: number,
  scale: number,
  width: number,
  height: number,
  pictures: Pictures,
  shift: [number, number] = [0, 0],
): Plane {
  const out = pictures.takePlane(width, height);
  if (vertices.length < 3) {
    out.data.fill(0);
    return out;
  }
  const line = flatten(vertices, scale, shift);
  areaCoverage(line, out);
  const soft = feather * scale;
  if (soft <= 1) return out;
  const near = new Float32Array(width * height).fill(Infinity),
    n = line.length / 2,
    reach = soft / 2;
  for (let i = 0; i < n; i++) {
    const ax = line[2 * i]!,
      ay = line[2 * i + 1]!,
      bx = line[2 * ((i + 1) % n)]!,
      by = line[2 * ((i + 1) % n) + 1]!,
      dx = bx - ax,
      dy = by - ay,
      l = dx * dx + dy * dy || 1;
    for (let y = Math.max(0, Math.floor(Math.min(ay, by) - reach)); y < Math.min(height, Math.ceil(Math.max(ay, by) + reach)); y++)
      for (let x = Math.max(0, Math.floor(Math.min(ax, bx) - reach)); x < Math.min(width, Math.ceil(Math.max(ax, bx) + reach)); x++) {
        const px = x + 0.5 - ax,
          py = y + 0.5 - ay,
          t = Math.max(0, Math.min(1, (px * dx + py * dy) / l)),
          ex = px - t * dx,
          ey = py - t * dy,
          d = ex * ex + ey * ey;
        if (d < near[y * width + x]!) near[y * width + x] = d;
      }
  }
  for (let p = 0; p < near.length; p++) {
    if (near[p] === Infinity) continue;
    const d = Math.sqrt(near[p]!);
    out.data[p] = smoothstep(-reach, reach, out.data[p]! >= 0.5 ? d : -d);
  }
  return out;
}
