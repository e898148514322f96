/** Vectors in metres: x right, y up, z away from the camera. */
export type V3 = readonly [number, number, number];
export const add = (a: V3, b: V3): V3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const sub = (a: V3, b: V3): V3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const times = (a: V3, k: number): V3 => [a[0] * k, a[1] * k, a[2] * k];
export const dot = (a: V3, b: V3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: V3, b: V3): V3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
export const length = (a: V3): number => Math.sqrt(dot(a, a));
export const unit = (a: V3): V3 => times(a, 1 / Math.max(1e-9, length(a)));
export const between = (a: V3, b: V3, t: number): V3 => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];

/** A place and three directions: how a part of the body stands. `side` points to her left, `ahead` where she looks. */
export interface Frame {
  at: V3;
  side: V3;
  up: V3;
  ahead: V3;
}
export const place = (f: Frame, side: number, up: number, ahead: number): V3 => [
  f.at[0] + f.side[0] * side + f.up[0] * up + f.ahead[0] * ahead,
  f.at[1] + f.side[1] * side + f.up[1] * up + f.ahead[1] * ahead,
  f.at[2] + f.side[2] * side + f.up[2] * up + f.ahead[2] * ahead,
];

/** Turns a vector about a unit axis by radians (Rodrigues), given sine and cosine. */
export function turned(v: V3, axis: V3, sine: number, cosine: number): V3 {
  const c = cross(axis, v),
    k = dot(axis, v) * (1 - cosine);
  return [v[0] * cosine + c[0] * sine + axis[0] * k, v[1] * cosine + c[1] * sine + axis[1] * k, v[2] * cosine + c[2] * sine + axis[2] * k];
}

/** The middle joint of a limb of two bones from `a` to `b`, bent towards `pole`; an end that is too far is drawn nearer. */
export function bend(a: V3, b: V3, first: number, second: number, pole: V3): { joint: V3; end: V3 } {
  const way = sub(b, a),
    far = length(way),
    d = Math.min(far, (first + second) * 0.998),
    along = unit(way),
    end = add(a, times(along, d));
  const x = (first * first - second * second + d * d) / (2 * d),
    h = Math.sqrt(Math.max(0, first * first - x * x));
  const out = unit(sub(pole, times(along, dot(pole, along))));
  return { joint: add(a, add(times(along, x), times(out, h))), end };
}
