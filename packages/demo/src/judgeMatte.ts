import type { Codes } from '@wraithos/core/image';
import { HEIGHT, WIDTH } from './measures';

/** How a matte compares with the true one: see `judgeMatte`. */
export interface MatteVerdict {
  /** Sum of what it is off by in a band of 12 px along the true edge, and how many pixels these are. */
  off: number;
  edge: number;
  /** Share of the body that is missing, and of the picture that is taken beside it. */
  holes: number;
  beside: number;
}

/**
 * Compares a matte with the true one.
 * @param hidden what stands before the body: nobody's to judge.
 */
export function judgeMatte(matte: Float32Array, { data, channels }: Codes, hidden?: Codes): MatteVerdict {
  const truth = Float32Array.from(matte, (_, p) => data[p * channels]! / 255),
    band = new Uint8Array(truth.length);
  for (let y = 7; y < HEIGHT - 7; y++)
    for (let x = 7; x < WIDTH - 7; x++) {
      const p = y * WIDTH + x;
      if (truth[p]! > 0.5 === truth[p + 1]! > 0.5 && truth[p]! > 0.5 === truth[p + WIDTH]! > 0.5) continue;
      for (let j = -6; j < 6; j++) band.fill(1, p + j * WIDTH - 6, p + j * WIDTH + 6);
    }
  let [edge, off, body, holes, beside] = [0, 0, 0, 0, 0];
  for (let p = 0; p < truth.length; p++) {
    if (hidden && hidden.data[p * hidden.channels]! > 0) continue;
    if (band[p]) {
      edge++;
      off += Math.abs(matte[p]! - truth[p]!);
    } else if (truth[p]! > 0.99) {
      body++;
      if (matte[p]! < 0.5) holes++;
    } else if (truth[p]! < 0.01 && matte[p]! > 0.5) beside++;
  }
  return { off, edge, holes: holes / body, beside: beside / truth.length };
}
export const verdictWords = (frame: number, { off, edge, holes, beside }: MatteVerdict): string =>
  `frame ${frame}: error along the edge ${(off / edge).toFixed(3)}, holes ${(100 * holes).toFixed(2)} %, beside ${(100 * beside).toFixed(3)} %`;
