import { blur } from '../image/blur';
import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { CELL, laneAddress, withFlakes, type Flakes } from '../particles';
import { boxOf } from './body';
import type { Canvas } from './describe';

/** How far before and behind the line of its ground a body's particles come down, as a share of its height. */
export const BAND = 0.05;
/** Of the shadows of what is low, and of what is high, in cells; and the height that counts as high, as a share of the body's. */
const SOFT = { low: 1, high: 5, from: 0.3 };
/** So many pieces throw the shadow of all. */
const MOST = 12000;

/**
 * Where a body stands: the lowest row of its matte, whole-shot pixels; null where it reaches out of the picture below, or is not there.
 * @param scale pixels of the matte for each whole-shot pixel.
 */
export function feetOf(matte: Plane, scale: number, { pictures }: Pick<Canvas, 'pictures'>): number | null {
  const box = boxOf(matte, 0, pictures);
  return !box || box[3] >= matte.height - 1 ? null : box[3] / scale;
}

/**
 * The shadow that flying pieces throw on the ground, straight below each, laid under `picture` in place (premultiplied): sharper and darker the lower they fly.
 * @param ground the line on which the body stands, whole-shot pixels; each piece lands up to a BAND of the body's height before or behind it.
 * @param size of a piece, whole-shot pixels; @param share how dark the shadow of what covers all is, 0..1.
 */
export function layGroundShadow(
  flakes: Flakes,
  { ground, size, share, seed, tall }: { ground: number; size: number; share: number; seed: number; tall: number },
  picture: Picture,
  { pictures, scale }: Canvas,
): void {
  const width = Math.ceil(picture.width / scale / CELL),
    height = Math.ceil(picture.height / scale / CELL),
    falls = [pictures.takePlane(width, height), pictures.takePlane(width, height)] as const;
  for (const plane of falls) plane.data.fill(0);
  // Chosen by their numbers, so that the same ones throw it on every frame.
  const every = Math.max(1, Math.floor(flakes.count / MOST)),
    area = (every * 1.4 * size * size) / (CELL * CELL),
    params = pictures.takePlane(12, 1);
  params.data.set([seed, ground, BAND * tall, tall, SOFT.from, area, 1 / CELL, width, height, every]);
  withFlakes(flakes, pictures, (block) => {
    const lane = laneAddress(block, flakes.stride);
    pictures.kernels.countFallen(
      ...([params.address!, lane('id'), lane('x'), lane('y'), lane('vx'), lane('vy')] as const),
      ...([lane('age'), lane('life'), flakes.count, falls[0].address!, falls[1].address!] as const),
    );
  });
  pictures.give(params);
  const soft = [blur(falls[0], SOFT.low, pictures), blur(falls[1], SOFT.high, pictures)] as const,
    all = soft[0].data;
  for (let k = 0; k < all.length; k++) all[k]! += soft[1].data[k]!;
  layUnder(soft[0], share, picture, scale, pictures);
  for (const plane of [...falls, ...soft]) pictures.give(plane);
}
/** Lays black of so much, by cells, under what a picture has. */
function layUnder(fallen: Plane, share: number, picture: Picture, scale: number, pictures: Pictures): void {
  const box = boxOf(fallen, 1, pictures);
  if (!box) return;
  const cell = CELL * scale,
    [left, right] = [Math.floor(box[0] * cell), Math.min(picture.width, Math.ceil(box[2] * cell))],
    [top, bottom] = [Math.floor(box[1] * cell), Math.min(picture.height, Math.ceil(box[3] * cell))];
  if (bottom <= top || right <= left) return;
  withAddresses(pictures, [fallen, picture], (from, to) =>
    pictures.run('shadeUnder', bottom - top, from!, fallen.width, fallen.height, 1 / cell, share, to!, picture.width, left, right, top),
  );
}
