import type { Pictures } from '../image/arena';
import type { Transfer } from '../image/transfer';
import type { Homography } from '../image/warp';
import { seenAt } from '../image/homography';
import type { Footage } from './footage';
import { gainTable, gainTables, isNoGain, throughTable, type Gains } from './light';

/** How one frame's camera and light stand to another's. */
export interface Stand {
  /** Places of the result to those of what is read; null where they are the same. */
  map: Homography | null;
  /** What the light is multiplied by. */
  gains: Gains;
}

/** Something that codes can be read of, by rows. */
export type Rows = Pick<Footage, 'width' | 'height' | 'channels' | 'bits'> & {
  rows(y0: number, y1: number): Promise<Uint8Array | Uint16Array>;
};

/** Tables of light times a gain for every code: they are the same for all strips of a frame. */
const tablesOf = new WeakMap<Gains, { bits: number; transfer: Transfer; tables: Uint16Array[] }>();
function codeTables(gains: Gains, bits: 8 | 16, transfer: Transfer): Uint16Array[] {
  let known = tablesOf.get(gains);
  if (known?.bits !== bits || known.transfer !== transfer) {
    const step = bits === 8 ? 257 : 1,
      tables = gains.map((gain) => {
        const table = gain === 1 ? null : gainTable(gain, transfer);
        return new Uint16Array(bits === 8 ? 256 : 65536).map((_, i) => Math.round(table ? throughTable(table, i * step) : i * step));
      });
    tablesOf.set(gains, (known = { bits, transfer, tables }));
  }
  return known.tables;
}

/**
 * Rows of a frame as another frame's camera and light would have made them: 16-bit red, green and blue.
 * @param out gets them, `stride` codes from row to row.
 */
export async function steadyRows(
  source: Rows,
  { map, gains }: Stand,
  transfer: Transfer,
  top: number,
  rows: number,
  out: Uint16Array,
  stride: number,
  pictures: Pictures,
): Promise<void> {
  const { width, height, channels, bits } = source;
  if (!map) {
    const codes = await source.rows(top, top + rows),
      [red, green, blue] = codeTables(gains, bits, transfer) as [Uint16Array, Uint16Array, Uint16Array],
      g = channels === 1 ? 0 : 1,
      b = channels === 1 ? 0 : 2;
    for (let y = 0, p = 0; y < rows; y++)
      for (let k = y * stride, end = k + 3 * width; k < end; k += 3, p += channels) {
        out[k] = red[codes[p]!]!;
        out[k + 1] = green[codes[p + g]!]!;
        out[k + 2] = blue[codes[p + b]!]!;
      }
    return;
  }
  let from = top,
    to = top + rows;
  for (const x of [0, width])
    for (const y of [top, top + rows]) {
      const [, sy] = seenAt(map, [x, y]).at;
      from = Math.min(from, Math.floor(sy) - 3);
      to = Math.max(to, Math.ceil(sy) + 3);
    }
  from = Math.max(0, Math.min(height - 1, from));
  to = Math.min(height, Math.max(from + 1, to));
  const codes = await source.rows(from, to),
    held = pictures.takePlane(Math.ceil(codes.byteLength / 4) + 4, 1),
    numbers = pictures.takePlane(18, 1),
    made = pictures.takePlane(Math.ceil((rows * width * 6) / 4), 1),
    tables = isNoGain(gains) ? null : pictures.takePlane(3 * 4098, 1);
  new Uint8Array(held.data.buffer, held.data.byteOffset, codes.byteLength).set(
    new Uint8Array(codes.buffer, codes.byteOffset, codes.byteLength),
  );
  new Float64Array(numbers.data.buffer, numbers.data.byteOffset, 9).set(map);
  if (tables) gainTables(gains, transfer).forEach((table, c) => tables.data.set(table, c * 4098));
  pictures.run(
    'steadyCodes',
    rows,
    held.address!,
    bits === 16,
    channels,
    width,
    height,
    from,
    to - from,
    numbers.address!,
    tables?.address ?? 0,
    top,
    width * 6,
    made.address!,
  );
  const line = width * 3,
    seen = new Uint16Array(made.data.buffer, made.data.byteOffset, rows * line);
  for (let y = 0; y < rows; y++) out.set(seen.subarray(y * line, (y + 1) * line), y * stride);
  for (const raster of [held, numbers, made, tables]) if (raster) pictures.give(raster);
}
