import { primariesNames, profileColumns, type Primaries } from '@wraithos/core/image';

/** How far the columns of a profile may be off: they are rounded, and adapted by several ways. */
const NEAR = 0.004;

/**
 * The primaries of a colour profile (ICC.1, tags rXYZ, gXYZ, bXYZ), where they are wide ones that the program knows; null for sRGB and for every other
 * one, which the reading library turns into sRGB by itself.
 */
export function primariesOfProfile(icc: Uint8Array): Primaries | null {
  const view = new DataView(icc.buffer, icc.byteOffset, icc.byteLength),
    count = icc.byteLength > 132 ? Math.min(100, view.getUint32(128)) : 0,
    columns = new Map<string, number[]>();
  for (let i = 0; i < count; i++) {
    const at = 132 + 12 * i;
    if (at + 12 > icc.byteLength) return null;
    const tag = Buffer.from(icc.subarray(at, at + 4)).toString('latin1'),
      from = view.getUint32(at + 4);
    if (/^[rgb]XYZ$/.test(tag) && from + 20 <= icc.byteLength)
      columns.set(
        tag,
        [8, 12, 16].map((o) => view.getInt32(from + o) / 65536),
      );
  }
  const own = ['rXYZ', 'gXYZ', 'bXYZ'].flatMap((tag) => columns.get(tag) ?? []);
  if (own.length < 9) return null;
  const known = primariesNames.find((name) => profileColumns(name).every((v, i) => Math.abs(v - own[i]!) < NEAR));
  return known === 'rec709' ? null : (known ?? null);
}
