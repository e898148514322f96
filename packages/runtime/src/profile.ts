import { primariesNames, type Primaries } from '@wraithos/core/image';

/** What the descriptions of common profiles say. */
const NAMES: Readonly<Record<string, Primaries>> = {
  'display p3': 'p3-d65',
  'p3 d65': 'p3-d65',
  'p3-d65': 'p3-d65',
  rec2020: 'rec2020',
  'rec. 2020': 'rec2020',
  'bt.2020': 'rec2020',
};

/**
 * The primaries that a colour profile (ICC.1) names in its description; null for sRGB and for every other one, which the reading library turns into
 * sRGB by itself.
 */
export function primariesOfProfile(icc: Uint8Array): Primaries | null {
  const view = new DataView(icc.buffer, icc.byteOffset, icc.byteLength),
    count = icc.byteLength > 132 ? Math.min(100, view.getUint32(128)) : 0;
  for (let i = 0; i < count; i++) {
    const at = 132 + 12 * i;
    if (at + 12 > icc.byteLength || view.getUint32(at) !== 0x64657363) continue;
    const from = view.getUint32(at + 4),
      text = Buffer.from(icc.subarray(from, from + Math.min(400, view.getUint32(at + 8))))
        .toString('latin1')
        .replace(/[^\x20-\x7e]/g, '')
        .toLowerCase(),
      known = Object.entries(NAMES).find(([words]) => text.includes(words));
    return known && primariesNames.includes(known[1]) ? known[1] : null;
  }
  return null;
}
