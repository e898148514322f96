/**
 * A vertex of a closed Bezier outline, whole-shot pixels. `in` and `out` are its handles as offsets from it; `inner` and `outer` what it adds to the
 * outline's feather, inwards and outwards.
 */
export interface Vertex {
  x: number;
  y: number;
  in: [number, number];
  out: [number, number];
  inner: number;
  outer: number;
}
/** A corner without feather of its own. */
export const corner = (x: number, y: number): Vertex => ({ x, y, in: [0, 0], out: [0, 0], inner: 0, outer: 0 });

/** True where the way from a vertex to the next is straight. */
export const isStraight = (a: Vertex, b: Vertex): boolean => a.out[0] === 0 && a.out[1] === 0 && b.in[0] === 0 && b.in[1] === 0;

type Point = readonly [number, number];
/** The four points of the curve from a vertex to the next. */
export const curveBetween = (a: Vertex, b: Vertex): [Point, Point, Point, Point] => [
  [a.x, a.y],
  [a.x + a.out[0], a.y + a.out[1]],
  [b.x + b.in[0], b.y + b.in[1]],
  [b.x, b.y],
];
/** The place at a share of the way from a vertex to the next. */
export function onCurve(a: Vertex, b: Vertex, t: number): [number, number] {
  const [p, q, r, s] = curveBetween(a, b),
    w = 1 - t,
    on = (c: 0 | 1) => w * w * w * p[c] + 3 * w * w * t * q[c] + 3 * w * t * t * r[c] + t * t * t * s[c];
  return [on(0), on(1)];
}

/**
 * The curve from a vertex to the next, split at a share of its way (de Casteljau): both ends with their new handles, and the vertex between them. The
 * line stays where it was.
 */
export function splitCurve(a: Vertex, b: Vertex, t: number): [a: Vertex, between: Vertex, b: Vertex] {
  const mix = (p: Point, q: Point): Point => [p[0] + (q[0] - p[0]) * t, p[1] + (q[1] - p[1]) * t],
    from = (p: Point, q: Point): [number, number] => [p[0] - q[0], p[1] - q[1]],
    [p0, p1, p2, p3] = curveBetween(a, b),
    feather = { inner: a.inner + (b.inner - a.inner) * t, outer: a.outer + (b.outer - a.outer) * t };
  if (isStraight(a, b)) {
    const [x, y] = mix(p0, p3);
    return [a, { ...corner(x, y), ...feather }, b];
  }
  const q0 = mix(p0, p1),
    q1 = mix(p1, p2),
    q2 = mix(p2, p3),
    r0 = mix(q0, q1),
    r1 = mix(q1, q2),
    at = mix(r0, r1);
  return [
    { ...a, out: from(q0, p0) },
    { x: at[0], y: at[1], in: from(r0, at), out: from(r1, at), ...feather },
    { ...b, in: from(q2, p3) },
  ];
}
