import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { gathered, laneAddress, unpackFlakes, withFlakes, type Flakes } from './flakes';
import { shadeShapes } from './shadeShapes';
import { sortIntoTiles } from './tiles';

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
  /** Shares of the kinds, 0..1; the rest are winged flakes. */
  kinds?: { dust: number; shards: number; chunks: number; sparks: number };
  /** By how much those before the subject come nearer to the camera: 0 to 1. */
  depth?: number;
  /** Part of a frame for which the shutter is open, 0..1. */
  shutter?: number;
  /** By how much those under many others are darker, 0..1, and how far down shadows fall, whole-shot pixels. */
  shading?: { share: number; reach: number };
}

/** Share of the flakes that stand behind the subject: each by its own depth. */
const BEHIND = 0.38;
/** A draft draws a share of the flakes, larger ones of the same area in all: down to this share. */
const LEAST_DRAWN = 0.5;
const SHAPE_FLOATS = 16;

/**
 * Draws particles of several kinds (winged flakes that beat, dust, shards that turn in depth, soft chunks, sparks), in their order, premultiplied: those before the subject and those behind it.
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
  const params = pictures.takePlane(24, 1),
    { seed, scale, size, sizeVariation, paleness, pale, ember, emberColour, beat } = look,
    share = Math.max(LEAST_DRAWN, Math.min(1, scale)),
    drawn = size / Math.sqrt(share),
    { dust, shards, chunks, sparks } = look.kinds ?? { dust: 0, shards: 0, chunks: 0, sparks: 0 },
    // More than all there are is not possible: what is too much is taken from each alike.
    most = 1 / Math.max(1, dust + shards + chunks + sparks);
  params.data.fill(0);
  params.data.set([seed, scale, drawn, sizeVariation, paleness, ...pale, ember, ...emberColour, beat / 6.283185307179586, BEHIND, 1]);
  params.data.set([dust * most, shards * most, chunks * most, sparks * most, look.depth ?? 0, look.shutter ?? 0], 15);
  const { shapes, count } = withFlakes(flakes, pictures, (block) => {
    const shown = share < 1 ? shownOf(block, flakes, seed, share, pictures) : null,
      { count, stride } = shown ? unpackFlakes(shown) : flakes,
      shapes = pictures.takePlane(Math.max(4, stride) * SHAPE_FLOATS, 1),
      lane = laneAddress(shown?.address ?? block, stride);
    withAddresses(pictures, [params], (given) =>
      pictures.run(
        'shapeFlakes',
        stride >> 2,
        given!,
        lane('id'),
        lane('x'),
        lane('y'),
        lane('vx'),
        lane('vy'),
        lane('age'),
        lane('life'),
        lane('red'),
        lane('green'),
        lane('blue'),
        shapes.address!,
      ),
    );
    if (shown) pictures.give(shown);
    return { shapes, count };
  });
  if (look.shading && look.shading.share > 0)
    shadeShapes(shapes, count, look.shading.share, look.shading.reach * scale, width, height, pictures);
  const sorted = sortIntoTiles(shapes, count, width, height, pictures),
    side = (behind: boolean, onto: boolean, out: Picture): Picture => {
      pictures.run('drawShapes', sorted.rows, shapes.address!, sorted.ends, sorted.entries, behind, onto, out.address!, width, height);
      return out;
    };
  const out = {
    front: side(false, !!under, under ?? pictures.takePicture(width, height)),
    behind: side(true, false, pictures.takePicture(width, height)),
  };
  sorted.giveBack();
  pictures.give(params);
  pictures.give(shapes);
  return out;
}

/** The flakes that a draft shows, in their order: the others are left out before anything of them is worked out. */
function shownOf(block: number, { count, stride }: Flakes, seed: number, share: number, pictures: Pictures): Plane {
  const list = pictures.takePlane(count + 1, 1),
    n = pictures.kernels.findShown(block, count, seed, share, list.address!),
    shown = gathered(block, stride, list, n, pictures);
  pictures.give(list);
  return shown;
}
