import type { Picture } from '../image/picture';
import { curveOf, decodeTable, type Transfer } from '../image/transfer';

/** Gains of red, green and blue light of a frame against those of the anchor. */
export type Gains = readonly [number, number, number];
export const NO_GAIN: Gains = [1, 1, 1];
/** Steps of a gain that nobody can see or measure. */
const UNSEEN = 0.002;
/** Codes outside of these say little of how bright the light was. */
const [DARKEST, BRIGHTEST] = [3000, 62000];

/** A cell in so many is looked at: thousands say enough. */
const EVERY = 7;
const lights = new Map<Transfer, Float32Array>();
function lightOf(transfer: Transfer): Float32Array {
  let known = lights.get(transfer);
  if (!known) lights.set(transfer, (known = decodeTable(transfer, 16)));
  return known;
}

/** What most of the numbers are about: the mean of those that lie as close to the middle one as their own spread; those of the character do not. */
function restOf(list: readonly number[]): number {
  const sorted = Float64Array.from(list).sort();
  let at = sorted[sorted.length >> 1]!;
  const spread = 2.5 * 1.4826 * Float64Array.from(sorted, (v) => Math.abs(v - at)).sort()[sorted.length >> 1]!;
  for (let round = 0; round < 3; round++) {
    let [sum, n] = [0, 0];
    for (const v of sorted)
      if (Math.abs(v - at) <= spread) {
        sum += v;
        n++;
      }
    if (n) at = sum / n;
  }
  return at;
}

/**
 * Gains of a frame's light against the anchor's: the middle of the ratios of all cells, which the character, as long as it covers less than half, does
 * not move.
 * @param frame and anchor: cells as `steadied` gives them.
 */
export function gainsOf(frame: Float32Array, anchor: Float32Array, transfer: Transfer): Gains {
  const light = lightOf(transfer),
    ratios: number[][] = [[], [], []];
  // The darker half of a picture is mostly grain.
  const middles = [0, 1, 2].map((c) => {
    const values = new Float32Array(Math.floor((anchor.length / 3 + EVERY - 1) / EVERY));
    for (let k = 0, i = c; k < values.length; k++, i += 3 * EVERY) values[k] = anchor[i]!;
    return Math.max(DARKEST, values.sort()[values.length >> 1]!);
  });
  for (let i = 0; i < frame.length; i += 3 * EVERY)
    for (let c = 0; c < 3; c++) {
      const a = anchor[i + c]!,
        b = frame[i + c]!;
      if (a >= middles[c]! && b > DARKEST && a < BRIGHTEST && b < BRIGHTEST) ratios[c]!.push(light[Math.round(b)]! / light[Math.round(a)]!);
    }
  const [red, green, blue] = ratios.map((list) => {
    if (list.length < 50) return 1;
    const gain = restOf(list);
    return Math.abs(gain - 1) < UNSEEN ? 1 : gain;
  });
  return [red!, green!, blue!];
}
/** Light darker or brighter than this says little of a gain. */
const [DIM, GLARING] = [0.004, 0.95];
/**
 * Gains of red, green and blue by which a picture is brighter than another one of the same place: the middle of the ratios of the brighter half of its
 * pixels, which a character, as long as it covers less than half, does not move.
 */
export function gainsOfLight(filmed: Picture, clean: Picture): Gains {
  const every = Math.max(1, Math.floor((filmed.width * filmed.height) / 8000)) * 4,
    [red, green, blue] = [0, 1, 2].map((c) => {
      const lights: number[] = [];
      for (let i = c; i < clean.data.length; i += every) lights.push(clean.data[i]!);
      const middle = Math.max(DIM, lights.sort((a, b) => a - b)[lights.length >> 1]!),
        ratios: number[] = [];
      for (let i = c; i < clean.data.length; i += every) {
        const a = clean.data[i]!,
          b = filmed.data[i]!;
        if (a >= middle && b > DIM && a < GLARING && b < GLARING) ratios.push(b / a);
      }
      if (ratios.length < 50) return 1;
      const gain = restOf(ratios);
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
/** The tables of red, green and blue, made once for the same gains. */
const tablesOf = new WeakMap<Gains, { transfer: Transfer; tables: Float32Array[] }>();
export function gainTables(gains: Gains, transfer: Transfer): readonly Float32Array[] {
  let known = tablesOf.get(gains);
  if (known?.transfer !== transfer) tablesOf.set(gains, (known = { transfer, tables: gains.map((gain) => gainTable(gain, transfer)) }));
  return known.tables;
}
/** A code through a table of gains. */
export function throughTable(table: Float32Array, code: number): number {
  const at = code * (STEPS / 65535),
    i = Math.floor(at);
  return table[i]! + (table[i + 1]! - table[i]!) * (at - i);
}
