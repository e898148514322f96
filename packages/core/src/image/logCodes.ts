import { fromHalf, toHalf } from './half';
import { curveOf } from './transfer';

let table: Uint16Array | null = null;
/** Light as 16-bit codes of ACEScct, from black up to 222 times white, in steps of a thousandth of what is there. */
export function logCodes(light: Float32Array): Uint16Array {
  const { encode } = curveOf('acescct');
  // By its half float: an entry for each.
  table ??= Uint16Array.from({ length: 65536 }, (_, h) => {
    const v = fromHalf(h);
    return v !== v ? 0 : Math.max(0, Math.min(65535, Math.round(encode(Math.max(-0.005, Math.min(65504, v))) * 65535)));
  });
  const known = table;
  return Uint16Array.from(light, (v) => known[toHalf(v)]!);
}
