import { valueAt, type Curve } from '../time/curve';
import { decodeValue } from '../image/transfer';
import type { Params, StoredValue, Values } from './describe';

/** Curves of a row by parameter; the two sides of a point are `name.x` and `name.y`. */
export type Curves = Readonly<Record<string, Curve>>;

/** The stored value of one parameter at a frame of the row: its curve's, or else the plain one. */
export function storedAt(name: string, stored: StoredValue, curves: Curves, frameInRow: number): StoredValue {
  if (typeof stored === 'number') {
    const curve = curves[name];
    return curve ? valueAt(curve, frameInRow) : stored;
  }
  if (typeof stored === 'string') return stored;
  const x = curves[`${name}.x`],
    y = curves[`${name}.y`];
  return x || y ? [x ? valueAt(x, frameInRow) : stored[0], y ? valueAt(y, frameInRow) : stored[1]] : stored;
}

/** #rrggbb as 0..1, display-encoded. */
export function hexParts(hex: string): [number, number, number] {
  const n = parseInt(hex.slice(1), 16);
  return [((n >> 16) & 255) / 255, ((n >> 8) & 255) / 255, (n & 255) / 255];
}
/** #rrggbb to linear light. */
export const linearColour = (hex: string): [number, number, number] => hexParts(hex).map((v) => decodeValue(v)) as [number, number, number];

/** Values as what they belong to gets them at a frame of its row: shares as 0..1, colours linear, lengths and points times `scale`, areas times its square. */
export function valuesAt(
  params: Params,
  values: Readonly<Record<string, StoredValue>>,
  curves: Curves,
  frameInRow: number,
  scale: number,
): Values<Params> {
  const out: Record<string, unknown> = {};
  for (const [name, p] of Object.entries(params)) {
    const stored = storedAt(name, values[name] ?? (p.default as StoredValue), curves, frameInRow);
    out[name] =
      p.kind === 'length'
        ? (stored as number) * scale
        : p.kind === 'area'
          ? (stored as number) * scale * scale
          : p.kind === 'share'
            ? (stored as number) / 100
            : p.kind === 'colour'
              ? (p.encoded ? hexParts : linearColour)(stored as string)
              : p.kind === 'point'
                ? [(stored as [number, number])[0] * scale, (stored as [number, number])[1] * scale]
                : stored;
  }
  return out as Values<Params>;
}
