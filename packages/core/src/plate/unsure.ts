/** A part of the picture of which little is known. */
export interface UnsureArea {
  x: number;
  y: number;
  width: number;
  height: number;
  /** Share of the whole picture. */
  share: number;
}
/** Doubt (of 255) from which on a pixel counts as unsure. */
export const UNSURE = 64;
/** Pixels on a side of the squares that are looked at, and how many unsure pixels make one of them unsure. */
const SQUARE = 16,
  ENOUGH = 24;
/** The most areas that are named. */
const MOST = 6;

/** How much of a picture is unsure, and where: areas that hang together, the largest first. */
export function unsureAreas(doubt: Uint8Array, width: number, height: number): { unsure: number; areas: UnsureArea[] } {
  const columns = Math.ceil(width / SQUARE),
    rows = Math.ceil(height / SQUARE),
    counts = new Int32Array(columns * rows);
  let all = 0;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      if (doubt[i]! >= UNSURE) {
        all++;
        counts[Math.floor(y / SQUARE) * columns + Math.floor(x / SQUARE)]!++;
      }
  const areas: UnsureArea[] = [];
  for (let start = 0; start < counts.length; start++) {
    if (counts[start]! < ENOUGH) continue;
    let [left, top, right, bottom, n] = [columns, rows, -1, -1, 0];
    const open = [start];
    while (open.length) {
      const i = open.pop()!;
      if (counts[i]! < ENOUGH) continue;
      n += counts[i]!;
      counts[i] = 0;
      const x = i % columns,
        y = (i - x) / columns;
      [left, right, top, bottom] = [Math.min(left, x), Math.max(right, x), Math.min(top, y), Math.max(bottom, y)];
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++)
          if (x + dx >= 0 && x + dx < columns && y + dy >= 0 && y + dy < rows) open.push((y + dy) * columns + x + dx);
    }
    areas.push({
      x: left * SQUARE,
      y: top * SQUARE,
      width: Math.min(width, (right + 1) * SQUARE) - left * SQUARE,
      height: Math.min(height, (bottom + 1) * SQUARE) - top * SQUARE,
      share: n / (width * height),
    });
  }
  return { unsure: all / (width * height), areas: areas.sort((a, b) => b.share - a.share).slice(0, MOST) };
}
