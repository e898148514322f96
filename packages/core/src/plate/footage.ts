/** Frames of a shot from which a clean plate is built, read in rows so that no more of them is held than is looked at. */
export interface Footage {
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 3 | 4;
  readonly bits: 8 | 16;
  readonly count: number;
  /** Codes of the rows from `y0` to before `y1` of a frame, interleaved. */
  rows(frame: number, y0: number, y1: number): Promise<Uint8Array | Uint16Array>;
  /** How far the character covers each cell of a frame (see `cellSide`), 0..1; null where nobody has said. */
  covered?(frame: number, columns: number, rows: number): Promise<Float32Array | null>;
}

/** A frame by means of cells: red, green and blue, 0..65535, one after another. */
export interface Cells {
  readonly columns: number;
  readonly rows: number;
  readonly data: Uint16Array;
}

/** Pixels on a side of a cell: small enough to tell a hand from a wall, large enough that grain is gone from its mean. */
export const cellSide = (width: number, height: number): number => (width * height > 2_200_000 ? 8 : 4);

/** A picture of brightness, 0..255. */
export interface Luma {
  readonly columns: number;
  readonly rows: number;
  readonly data: Float32Array;
}

/** Rows that are read at once while a frame is looked over; whole cells. */
const SLAB = 64;

/** A frame looked over: means of its cells (those at the edge are means of what there is), and its brightness at half the size, for its drift. */
export async function lookOver(footage: Footage, frame: number): Promise<{ cells: Cells; luma: Luma }> {
  const { width, height, channels, bits } = footage,
    side = cellSide(width, height),
    columns = Math.ceil(width / side),
    rows = Math.ceil(height / side),
    wide = Math.ceil(width / 2),
    high = Math.ceil(height / 2),
    data = new Uint16Array(columns * rows * 3),
    luma = new Float32Array(wide * high),
    // Sums of pairs of pixels in pairs of rows, and of cells.
    pairs = new Float64Array(wide * 3),
    sums = new Float64Array(columns * 3),
    up = bits === 8 ? 257 : 1,
    green = channels === 1 ? 0 : 1,
    blue = channels === 1 ? 0 : 2,
    inCell = side / 2;
  for (let top = 0; top < height; top += SLAB) {
    const bottom = Math.min(height, top + SLAB),
      codes = await footage.rows(frame, top, bottom);
    for (let y = top; y < bottom; y++) {
      let p = (y - top) * width * channels;
      for (let x = 0, c = 0; x < width; c += 3) {
        let r = codes[p]!,
          g = codes[p + green]!,
          b = codes[p + blue]!;
        x++;
        p += channels;
        if (x < width) {
          r += codes[p]!;
          g += codes[p + green]!;
          b += codes[p + blue]!;
          x++;
          p += channels;
        }
        pairs[c]! += r;
        pairs[c + 1]! += g;
        pairs[c + 2]! += b;
      }
      if (y + 1 < height && y % 2 === 0) continue;
      const two = y % 2 ? 2 : 1,
        row = (y >> 1) * wide;
      for (let x = 0, c = 0; x < wide; x++, c += 3) {
        const k = (up * 255) / 65535 / (two * (2 * x + 1 < width ? 2 : 1)),
          i = 3 * Math.floor(x / inCell);
        luma[row + x] = (0.2126 * pairs[c]! + 0.7152 * pairs[c + 1]! + 0.0722 * pairs[c + 2]!) * k;
        sums[i]! += pairs[c]!;
        sums[i + 1]! += pairs[c + 1]!;
        sums[i + 2]! += pairs[c + 2]!;
      }
      pairs.fill(0);
      const of = Math.floor(y / side);
      if (y + 1 < height && Math.floor((y + 1) / side) === of) continue;
      const tall = y + 1 - of * side;
      for (let c = 0; c < columns; c++) {
        const n = tall * Math.min(side, width - c * side);
        for (let k = 0; k < 3; k++) data[(of * columns + c) * 3 + k] = Math.round((up * sums[3 * c + k]!) / n);
      }
      sums.fill(0);
    }
  }
  return { cells: { columns, rows, data }, luma: { columns: wide, rows: high, data: luma } };
}
