import type { Pictures } from '../image/arena';
import { blur } from '../image/blur';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';

/** Radius (2 sigma) over which the backing is looked at, as a share of the picture's width: wider than hair, narrower than the fall of its light. */
const AROUND = 0.06;
/** Radius over which shadows and creases are followed: wider than the gaps between strands. */
const SHADED = 0.008;
/** Coverage up to which a pixel is backing for certain: softer ones have the subject in them. */
const MOST_COVER = 0.02;
/** Shares of what is known near by below which it is left out: far inside the subject nothing is known, and nothing is wanted, as the matte is 1 there. */
const TRACE = 0.002,
  TRACE_OF_HUE = 0.05;
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
    certain = pictures.takePicture(width, height);
  withAddresses(pictures, [plate, matte, certain], (p, m, to) => pictures.run('certainBacking', height, p!, m!, MOST_COVER, to!, width));
  const soft = blur(certain, (AROUND * width) / 2, pictures);
  pictures.give(certain);
  withAddresses(pictures, [soft], (s) => pictures.run('meanBacking', height, s!, ...even, TRACE, width));
  return soft;
}

/**
 * Darkens and brightens a backing to the shadows and creases that are seen on it, in place: what has its hue near by, at any brightness, and of that rather
 * what is brighter, as strands before it are darker.
 */
export function shadeBacking(backing: Picture, plate: Picture, pictures: Pictures): void {
  const { width, height } = plate,
    sums = pictures.takePicture(width, height);
  withAddresses(pictures, [backing, plate, sums], (b, p, s) =>
    // Brighter backing counts more than darker near by: hair before it makes it darker, and is no shadow.
    pictures.run('ofItsHue', height, b!, p!, DARKEST, BRIGHTEST, HUE * HUE, s!, width),
  );
  const near = blur(sums, (SHADED * width) / 2, pictures);
  pictures.give(sums);
  withAddresses(pictures, [backing, near], (b, n) => pictures.run('shadeAsNear', height, b!, n!, TRACE_OF_HUE, width));
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
