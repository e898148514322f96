import { curveOf, decodeTable, type Transfer } from '../image/transfer';

/** Gains of red, green and blue light of a frame against those of the anchor. */
export type Gains = readonly [number, number, number];
export const NO_GAIN: Gains = [1, 1, 1];
/** Steps of a gain that nobody can see or measure. */
const UNSEEN = 0.002;
/** Codes outside of these say little of how bright the light was. */
const [DARKEST, BRIGHTEST] = [3000, 62000];

/** A cell in so many is looked at: thousands say enough. */
const EVERY = 3;
const lights = new Map<Transfer, Float32Array>();
function lightOf(transfer: Transfer): Float32Array {
  let known = lights.get(transfer);
  if (!known) lights.set(transfer, (known = decodeTable(transfer, 16)));
  return known;
}

/**
 * Gains of a frame's light against the anchor's: the middle of the ratios of all cells, which the character, as long as it covers less than half, does
 * not move.
 * @param frame and anchor: cells as `steadied` gives them.
 */
export function gainsOf(frame: Float32Array, anchor: Float32Array, transfer: Transfer): Gains {
  const light = lightOf(transfer),
    ratios: number[][] = [[], [], []];
  for (let i = 0; i < frame.length; i += 3 * EVERY)
    for (let c = 0; c < 3; c++) {
      const a = anchor[i + c]!,
        b = frame[i + c]!;
      if (a > DARKEST && b > DARKEST && a < BRIGHTEST && b < BRIGHTEST) ratios[c]!.push(light[Math.round(b)]! / light[Math.round(a)]!);
    }
  const [red, green, blue] = ratios.map((list) => {
    if (list.length < 50) return 1;
    const gain = Float64Array.from(list).sort()[list.length >> 1]!;
    return Math.abs(gain - 1) < UNSEEN ? 1 : gain;
  });
  return [red!, green!, blue!];
}
export const isNoGain = (gains: Gains): boolean => gains.every((g) => g === 1);

/** Steps of a table; codes between two of them are mixed. */
const STEPS = 4096;
/** Codes (0..65535) of light times a gain, for every sixteenth code and one beyond. */
export function gainTable(gain: number, transfer: Transfer): Float32Array {
  const { decode, encode } = curveOf(transfer);
  return new Float32Array(STEPS + 2).map((_, i) => {
    const light = decode(i / STEPS) * gain;
    return 65535 * (light >= 1 ? 1 : light > 0 ? encode(light) : 0);
  });
}
/** A code through a table of gains. */
export function throughTable(table: Float32Array, code: number): number {
  const at = code * (STEPS / 65535),
    i = Math.floor(at);
  return table[i]! + (table[i + 1]! - table[i]!) * (at - i);
}
