import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Picture } from '../image/picture';
import { withFlakes, type Flakes } from './flakes';

/** How flakes look. Sizes in whole-shot pixels (half the span of the wings), colours linear. */
export interface FlakeLook {
  seed: number;
  scale: number;
  size: number;
  sizeVariation: number;
  /** 0 keeps the colour of the pixel it left, 1 takes `pale`. */
  paleness: number;
  pale: readonly [number, number, number];
  ember: number;
  emberColour: readonly [number, number, number];
  /** Of the wings, radians a frame. */
  beat: number;
}

/** Share of the flakes that stand behind the subject: each by its own depth. */
const BEHIND = 0.38;
/** A draft draws a share of the flakes, larger ones of the same area in all: down to this share. */
const LEAST_DRAWN = 0.5;
const TILE = 32,
  /** Threads that can sort at one time: each looks at every shape. */
  PARTS = 2,
  SHAPE_FLOATS = 16;

/**
 * Draws flakes as small two-winged shapes that turn and beat, in their order, premultiplied: those before the subject and those behind it.
 * Which ones a draft leaves out is chosen by their ids. Young ones glow (ember): that part is light without coverage. They fade and shrink over their last third. Those in front are drawn onto `under`
 * (in the arena) where it is given, which is then the front.
 */
export function drawFlakes(
  flakes: Flakes,
  look: FlakeLook,
  width: number,
  height: number,
  pictures: Pictures,
  under: Picture | null = null,
): { front: Picture; behind: Picture } {
  const shapes = pictures.takePlane(flakes.stride * SHAPE_FLOATS, 1),
    params = pictures.takePlane(24, 1);
  const { seed, scale, size, sizeVariation, paleness, pale, ember, emberColour, beat } = look;
  const share = Math.max(LEAST_DRAWN, Math.min(1, scale)),
    drawn = size / Math.sqrt(share);
  params.data.set([
    seed,
    scale,
    drawn,
    sizeVariation,
    paleness,
    ...pale,
    ember,
    ...emberColour,
    beat / 6.283185307179586,
    BEHIND,
    1,
    share,
  ]);
  if (flakes.count)
    withFlakes(flakes, pictures, (at) =>
      withAddresses(pictures, [params, shapes], (given, to) =>
        pictures.run(
          'shapeFlakes',
          flakes.stride >> 2,
          given!,
          at('id'),
          at('x'),
          at('y'),
          at('age'),
          at('life'),
          at('red'),
          at('green'),
          at('blue'),
          to!,
        ),
      ),
    );
  const rows = Math.ceil(height / TILE),
    tiles = Math.ceil(width / TILE) * rows,
    starts = pictures.takePlane(2 * tiles + 1, 1),
    where = [PARTS, width, height] as const;
  pictures.run('countInTiles', PARTS, shapes.address!, flakes.count, starts.address!, ...where);
  const entries = pictures.takePlane(Math.max(1, pictures.kernels.sumStarts(starts.address!, 2 * tiles)), 1);
  pictures.run('sortIntoTiles', PARTS, shapes.address!, flakes.count, starts.address!, entries.address!, ...where);
  // A tile stays in the nearest cache while all of its shapes are laid on.
  const side = (behind: boolean, onto: boolean, out: Picture): Picture => {
    pictures.run('drawShapes', rows, shapes.address!, starts.address!, entries.address!, behind, onto, out.address!, width, height);
    return out;
  };
  const out = {
    front: side(false, !!under, under ?? pictures.takePicture(width, height)),
    behind: side(true, false, pictures.takePicture(width, height)),
  };
  for (const working of [params, shapes, starts, entries]) pictures.give(working);
  return out;
}
