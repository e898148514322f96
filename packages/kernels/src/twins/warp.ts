type Floats = Float32Array<ArrayBufferLike>;
const clamp = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));

/** Bilinear sample at a place in pixels from the middle of the first pixel, held within the picture. */
export function straightTwin(src: Floats, width: number, height: number, x: number, y: number, c: number): number {
  const sx = clamp(x, 0, width - 1),
    sy = clamp(y, 0, height - 1),
    xi = Math.floor(sx),
    yi = Math.floor(sy),
    at = (i: number, j: number) => src[(Math.min(height - 1, j) * width + Math.min(width - 1, i)) * 4 + c]!,
    row = (j: number) => at(xi, j) + (at(xi + 1, j) - at(xi, j)) * (sx - xi);
  return row(yi) + (row(yi + 1) - row(yi)) * (sy - yi);
}
/** Catmull-Rom sample. */
export function cubicTwin(src: Floats, width: number, height: number, x: number, y: number, c: number): number {
  const sx = clamp(x, 0, width - 1),
    sy = clamp(y, 0, height - 1),
    xi = Math.floor(sx),
    yi = Math.floor(sy),
    w = (t: number) => [
      0.5 * t * (t * (2 - t) - 1),
      0.5 * (t * t * (3 * t - 5) + 2),
      0.5 * t * (t * (4 - 3 * t) + 1),
      0.5 * t * t * (t - 1),
    ];
  let sum = 0;
  w(sy - yi).forEach((wy, j) =>
    w(sx - xi).forEach((wx, i) => {
      sum += wy * wx * src[(clamp(yi - 1 + j, 0, height - 1) * width + clamp(xi - 1 + i, 0, width - 1)) * 4 + c]!;
    }),
  );
  return sum;
}
export const foldTwin = (t: number, size: number): number => {
  const r = t - Math.floor(t / (2 * size)) * 2 * size;
  return r > size ? 2 * size - r : r;
};
