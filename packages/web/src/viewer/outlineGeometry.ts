import { onCurve, type Vertex } from '@wraithos/core/matte';

export type Point = readonly [number, number];
const length = (v: Point): number => Math.hypot(v[0], v[1]) || 1;

/** The direction out of an outline at a vertex, of length 1: at a right angle to its way through it. */
export function outwards(vertices: readonly Vertex[], i: number): Point {
  const v = vertices[i]!,
    before = vertices[(i + vertices.length - 1) % vertices.length]!,
    after = vertices[(i + 1) % vertices.length]!,
    smooth = v.out[0] !== 0 || v.out[1] !== 0,
    way: Point = smooth ? [v.out[0] - v.in[0], v.out[1] - v.in[1]] : [after.x - before.x, after.y - before.y],
    // Twice the area says which way round it runs.
    area = vertices.reduce((sum, a, k) => {
      const b = vertices[(k + 1) % vertices.length]!;
      return sum + a.x * b.y - b.x * a.y;
    }, 0),
    side = area > 0 ? 1 : -1;
  return [(side * way[1]) / length(way), (-side * way[0]) / length(way)];
}

/** A vertex whose handle was dragged; the other one stays in line with it, and as long as it was. */
export function withHandle(v: Vertex, part: 'in' | 'out', to: Point): Vertex {
  const d: [number, number] = [to[0] - v.x, to[1] - v.y],
    other = part === 'in' ? v.out : v.in,
    keep = Math.hypot(...other),
    opposite: [number, number] = [(-d[0] / length(d)) * keep, (-d[1] / length(d)) * keep];
  return part === 'in' ? { ...v, in: d, out: opposite } : { ...v, out: d, in: opposite };
}

/** An outline in which a corner has become a smooth vertex, or a smooth one a corner. */
export function toggled(vertices: readonly Vertex[], i: number): Vertex[] {
  const v = vertices[i]!,
    before = vertices[(i + vertices.length - 1) % vertices.length]!,
    after = vertices[(i + 1) % vertices.length]!,
    corner = v.out[0] === 0 && v.out[1] === 0,
    tangent: [number, number] = [(after.x - before.x) / 6, (after.y - before.y) / 6];
  return vertices.map((w, k) =>
    k !== i ? w : corner ? { ...w, in: [-tangent[0], -tangent[1]], out: tangent } : { ...w, in: [0, 0], out: [0, 0] },
  );
}

/** The box around the vertices: left, top, right, bottom. */
export function boxAround(vertices: readonly Vertex[]): [number, number, number, number] {
  const xs = vertices.map((v) => v.x),
    ys = vertices.map((v) => v.y);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

/** An outline turned and sized about a place, so that what was at `from` comes to `to`. */
export function turnedAbout(vertices: readonly Vertex[], about: Point, from: Point, to: Point): Vertex[] {
  const a: Point = [from[0] - about[0], from[1] - about[1]],
    b: Point = [to[0] - about[0], to[1] - about[1]],
    square = a[0] * a[0] + a[1] * a[1] || 1,
    // The complex quotient b / a: turn and growth in one.
    re = (a[0] * b[0] + a[1] * b[1]) / square,
    im = (a[0] * b[1] - a[1] * b[0]) / square,
    way = ([x, y]: Point): [number, number] => [re * x - im * y, im * x + re * y];
  return vertices.map((v) => {
    const [x, y] = way([v.x - about[0], v.y - about[1]]);
    return { ...v, x: about[0] + x, y: about[1] + y, in: way(v.in), out: way(v.out) };
  });
}

/** Where on an outline a place is nearest: after which vertex, and at which share of the way to the next. */
export function nearestOn(vertices: readonly Vertex[], at: Point): { after: number; share: number } {
  const STEPS = 32;
  let best = { after: 0, share: 0.5 },
    least = Infinity;
  vertices.forEach((a, after) => {
    const b = vertices[(after + 1) % vertices.length]!;
    for (let k = 1; k < STEPS; k++) {
      const t = k / STEPS,
        [x, y] = onCurve(a, b, t),
        d = Math.hypot(x - at[0], y - at[1]);
      if (d < least) {
        least = d;
        best = { after, share: t };
      }
    }
  });
  return best;
}
