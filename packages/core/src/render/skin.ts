import type { Arena } from '../image/arena';
import type { Picture } from '../image/picture';

/** How two takes are laid over each other to be looked at. */
export const skins = ['mixed', 'difference', 'two tints'] as const;
export type Skin = (typeof skins)[number];
/** One picture over another: half of each; how far their display values are apart, twice over; or light of the one in orange and of the other in blue. */
export function laidOver(near: Picture, far: Picture, how: Skin, arena: Arena): Picture {
  const out = arena.takePicture(near.width, near.height),
    [n, f, o] = [near.data, far.data, out.data];
  const light = (d: Float32Array, i: number) => 0.2126 * d[i]! + 0.7152 * d[i + 1]! + 0.0722 * d[i + 2]!,
    value = (v: number) => Math.sqrt(Math.max(0, v));
  for (let i = 0; i < o.length; i += 4) {
    if (how === 'mixed') for (let c = 0; c < 3; c++) o[i + c] = 0.5 * n[i + c]! + 0.5 * f[i + c]!;
    else if (how === 'difference')
      for (let c = 0; c < 3; c++) {
        const d = 2 * Math.abs(value(n[i + c]!) - value(f[i + c]!));
        o[i + c] = d * d;
      }
    else {
      // Where they are alike both tints make grey.
      const [p, q] = [light(n, i), light(f, i)];
      o[i] = p;
      o[i + 1] = 0.5 * p + 0.5 * q;
      o[i + 2] = q;
    }
    o[i + 3] = how === 'mixed' ? 0.5 * n[i + 3]! + 0.5 * f[i + 3]! : Math.max(n[i + 3]!, f[i + 3]!);
  }
  return out;
}
