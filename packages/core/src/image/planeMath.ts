import type { Pictures } from './arena';
import { withAddresses } from './kernelCall';
import type { Picture, Plane } from './picture';

/** Operations on planes of one size, by kernels. Each gives a new plane, or writes into `out` (which may be an input). */
function planes(a: Plane, b: Plane, out: Plane, pictures: Pictures, work: (x: number, y: number, to: number) => void): Plane {
  withAddresses(pictures, [a, b], (x, y) => {
    if (out.address === undefined) throw new Error('planes: the result must lie in the arena');
    work(x!, y!, out.address);
  });
  return out;
}
const like = (plane: Plane, pictures: Pictures): Plane => pictures.takePlane(plane.width, plane.height);

/** What a cover leaves of a plane: plane (1 - weight cover). */
export const leave = (plane: Plane, cover: Plane, pictures: Pictures, weight = 1, out = like(plane, pictures)): Plane =>
  planes(plane, cover, out, pictures, (x, y, to) => pictures.run('leave', out.height, x, y, weight, to, out.width));
/** Both covers together: a + b - a b. */
export const unite = (a: Plane, b: Plane, pictures: Pictures, out = like(a, pictures)): Plane =>
  planes(a, b, out, pictures, (x, y, to) => pictures.run('unite', out.height, x, y, to, out.width));
/** Their product times a weight. */
export const product = (a: Plane, b: Plane, pictures: Pictures, weight = 1, out = like(a, pictures)): Plane =>
  planes(a, b, out, pictures, (x, y, to) => pictures.run('product', out.height, x, y, weight, to, out.width));
/** The larger of a and b times a weight. */
export const largerOf = (a: Plane, b: Plane, pictures: Pictures, weight = 1, out = like(a, pictures)): Plane =>
  planes(a, b, out, pictures, (x, y, to) => pictures.run('largerOf', out.height, x, y, weight, to, out.width));
/** Each value on a line, clamped to 0..1; not a number becomes 0. */
export const clampedLine = (plane: Plane, gain: number, offset: number, pictures: Pictures, out = like(plane, pictures)): Plane =>
  planes(plane, plane, out, pictures, (x, _, to) => pictures.run('clampedLine', out.height, x, gain, offset, to, out.width));
/** Between two planes: a + (b - a) part. */
export const between = (a: Plane, b: Plane, part: number, pictures: Pictures, out = like(a, pictures)): Plane =>
  planes(a, b, out, pictures, (x, y, to) => pictures.run('between', out.height, x, y, part, to, out.width));
/** A plane of zeros. */
export function emptyPlane(width: number, height: number, pictures: Pictures): Plane {
  const out = pictures.takePlane(width, height);
  withAddresses(pictures, [out], (to) => pictures.run('clear', height, to!, width));
  return out;
}
/** A picture with nothing in it. */
export function emptyPicture(width: number, height: number, pictures: Pictures): Picture {
  const out = pictures.takePicture(width, height);
  withAddresses(pictures, [out], (to) => pictures.run('clear', height, to!, 4 * width));
  return out;
}

/** The alpha of a picture as a plane. */
export function alphaOf(picture: Picture, pictures: Pictures): Plane {
  const out = pictures.takePlane(picture.width, picture.height);
  withAddresses(pictures, [picture, out], (from, to) => pictures.run('alphaOf', out.height, from!, to!, out.width));
  return out;
}
/** A plane as the alpha of a black picture. */
export function asAlpha(plane: Plane, pictures: Pictures): Picture {
  const out = pictures.takePicture(plane.width, plane.height);
  withAddresses(pictures, [plane, out], (from, to) => pictures.run('asAlpha', out.height, from!, to!, out.width));
  return out;
}
/**
 * What a matte holds of a picture, premultiplied.
 * @param behind what stands behind it, whose part in soft pixels is taken out by a `share` (0..1); null where it is not known.
 */
export function cutOut(picture: Picture, matte: Plane, behind: Picture | null, share: number, pictures: Pictures): Picture {
  const out = pictures.takePicture(picture.width, picture.height);
  withAddresses(pictures, [picture, matte, out, ...(behind ? [behind] : [])], (from, m, to, back = 0) =>
    pictures.run('cutOut', out.height, from!, back, m!, share, to!, out.width),
  );
  return out;
}
