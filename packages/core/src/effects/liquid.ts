import { blur } from '../image/blur';
import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Picture } from '../image/picture';

/** Coverage at which the skin lies. */
const LEVEL = 0.24;

/**
 * Gathers what was drawn into drops and streams with one skin, in place: what is near enough together flows into one, by a blur whose coverage is cut
 * at a level; the slope of the blurred coverage turns the skin to the light from the upper left.
 * @param amount 0 leaves it, 1 is liquid only.
 * @param over how far apart things may be, pixels of the picture.
 */
export function gatherLiquid(layer: Picture, amount: number, over: number, shine: number, pictures: Pictures): void {
  const { width, height } = layer,
    // Light has no coverage of its own: its brightness stands in for it.
    working = pictures.takePicture(width, height);
  withAddresses(pictures, [layer, working], (from, to) => pictures.run('litCover', height, from!, to!, width));
  const soft = blur(working, over / 2, pictures);
  pictures.give(working);
  withAddresses(pictures, [layer, soft], (to, from) =>
    pictures.run('skinLiquid', height, to!, from!, amount, LEVEL, over, shine, width, height),
  );
  pictures.give(soft);
}
