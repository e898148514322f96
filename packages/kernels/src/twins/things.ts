/** Smooth between small pixels of four by four; the outermost go on. */
function spread(small: ArrayLike<number>, w: number, h: number, x: number, y: number, c: number): number {
  const fx = Math.min(w - 1, Math.max(0, (x + 0.5) / 4 - 0.5)),
    fy = Math.min(h - 1, Math.max(0, (y + 0.5) / 4 - 0.5)),
    xa = Math.floor(fx),
    ya = Math.floor(fy),
    xb = Math.min(w - 1, xa + 1),
    yb = Math.min(h - 1, ya + 1),
    at = (i: number, j: number) => small[(j * w + i) * 4 + c]!,
    upper = at(xa, ya) + (at(xb, ya) - at(xa, ya)) * (fx - xa),
    lower = at(xa, yb) + (at(xb, yb) - at(xa, yb)) * (fx - xa);
  return upper + (lower - upper) * (fy - ya);
}

/** Plain counterpart of `lightThings`. */
export function lightThingsTwin(
  picture: ArrayLike<number>,
  matte: ArrayLike<number> | null,
  within: ArrayLike<number>,
  outside: ArrayLike<number>,
  air: ArrayLike<number> | null,
  [w, h]: readonly [number, number],
  [width, height]: readonly [number, number],
): Float32Array {
  const out = new Float32Array(width * height * 4);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++)
      for (let c = 0; c < 4; c++) {
        const m = matte ? matte[p]! : 0,
          outer = spread(outside, w, h, x, y, c),
          gain = m > 0 ? outer + (spread(within, w, h, x, y, c) - outer) * m : outer;
        out[p * 4 + c] = picture[p * 4 + c]! * gain + (air ? spread(air, w, h, x, y, c) : 0);
      }
  return out;
}
