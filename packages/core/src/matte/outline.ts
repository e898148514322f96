import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Plane } from '../image/picture';
import { emptyPlane } from '../image/planeMath';
import type { Frame } from '../motion/frame';
import { mappedVertex } from './outlineKeys';
import { isStraight, type Vertex } from './vertex';

type Polyline = Float64Array; // x, y pairs, closed

/** Into how many straight pieces the way from a vertex to the next is cut: each at most about 2 px long at this scale. */
function piecesOf(a: Vertex, b: Vertex, scale: number): number {
  if (isStraight(a, b)) return 1;
  const [x0, y0, x3, y3] = [a.x, a.y, b.x, b.y],
    [x1, y1, x2, y2] = [x0 + a.out[0], y0 + a.out[1], x3 + b.in[0], y3 + b.in[1]],
    length =
      Math.sqrt((x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0)) +
      Math.sqrt((x2 - x1) * (x2 - x1) + (y2 - y1) * (y2 - y1)) +
      Math.sqrt((x3 - x2) * (x3 - x2) + (y3 - y2) * (y3 - y2));
  return Math.max(2, Math.min(200, Math.ceil((length * scale) / 2)));
}

/** The outline as straight pieces; `fine` says at which scale they are short: a soft edge needs fewer. */
export function flatten(vertices: readonly Vertex[], scale: number, fine = scale): Polyline {
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
    const n = piecesOf(a, b, fine);
    for (let k = 0; k < n; k++) {
      const t = k / n,
        w = 1 - t,
        p = w * w * w,
        q = 3 * w * w * t,
        r = 3 * w * t * t,
        s = t * t * t;
      out.push((p * x0 + q * x1 + r * x2 + s * x3) * scale, (p * y0 + q * y1 + r * y2 + s * y3) * scale);
    }
  }
  return Float64Array.from(out);
}
/** How far the feather reaches at each point of the flattened outline, inwards and outwards, in pixels of the picture: even from vertex to vertex. */
function flattenFeather(vertices: readonly Vertex[], feather: number, scale: number, fine: number): Float64Array {
  const out: number[] = [];
  vertices.forEach((a, i) => {
    const b = vertices[(i + 1) % vertices.length]!,
      n = piecesOf(a, b, fine),
      // Without feather the edge still takes up the pixel that it crosses.
      reach = (own: number) => Math.max(0.5, (own + feather / 2) * scale);
    for (let k = 0; k < n; k++) out.push(reach(a.inner + ((b.inner - a.inner) * k) / n), reach(a.outer + ((b.outer - a.outer) * k) / n));
  });
  return Float64Array.from(out);
}

/** The part of a picture that a polyline and a reach around it can touch, in whole pixels; null where it touches nothing. */
interface Box {
  left: number;
  right: number;
  top: number;
  bottom: number;
}
function boxOf(line: Polyline, reach: number, width: number, height: number): Box | null {
  let [l, r, t, b] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < line.length; i += 2) {
    const x = line[i]!,
      y = line[i + 1]!;
    if (x < l) l = x;
    if (x > r) r = x;
    if (y < t) t = y;
    if (y > b) b = y;
  }
  const box = {
    left: Math.max(0, Math.floor(l - reach)),
    right: Math.min(width, Math.ceil(r + reach)),
    top: Math.max(0, Math.floor(t - reach)),
    bottom: Math.min(height, Math.ceil(b + reach)),
  };
  return box.left < box.right && box.top < box.bottom ? box : null;
}

/** Exact area of each pixel inside the polyline (non-zero winding of simple outlines), by summing signed trapezoids row by row. */
function areaCoverage(line: Polyline, out: Plane, { left, right, top, bottom }: Box, pictures: Pictures): void {
  const across = right - left,
    rows = bottom - top,
    stride = across + 2,
    changes = pictures.takePlane(stride, rows),
    sums = changes.data.fill(0),
    n = line.length;
  for (let i = 0; i < n; i += 2) {
    const next = i + 2 < n ? i + 2 : 0;
    let ax = line[i]! - left,
      ay = line[i + 1]!,
      bx = line[next]! - left,
      by = line[next + 1]!,
      sign = 1;
    if (ay === by) continue;
    if (ay > by) {
      [ax, ay, bx, by] = [bx, by, ax, ay];
      sign = -1;
    }
    const slope = (bx - ax) / (by - ay),
      last = by < bottom ? Math.ceil(by) : bottom;
    for (let y = ay > top ? Math.floor(ay) : top; y < last; y++) {
      const from = ay > y ? ay : y,
        to = by < y + 1 ? by : y + 1,
        row = (y - top) * stride;
      let xa = ax + (from - ay) * slope,
        xb = ax + (to - ay) * slope;
      if (xa > xb) [xa, xb] = [xb, xa];
      const dy = (to - from) * sign;
      if (xb <= 0) {
        sums[row]! += dy;
        continue;
      }
      if (xa >= across) continue;
      const l = xa > 0 ? Math.floor(xa) : 0,
        r = xb < across ? Math.floor(xb) : across;
      if ((l === r && xa >= 0) || xb - xa < 1e-9) {
        const covered = l + 1 - (xa + xb) / 2;
        sums[row + l]! += dy * covered;
        sums[row + l + 1]! += dy * (1 - covered);
        continue;
      }
      // The edge crosses several pixels of this row: share its height by the part of x in each.
      const part = dy / (xb - xa);
      for (let x = l; x <= r && x < across; x++) {
        const begin = xa > x ? xa : x,
          end = xb < x + 1 ? xb : x + 1,
          share = part * (end - begin),
          covered = x + 1 - (begin + end) / 2;
        sums[row + x]! += share * covered;
        sums[row + x + 1]! += share * (1 - covered);
      }
      if (xa < 0) sums[row]! += part * (0 - xa);
    }
  }
  withAddresses(pictures, [changes, out], (from, to) =>
    pictures.run('coverOutline', rows, from!, stride, left, top, across, to!, out.width),
  );
  pictures.give(changes);
}

/** How an outline is filled; lengths in whole-shot pixels. */
export interface Fill {
  /** Full width over which it falls from 1 to 0, centred on the edge. */
  feather: number;
  /** By how much the edge lies further out; below 0 further in. */
  grow: number;
}

/**
 * Coverage of a closed Bezier outline, 0..1. Fewer than three vertices cover nothing. Only the part of the picture around the outline is worked on.
 */
export function outlineCoverage(
  vertices: readonly Vertex[],
  { feather, grow }: Fill,
  scale: number,
  width: number,
  height: number,
  pictures: Pictures,
): Plane {
  const out = emptyPlane(width, height, pictures);
  if (vertices.length < 3) return out;
  const soft = feather * scale,
    byVertex = grow !== 0 || vertices.some((v) => v.inner > 0 || v.outer > 0),
    // Where all of the edge is soft, pieces of 4 px are as good: each pixel looks at every piece within reach.
    fine = byVertex && soft > 16 ? scale / 2 : scale,
    line = flatten(vertices, scale, fine),
    reaches = byVertex ? flattenFeather(vertices, feather, scale, fine) : null,
    reach = reaches ? reaches.reduce((most, r) => Math.max(most, r)) + Math.abs(grow) * scale : soft > 1 ? soft / 2 : 0,
    box = boxOf(line, reach, width, height);
  if (!box) return out;
  areaCoverage(line, out, box, pictures);
  if (reaches) featheredByVertex(line, reaches, grow * scale, reach, out, box, pictures);
  else if (soft > 1) feathered(line, soft / 2, out, box, pictures);
  return out;
}

/** Coverage by distance to the polyline, whose feather differs from point to point, with its edge moved outwards by `grow`. */
function featheredByVertex(
  line: Polyline,
  reaches: Float64Array,
  grow: number,
  reach: number,
  out: Plane,
  { left, right, top, bottom }: Box,
  pictures: Pictures,
): void {
  const points = pictures.takePlane(2 * line.length, 1);
  for (let i = 0; i < line.length; i += 2) points.data.set([line[i]!, line[i + 1]!, reaches[i]!, reaches[i + 1]!], 2 * i);
  withAddresses(pictures, [points, out], (from, to) =>
    pictures.run('featherByVertex', bottom - top, from!, line.length / 2, grow, reach, left, top, right - left, to!, out.width),
  );
  pictures.give(points);
}

/** Coverage by distance to the polyline: a smooth step over `reach` to both sides. */
function feathered(line: Polyline, reach: number, out: Plane, { left, right, top, bottom }: Box, pictures: Pictures): void {
  const points = pictures.takePlane(line.length, 1);
  points.data.set(line);
  withAddresses(pictures, [points, out], (from, to) =>
    pictures.run('featherOutline', bottom - top, from!, line.length / 2, reach, left, top, right - left, to!, out.width),
  );
  pictures.give(points);
}

/**
 * An outline where it stands now that what it rides on has moved, turned and grown since it was drawn.
 * @param then the frame that it rides on, at the frame at which it was drawn; so `now`, at the frame that is wanted.
 */
export function carried(vertices: readonly Vertex[], then: Frame, now: Frame): Vertex[] {
  return vertices.map((v) => {
    const moved = mappedVertex(v, (p) => now.toPicture(then.toBody(p)));
    if (!v.inner && !v.outer) return moved;
    const at = then.toBody([v.x, v.y]),
      growth = now.scaleAt(at) / then.scaleAt(at);
    return { ...moved, inner: v.inner * growth, outer: v.outer * growth };
  });
}
/** How much a feather at an outline's first vertex has grown with what it rides on. */
export function carriedGrowth(vertices: readonly Vertex[], then: Frame, now: Frame): number {
  const [first] = vertices,
    p = first ? then.toBody([first.x, first.y]) : ([0, 0] as const);
  return now.scaleAt(p) / then.scaleAt(p);
}
