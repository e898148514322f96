import type { Pictures } from '../image/arena';
import { blur, halfSize, twiceSize } from '../image/blur';
import { withAddresses } from '../image/kernelCall';
import { emptyPlane } from '../image/planeMath';
import type { Picture, Plane } from '../image/picture';
import { decodeValue } from '../image/transfer';
import { chromaMatte } from './keys';
import { growMatte } from './grow';
import { paletteOf } from './palette';
import { backingBehind, shadeBacking } from './spill';

/** How a backing is keyed; shares 0..1, lengths in pixels. */
export interface BackingKey {
  /** Where coverage begins and where it is full. */
  outside: number;
  core: number;
  /** Half the width of the band along the edge in which each pixel is mixed from the subject's and the backing's own colours; 0 is none. */
  edge: number;
  /** The backing is followed where its light is uneven, or of one colour everywhere. */
  even: boolean;
}
/** The colour distance of the first, rough key, per cent of the backing's strength: what is backing for certain. */
const ROUGH = { tolerance: 30, softness: 45 };
/** A backing of less excess of its own channel is no backing. */
const LEAST = 1e-3;
/** The shades that a subject is taken to have, the pixels that they are learned from, and those that are looked at for them and for grain. */
const SHADES = 14,
  LEARNED = 1400,
  LOOKED = 150_000;
/** Grain of a pixel, 0..1 of the display range, and how much a thinner cover costs against a colour that fits less. */
const GRAIN = 0.012,
  THIN = 0.5;
/** How far a shade's colours may stray to explain a mixture, and how badly a pixel must fit all mixtures to be a shade of its own. */
const STRAYS = 0.06,
  UNKNOWN = 5;
/** How far from a shade, 0..1 of the display range, a pixel may be and still be solid. */
const SLACK = 0.035;
/** Coverage on the backing up to which grain is measured, and the deviations of it that are taken for backing, after a mean of this sigma (pixels). */
const MOST_GRAIN = 0.25,
  STEPS = 500,
  DEVIATIONS = 3.5,
  AROUND = 1.2;
/** Coverage from which a pixel counts as solid. */
const SOLID = 0.95;

/**
 * Keys a backing, in two looks. First by its excess: how much its strongest channel is above the others, against how much that of the backing itself is there
 * (the colour difference of travelling mattes). That is right for grey, and too full for a subject whose colours lean away from the backing. So along the edge
 * each pixel is told apart once more: of the shades that the subject shows where it is solid, the one is taken on whose mixture with the backing the pixel lies,
 * and the share of the way is its coverage. Light is linear, in which edges and blurred motion are mixed. The caller gives it back.
 * @param backing display-encoded, 0..1.
 */
export function keyBacking(plate: Picture, backing: readonly [number, number, number], key: BackingKey, pictures: Pictures): Plane {
  const even = backing.map((v) => decodeValue(v)) as [number, number, number],
    behind = key.even ? onePixel(even, pictures) : backingAround(plate, backing, even, pictures),
    out = byExcess(plate, behind, even.indexOf(Math.max(...even)) as 0 | 1 | 2, pictures),
    // Whether a pixel is backing is told from those around it as well, in which grain is less.
    around = blur(out, AROUND, pictures),
    outside = Math.max(key.outside, DEVIATIONS * grainOf(around, pictures)),
    solid = pictures.takePlane(out.width, out.height),
    core = key.edge > 0.5 ? SOLID : key.core,
    { width, height } = out;
  withAddresses(pictures, [out, solid], (o, s) => pictures.run('solidOf', height, o!, key.core, s!, width));
  shrink(solid, key.edge, pictures);
  if (key.edge > 0.5) unmix(plate, behind, even, solid, around, outside, key.core, out, pictures);
  withAddresses(pictures, [out, solid, around], (o, s, r) => pictures.run('settleKey', height, o!, s!, r!, outside, core, width));
  for (const one of [solid, around, behind]) pictures.give(one);
  return out;
}
/** Shrinks what is solid by some pixels. At half of the size: a pixel more or less of the band along the edge makes no difference. */
function shrink(solid: Plane, by: number, pictures: Pictures): void {
  if (by < 4) {
    growMatte(solid, -by, pictures);
    return;
  }
  const half = halfSize(solid, pictures);
  growMatte(half, -by / 2, pictures);
  const back = twiceSize(half, solid.width, solid.height, pictures);
  solid.data.set(back.data);
  for (const one of [half, back]) pictures.give(one);
}
/** Coverage by how much of the backing's excess is left: below 0 is grain of the backing, as is what lies as much above it. The caller gives it back. */
function byExcess(plate: Picture, behind: Picture, strongest: 0 | 1 | 2, pictures: Pictures): Plane {
  const { width, height } = plate,
    [a, b] = [0, 1, 2].filter((c) => c !== strongest) as [number, number],
    back = behind.data,
    whole = pictures.takePlane(behind.width, behind.height),
    out = pictures.takePlane(width, height);
  for (let q = 0; q < whole.data.length; q++) whole.data[q] = back[4 * q + strongest]! - Math.max(back[4 * q + a]!, back[4 * q + b]!);
  withAddresses(pictures, [plate, whole, out], (p, w, o) =>
    pictures.run('excessCover', height, p!, w!, behind.width, coarseOf(behind), strongest, LEAST, o!, width),
  );
  pictures.give(whole);
  return out;
}
/** By how much places are halved to find them in the picture of the backing: a quarter of the size, or one pixel for all. */
const coarseOf = (behind: Picture): number => (behind.data.length > 4 ? 2 : 31);
/** One colour everywhere, as a picture of one pixel. */
function onePixel(colour: readonly [number, number, number], pictures: Pictures): Picture {
  const out = pictures.takePicture(1, 1);
  out.data.set([...colour, 1]);
  return out;
}
/** The backing around each place, at a quarter of the size: it changes slowly. The caller gives it back. */
function backingAround(
  plate: Picture,
  backing: readonly [number, number, number],
  even: readonly [number, number, number],
  pictures: Pictures,
): Picture {
  const half = halfSize(plate, pictures),
    small = halfSize(half, pictures),
    rough = chromaMatte(small, backing, ROUGH, pictures),
    behind = backingBehind(small, rough, even, pictures);
  shadeBacking(behind, small, pictures);
  for (const one of [half, small, rough]) pictures.give(one);
  return behind;
}
/** The deviation of coverage that grain gives on the backing: from the middle one of the absolute values near 0. */
function grainOf(covered: Plane, pictures: Pictures): number {
  const { length } = covered.data,
    step = 2 * Math.max(1, Math.floor(length / LOOKED / 2)) + 1,
    sizes = emptyPlane(STEPS, 1, pictures),
    n = withAddresses(pictures, [covered, sizes], (from, to) => pictures.kernels.countSizes(from!, length, step, MOST_GRAIN, STEPS, to!)),
    counts = new Uint32Array(sizes.data.buffer, sizes.data.byteOffset, STEPS);
  let [below, at] = [0, 0];
  while (at < STEPS - 1 && below + counts[at]! < n / 2) below += counts[at++]!;
  pictures.give(sizes);
  // The middle one of absolute values is 0.6745 deviations.
  return n ? ((at + 0.5) / STEPS) * (MOST_GRAIN / 0.6745) : 0;
}
/** Display colours of some solid pixels, spread over all of them: red, green and blue of one after another. */
function solidColours({ data: p }: Picture, { data: solid }: Plane): Float32Array {
  // Of a large picture every few pixels are looked at.
  const step = Math.max(1, Math.floor(solid.length / LOOKED));
  let inside = 0;
  for (let k = 0; k < solid.length; k += step) if (solid[k]! > 0.5) inside++;
  const every = Math.max(1, Math.floor(inside / LEARNED)),
    learned = new Float32Array(3 * Math.ceil(inside / every));
  for (let k = 0, seen = 0, j = 0; k < solid.length; k += step) {
    if (!(solid[k]! > 0.5) || seen++ % every) continue;
    for (let c = 0; c < 3; c++) learned[j++] = Math.sqrt(Math.max(0, p[4 * k + c]!));
  }
  return learned;
}
/** Coverage of what is neither solid nor backing, in place: the share of the way from the backing to the shade on whose way the pixel lies. */
function unmix(
  plate: Picture,
  behind: Picture,
  even: readonly number[],
  solid: Plane,
  around: Plane,
  outside: number,
  core: number,
  out: Plane,
  pictures: Pictures,
): void {
  const strongest = even.indexOf(Math.max(...even)),
    excess = (v: ArrayLike<number>) => v[strongest]! - Math.max(...[0, 1, 2].filter((c) => c !== strongest).map((c) => v[c]!)),
    usual = excess(even),
    shades = paletteOf(solidColours(plate, solid), SHADES).flatMap(({ colour, spread }) => {
      const light = colour.map((v) => v * v),
        near = (SLACK + spread) * (SLACK + spread),
        strays = Math.min(spread, STRAYS) * Math.min(spread, STRAYS),
        solidity = Math.min(1, Math.max(0.5, 1 - excess(light) / usual));
      return [...colour, near, ...light, strays, solidity, 0, 0, 0];
    });
  if (!shades.length) return;
  const known = pictures.takePlane(shades.length, 1),
    params = pictures.takePlane(8, 1);
  known.data.set(shades);
  params.data.set([outside, core, SOLID, UNKNOWN, GRAIN * GRAIN, THIN]);
  withAddresses(pictures, [plate, behind, solid, around, known, params, out], (p, b, s, a, list, given, o) =>
    pictures.run(
      'unmixShades',
      plate.height,
      ...([p!, b!, behind.width, coarseOf(behind), s!, a!, list!, shades.length / 12, given!, o!, plate.width] as const),
    ),
  );
  for (const one of [known, params]) pictures.give(one);
}
