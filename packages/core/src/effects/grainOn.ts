import type { Pictures } from '../image/arena';
import { blur } from '../image/blur';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { deviationOf, finestAt } from '../motion/noise';

/** Places at which the plate is looked at. */
const LOOKED = 6000;
/** Deviation of the brightness of grain of deviation 1 that is half common to the channels (see `showGrained`). */
const OF_BRIGHTNESS = 0.858;
/** Square roots of light beyond which a picture is clipped, as its black bars are: what lies there has no grain, whatever the rest has. */
const BLACK = 0.03,
  WHITE = 0.98;
/** Deviation, of square roots of light, below which a plate has no grain. */
const NONE = 0.0008;

/** Square root of the brightness of a pixel, in which grain is about as strong everywhere. */
const rootAt = (d: Float32Array<ArrayBufferLike>, i: number): number => {
  const light = 0.2126 * d[i]! + 0.7152 * d[i + 1]! + 0.0722 * d[i + 2]!;
  return light > 0 ? Math.sqrt(light) : 0;
};
/** Deviation of the grain of a picture, of square roots of light: from the quieter quarter of its places, so that texture raises it little. */
export function grainDeviation({ data, width, height }: Picture): number {
  const step = Math.max(1, Math.floor(Math.sqrt((width * height) / LOOKED))),
    found: number[] = [],
    around = new Float64Array(9);
  for (let y = 1; y < height - 1; y += step)
    for (let x = 1; x < width - 1; x += step) {
      for (let k = 0; k < 9; k++) around[k] = rootAt(data, ((y + Math.floor(k / 3) - 1) * width + x + (k % 3) - 1) * 4);
      if (around[4]! < BLACK || around[4]! > WHITE) continue;
      found.push(Math.abs(finestAt(around, 4, 3)));
    }
  return deviationOf(found);
}

/**
 * A picture with the grain of the plate; null where it needs none, so that it stays as it is.
 * @param of how strong, 1 is as strong as the plate's, and the deviation of the plate's (`grainDeviation`).
 * @param on where: only where the picture is not the plate any more and lacks its grain, or everywhere on top of what is there.
 * @param seed another grain for each frame.
 * @param into the picture below itself, where it may be written into.
 */
export function withGrain(
  below: Picture,
  plate: Picture,
  of: { amount: number; deviation: number },
  on: 'what effects drew' | 'everything',
  seed: number,
  pictures: Pictures,
  into?: Picture,
): Picture | null {
  if (of.deviation < NONE) return null;
  const { width, height } = below,
    mask = on === 'everything' ? whole(width, height, pictures) : missing(below, plate, of.deviation, pictures);
  if (!mask) return null;
  const sigma = pictures.takePlane(4, 1),
    out = into ?? pictures.takePicture(width, height),
    strength = (of.amount * of.deviation) / OF_BRIGHTNESS;
  sigma.data.set([strength, strength, strength, 0]);
  withAddresses(pictures, [out, ...(out === below ? [] : [below]), mask, sigma], (to, ...given) => {
    const [from, where, by] = out === below ? [to, ...given] : given;
    pictures.run('showGrained', height, from!, from!, where!, by!, seed | 0, to!, width);
  });
  for (const working of [mask, sigma]) pictures.give(working);
  return out;
}

function whole(width: number, height: number, pictures: Pictures): Plane {
  const out = pictures.takePlane(width, height);
  out.data.fill(1);
  return out;
}

/** Side of the blocks that are looked at together. */
const BLOCK = 4;

/**
 * Where a picture is not the plate any more, and how much of the plate's grain it lacks there, 0..1; null where it is the plate. Only blocks that differ are
 * worked on: most effects cover little of a picture. An edge is no grain, however strong.
 */
function missing(below: Picture, plate: Picture, deviation: number, pictures: Pictures): Plane | null {
  const { width, height } = below,
    w = Math.ceil(width / BLOCK),
    h = Math.ceil(height / BLOCK),
    energy = pictures.takePlane(w, h),
    weight = pictures.takePlane(w, h),
    found = pictures.takePlane(4, 1),
    most = 9 * deviation * deviation;
  const any = withAddresses(pictures, [below, plate, energy, weight, found], (b, o, sums, differs, box) => {
    pictures.run('grainAbout', h, b!, o!, most, sums!, differs!, w, width, height);
    return pictures.kernels.findBox(differs!, w, h, 0, 1, box!);
  });
  let out: Plane | null = null;
  if (any) {
    const soft = blur(energy, 2, pictures),
      known = blur(weight, 2, pictures),
      mask = pictures.takePlane(width, height);
    withAddresses(pictures, [below, plate, soft, known, weight, mask], (b, o, sums, all, differs, to) =>
      pictures.run('lackingGrain', h, b!, o!, sums!, all!, differs!, deviation, to!, w, width, height),
    );
    for (const working of [soft, known]) pictures.give(working);
    out = mask;
  }
  for (const working of [energy, weight, found]) pictures.give(working);
  return out;
}
