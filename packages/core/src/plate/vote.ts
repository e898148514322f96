import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';

/*
 * The value at a pixel that is most stable over time. Every frame votes for its brightness with how calm it is there (calm.ts); where most votes lie
 * close together is the background, also where it is seen in fewer than half of the frames; then the colours near it are averaged, so that grain goes
 * and no colour is invented. A plain median shows whoever stands for more than half of the time.
 */

/** Votes of the frames at cells of `side` pixels. */
export interface Votes {
  readonly columns: number;
  readonly rows: number;
  readonly side: number;
  readonly frames: readonly Float32Array[];
}
/** A strip of rows: red, green, blue (0..65535) and doubt (0..1) a pixel. */
export type Voted = Float32Array;

/**
 * Votes on a strip of `rows` rows from `top` on.
 * @param bits of the codes that `fill` writes: of red, green and blue of all frames, by row, then by frame, then by pixel.
 */
export async function voteOn(
  width: number,
  top: number,
  rows: number,
  votes: Votes,
  bits: 8 | 16,
  fill: (codes: Uint8Array | Uint16Array) => Promise<void>,
  pictures: Pictures,
): Promise<Voted> {
  const { columns, side, frames } = votes,
    count = frames.length,
    padded = Math.ceil(count / 4) * 4,
    place = (y: number) => (y + 0.5) / side - 0.5,
    from = Math.max(0, Math.floor(place(top))),
    to = Math.min(votes.rows - 1, Math.max(from, Math.ceil(place(top + rows - 1)))),
    length = rows * count * width * 3,
    strip = pictures.takePlane(Math.ceil((length * bits) / 32), 1),
    weights = pictures.takePlane(padded, columns * (to - from + 1)),
    out = pictures.takePicture(width, rows),
    w = weights.data;
  const { buffer, byteOffset } = strip.data;
  await fill(bits === 8 ? new Uint8Array(buffer, byteOffset, length) : new Uint16Array(buffer, byteOffset, length));
  w.fill(0);
  for (let f = 0; f < count; f++) {
    const of = frames[f]!;
    for (let i = from * columns, k = f; i < (to + 1) * columns; i++, k += padded) w[k] = of[i]!;
  }
  withAddresses(pictures, [strip, weights, out], (codes, said, into) =>
    pictures.run(
      'voteStrip',
      rows,
      codes!,
      bits === 16,
      count,
      padded,
      said!,
      columns,
      to - from + 1,
      place(top) - from,
      side,
      into!,
      width,
    ),
  );
  const voted = out.data.slice();
  for (const raster of [strip, weights, out]) pictures.give(raster);
  return voted;
}
