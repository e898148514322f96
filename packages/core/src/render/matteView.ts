import type { Arena } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import { linearColour } from '../params';

/** How a matte is looked at: over its picture, by itself, what it holds on a ground, its soft edge, or where it comes and goes from frame to frame. */
export const matteViews = ['overlay', 'black and white', 'cut out', 'edge', 'unsure'] as const;
export type MatteView = (typeof matteViews)[number];
/** What a cut-out is laid on; else a colour as #rrggbb. */
export const matteGrounds = ['grey', 'black', 'white', 'checker', 'the clean plate'] as const;
/** A view with what belongs to it. */
export interface MatteLook {
  view: MatteView;
  /** For a cut-out: one of `matteGrounds`, or a colour. */
  ground?: string;
}

/** Tints of an overlay: the first of them that the picture lacks under the matte is taken. Heather, verdigris, amber. */
const TINTS = [
  [0.47, 0.34, 0.75],
  [0.1, 0.62, 0.5],
  [0.9, 0.5, 0.08],
] as const;
/** Share of the tint. */
const TINTED = 0.45;
/** How near in hue the picture must be to a tint for another to be taken. */
const ALIKE = 0.35;
/** Squares of a checker, pixels. */
const SQUARE = 16;
const GROUND: Record<string, readonly [number, number, number]> = { grey: [0.05, 0.05, 0.05], black: [0, 0, 0], white: [1, 1, 1] };

/** Hue as a direction: the colour without its brightness. */
function hue(r: number, g: number, b: number): [number, number, number] {
  const mean = (r + g + b) / 3,
    [x, y, z] = [r - mean, g - mean, b - mean],
    length = Math.sqrt(x * x + y * y + z * z);
  return length > 0.02 * (mean + 1e-6) ? [x / length, y / length, z / length] : [0, 0, 0];
}
/** The tint that is least like what the matte holds; the first as long as it is told from it. */
function tintFor(picture: Picture, matte: Plane): readonly [number, number, number] {
  const p = picture.data,
    sum = [0, 0, 0];
  for (let k = 0; k < matte.data.length; k += 13) for (let c = 0; c < 3; c++) sum[c]! += matte.data[k]! * p[4 * k + c]!;
  const own = hue(sum[0]!, sum[1]!, sum[2]!),
    likeness = TINTS.map((t) => hue(...(t as [number, number, number])).reduce((s, v, c) => s + v * own[c]!, 0)),
    first = likeness.findIndex((l) => l < 1 - ALIKE);
  return TINTS[first < 0 ? 0 : first]!;
}

/**
 * A matte as it is looked at.
 * @param look `cut` is what the matte holds, premultiplied, where light of a backing was taken out of it. @param others for `unsure` the same matte on the frames before and after; for a cut-out on the clean plate that picture. None where they are not there.
 */
export function viewMatte(
  picture: Picture,
  matte: Plane,
  { view, ground = 'grey', cut = null }: MatteLook & { cut?: Picture | null },
  others: readonly (Plane | Picture)[],
  arena: Arena,
): Picture {
  const { width } = picture,
    out = arena.takePicture(picture.width, picture.height),
    p = picture.data,
    o = out.data,
    m = matte.data,
    tint = view === 'overlay' ? tintFor(picture, matte) : TINTS[0],
    behind = view === 'cut out' && others[0]?.kind === 'picture' ? others[0].data : null,
    [before, after] = view === 'unsure' ? (others as Plane[]) : [],
    flat = GROUND[ground] ?? (ground.startsWith('#') ? linearColour(ground) : GROUND.grey!);
  for (let k = 0, i = 0; k < m.length; k++, i += 4) {
    const v = m[k]!;
    o[i + 3] = 1;
    if (view === 'black and white') {
      const g = v <= 0.5 ? v * 0.428 : 0.214 + (v - 0.5) * 1.572;
      o[i] = o[i + 1] = o[i + 2] = g;
    } else if (view === 'cut out') {
      const x = k % width,
        light = ground === 'checker' ? ((((x / SQUARE) | 0) + (((k - x) / width / SQUARE) | 0)) & 1 ? 0.25 : 0.1) : 0;
      for (let c = 0; c < 3; c++)
        o[i + c] = (cut ? cut.data[i + c]! : p[i + c]! * v) + (behind ? behind[i + c]! : ground === 'checker' ? light : flat[c]!) * (1 - v);
    } else if (view === 'overlay') for (let c = 0; c < 3; c++) o[i + c] = p[i + c]! * (1 - TINTED * v) + tint[c]! * TINTED * v;
    else {
      // The picture pale, and over it what is soft, or what comes and goes.
      const grey = 0.35 * (0.2126 * p[i]! + 0.7152 * p[i + 1]! + 0.0722 * p[i + 2]!),
        [a, b] = before && after ? [v - before.data[k]!, v - after.data[k]!] : [0, 0],
        amount = view === 'edge' ? 4 * v * (1 - v) : a * b > 0 ? Math.min(1, 2 * Math.min(Math.abs(a), Math.abs(b))) : 0;
      for (let c = 0; c < 3; c++) o[i + c] = grey * (1 - amount) + (view === 'edge' ? 0.9 : [0.85, 0.12, 0.08][c]!) * amount;
    }
  }
  return out;
}
