import type { Pictures } from '../image/arena';
import { blur } from '../image/blur';
import type { Picture, Plane } from '../image/picture';

/** Radius (2 sigma) over which the backing is looked at, as a share of the picture's width: wider than hair, narrower than the fall of its light. */
const AROUND = 0.06;
/** Radius over which shadows and creases are followed: wider than the gaps between strands. */
const SHADED = 0.008;
/** How far from the backing's own hue its shadow may be, a share of its brightness, and how dark and bright it may be. */
const HUE = 0.12,
  DARKEST = 0.12,
  BRIGHTEST = 1.6;

/**
 * The backing as it would be behind the subject: at each pixel the mean of what is backing around it, so that uneven light on it stays uneven. The
 * caller gives it back.
 * @param even the backing's colour (linear), where there is none of it near.
 */
export function backingBehind(plate: Picture, matte: Plane, even: readonly [number, number, number], pictures: Pictures): Picture {
  const { width, height } = plate,
    weighed = pictures.takePicture(width, height),
    w = weighed.data,
    p = plate.data;
  for (let k = 0, i = 0; k < matte.data.length; k++, i += 4) {
    // Only what is backing for certain: soft pixels have the subject in them.
    const m = matte.data[k]! <= 0.02 ? 1 : 0;
    w[i] = p[i]! * m;
    w[i + 1] = p[i + 1]! * m;
    w[i + 2] = p[i + 2]! * m;
    w[i + 3] = m;
  }
  const soft = blur(weighed, (AROUND * width) / 2, pictures),
    s = soft.data;
  pictures.give(weighed);
  for (let i = 0; i < s.length; i += 4) {
    const near = s[i + 3]!,
      // Far inside the subject nothing is known, and nothing is wanted: there the matte is 1.
      known = near / (near + 0.002);
    for (let c = 0; c < 3; c++) s[i + c] = near > 0 ? (s[i + c]! / near) * known + even[c]! * (1 - known) : even[c]!;
    s[i + 3] = 1;
  }
  return soft;
}

/**
 * Darkens and brightens a backing to the shadows and creases that are seen on it, in place: what has its hue near by, at any brightness, and of that rather
 * what is brighter, as strands before it are darker.
 */
export function shadeBacking(backing: Picture, plate: Picture, pictures: Pictures): void {
  const { width, height } = plate,
    sums = pictures.takePicture(width, height),
    [b, p, s] = [backing.data, plate.data, sums.data];
  for (let i = 0; i < s.length; i += 4) {
    const [red, green, blue] = [b[i]!, b[i + 1]!, b[i + 2]!],
      [x, y, z] = [p[i]!, p[i + 1]!, p[i + 2]!],
      length = 1e-9 + red * red + green * green + blue * blue,
      t = (x * red + y * green + z * blue) / length,
      [dx, dy, dz] = [x - t * red, y - t * green, z - t * blue],
      off = dx * dx + dy * dy + dz * dz;
    const its = t > DARKEST && t < BRIGHTEST && off < HUE * HUE * t * t * length,
      // Brighter backing counts more than darker near by: hair before it makes it darker, and is no shadow.
      weight = its ? t : 0;
    s[i] = weight * t;
    s[i + 1] = weight;
    s[i + 2] = its ? 1 : 0;
    s[i + 3] = 0;
  }
  const near = blur(sums, (SHADED * width) / 2, pictures),
    n = near.data;
  pictures.give(sums);
  for (let i = 0; i < n.length; i += 4) {
    const known = n[i + 2]! / (n[i + 2]! + 0.05),
      t = n[i + 1]! > 0 ? 1 + known * (n[i]! / n[i + 1]! - 1) : 1;
    b[i]! *= t;
    b[i + 1]! *= t;
    b[i + 2]! *= t;
  }
  pictures.give(near);
}

/** What may come in place of light of the backing that is taken out. */
export const spillReplacements = ['nothing', 'grey', 'a colour'] as const;
/** How light of a backing is taken out of a subject. */
export interface SpillRemoval {
  /** Share that is taken out, 0..1. */
  share: number;
  /** The light that comes in its place, linear, of luminance 1; null for none. */
  instead: readonly [number, number, number] | null;
}
/** Luma weights of Rec. 709. */
const LUMA = [0.2126, 0.7152, 0.0722] as const;
/** Light of luminance 1 of a colour; grey where it is black. */
export function ofLuminanceOne(colour: readonly [number, number, number]): [number, number, number] {
  const y = LUMA[0] * colour[0] + LUMA[1] * colour[1] + LUMA[2] * colour[2];
  return y > 1e-6 ? [colour[0] / y, colour[1] / y, colour[2] / y] : [1, 1, 1];
}

/**
 * Takes the backing's light out of a cut-out (premultiplied), in place: the channel in which the backing is strongest is held at the mean of the other
 * two, by a share. Skin and cloth keep their hue, and only lose what cannot be theirs; as much brightness as was lost may come back in another colour.
 * @param backing its colour, linear.
 */
export function takeOutSpill(picture: Picture, backing: readonly [number, number, number], { share, instead }: SpillRemoval): void {
  const strongest = backing.indexOf(Math.max(...backing)) as 0 | 1 | 2,
    [a, b] = [0, 1, 2].filter((c) => c !== strongest) as [number, number],
    d = picture.data;
  for (let i = 0; i < d.length; i += 4) {
    const over = share * (d[i + strongest]! - 0.5 * (d[i + a]! + d[i + b]!));
    if (!(over > 0)) continue;
    d[i + strongest]! -= over;
    if (instead) for (let c = 0; c < 3; c++) d[i + c]! += LUMA[strongest] * over * instead[c]!;
  }
}
