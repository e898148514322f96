import { blur } from '../image/blur';
import { withAddresses } from '../image/kernelCall';
import type { Pictures } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import type { Region } from '../image/resize';

/** Sigmas of what counts as detail of a body and of what is around it, in cells of a quarter of the size. */
const FINE = 1.2,
  AROUND = 7;

/**
 * How much brighter each cell of a body is than what is around it on the body, -1..1 at most, 0 on average: the folds, seams and edges of cloth, along which a front eats. Square roots of
 * luminance, in deviations of what the body shows; so it says the same in bright and in dim light.
 * @param plate and @param matte at a quarter of the whole shot's size. The caller gives the result back.
 */
export function clothEdges(plate: Picture, matte: Plane, pictures: Pictures): Plane {
  const { width, height } = plate,
    out = pictures.takePlane(width, height),
    light = pictures.takePicture(width, height),
    sums = pictures.takePlane(2 * height, 1);
  // Light by its share of the body, so that what stands behind the body has no say.
  withAddresses(pictures, [plate, matte, light], (from, m, to) => pictures.run('rootsOnBody', height, from!, m!, to!, width));
  const [fine, around] = [blur(light, FINE, pictures), blur(light, AROUND, pictures)];
  withAddresses(pictures, [fine, around, matte, sums, out], (f, a, m, rows, to) =>
    pictures.run('brighterThanAround', height, f!, a!, m!, to!, rows!, width),
  );
  let [squares, n] = [0, 0];
  for (let y = 0; y < height; y++) {
    squares += sums.data[2 * y]!;
    n += sums.data[2 * y + 1]!;
  }
  const deviation = n ? Math.max(1e-4, Math.sqrt(squares / n)) : 1;
  withAddresses(pictures, [out], (at) => pictures.run('squeeze', height, at!, deviation, width));
  for (const working of [light, fine, around, sums]) pictures.give(working);
  return out;
}

/**
 * Moves the order of each pixel `within` a part of it by `amount` times what is there of `edges` (quarter size), in place: dark folds go first.
 * @param of the part of the picture that the edges are of; beyond it there are none.
 */
export function alongEdges(
  order: Plane,
  within: Region,
  edges: Plane,
  of: Region,
  amount: number,
  scale: number,
  pictures: Pictures,
): void {
  const [left, right] = [Math.max(of.x, within.x), Math.min(of.x + of.width, within.x + within.width)],
    [top, bottom] = [Math.max(of.y, within.y), Math.min(of.y + of.height, within.y + within.height)];
  if (right <= left || bottom <= top) return;
  withAddresses(pictures, [edges, order], (from, to) =>
    pictures.run(
      'addBetween',
      bottom - top,
      ...([from!, edges.width, edges.height, 1 / (4 * scale), amount, to!, order.width] as const),
      ...([left, right, top, of.x, of.y] as const),
    ),
  );
}
