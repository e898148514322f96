import type { Pictures } from '../image/arena';
import { emptyPlane } from '../image/planeMath';
import type { Picture, Plane } from '../image/picture';
import { fillSmall } from './fillSmall';

/** Deviations of the grain by which a cell may be off the light that is foretold for it. */
const WITHIN = 9;
/** The share of the 25 cells about one that must be known to foretell it: light does not creep through gaps in a body's outline that are narrower than four cells. */
const NEEDED = 9 / 25;
/** The share of the unknown cells about one that must agree with it: light does not cross an outline where it happens to be like what is behind it. */
const AGREE = 0.5;
/** What slopes cost, against the sum of weights. */
const SLOPE = 0.01;
/** The smallest patch of light, cells. */
const SMALLEST = 40;
/** Steps of a cell that light is followed from where structure is seen in it: a body out of focus before a plain wall begins as softly as light does. */
const FURTHEST = 16;
/** Cells into a body by which the light beside it is carried. */
const INWARDS = 6;

/**
 * The light that falls on what stands behind a body, by cells: a lamp in the hand lights the ground many times as bright, in its own colour, with no edge where it ends. From
 * where the clean plate's structure is seen in it, it is followed into what differs, cell by cell, while the plate is the clean plate in a light that goes on as it began; a body's outline is a step there, and
 * stops it. Light in plain air, a lamp's halo, is not told from a body out of focus, and stays.
 * @param a square roots of light of the plate by cells, three planes. @param b those of the clean plate. @param mask what differs, 0..1. @param zs by how much each cell differs once
 * grey light is made good, deviations. @param structure of the clean plate, 0..1. @param like how far the plate has it too, -1..1. @param surely how surely fine structure is seen in whatever light, 0..1.
 * @param grain deviations of a cell, r g b.
 * @returns for each cell by how much the plate's root is the clean plate's in r g b, carried a little into the body; null where no light falls. The caller gives it back.
 */
export function thrownLight(
  { a, b, mask, zs, structure, like, surely }: Record<'a' | 'b' | 'mask' | 'zs' | 'structure' | 'like' | 'surely', Plane>,
  grain: readonly [number, number, number],
  pictures: Pictures,
): Picture | null {
  const { width, height } = mask,
    light = pictures.takePicture(width, height),
    ratios = pictures.takePicture(width, height),
    parts = pictures.takePlane(8, 1),
    list = pictures.takePlane(width, height),
    { kernels } = pictures;
  parts.data.set([...grain.map((deviation) => 1 / deviation), WITHIN, NEEDED, SLOPE, AGREE, FURTHEST]);
  kernels.lightRatios(
    ...([a.address!, b.address!, mask.address!, zs.address!, surely.address!] as const),
    ...([WITHIN, ratios.address!, light.address!, width * height] as const),
  );
  const reached = kernels.growLight(
      ...([a.address!, b.address!, structure.address!, like.address!, parts.address!] as const),
      ...([ratios.address!, light.address!, list.address!, width, height] as const),
    ),
    falls = reached >= SMALLEST && dropSmall(light, pictures);
  if (falls) kernels.spreadLight(light.address!, list.address!, INWARDS, width, height);
  else pictures.give(light);
  for (const working of [ratios, parts, list]) pictures.give(working);
  return falls ? light : null;
}
/** Forgets patches of light that are too small to be any; whether one is left. In place. */
function dropSmall({ width, height, data }: Picture, pictures: Pictures): boolean {
  const patches = emptyPlane(width, height, pictures);
  for (let p = 0; p < patches.data.length; p++) if (data[4 * p + 3]! >= 2) patches.data[p] = 1;
  fillSmall(patches, SMALLEST, 0.5, false, 0, false);
  let any = false;
  for (let p = 0; p < patches.data.length; p++) {
    if (patches.data[p]) any = true;
    else if (data[4 * p + 3]! >= 2) data.set([1, 1, 1, 0], 4 * p);
  }
  pictures.give(patches);
  return any;
}
