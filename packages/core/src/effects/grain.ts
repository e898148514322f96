import type { Pictures } from '../image/arena';
import { blur } from '../image/blur';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { hash } from '../image/random';
import { deviationOf, finestAt } from '../motion/noise';
import { param } from '../params/describe';
import { effect } from './describe';
import { recipes } from './recipes/grain';

/** Places at which the plate is looked at. */
const LOOKED = 6000;
/** Deviation of the brightness of grain of deviation 1 that is half common to the channels (see `showGrained`). */
const OF_BRIGHTNESS = 0.858;
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
      found.push(Math.abs(finestAt(around, 4, 3)));
    }
  return deviationOf(found);
}

/** Grain of the plate on what has none: particles, smoke, light and paint that effects have drawn. */
export const grain = effect({
  type: 'grain',
  version: 1,
  title: 'Grain',
  summary: 'The grain of the plate, measured, on what effects have drawn without it.',
  recipes,
  shown: { values: { amount: 300, on: 'everything' } },
  lanes: ['whole', 'foreground'],
  facts: ['frame'],
  origin: 'middle',
  params: {
    amount: param.share({ default: 100, title: 'Amount', range: [0, 400], help: 'Strength of the grain, % of what the plate has.' }),
    on: param.choice({
      default: 'what effects drew',
      of: ['what effects drew', 'everything'],
      title: 'On',
      help: 'Only where the picture is not the plate any more and has lost its grain, or everywhere on top of what is there.',
    }),
    seed: param.seed({ default: 1, title: 'Seed', rare: true }),
  },
  inputs: { below: { kind: 'below', title: 'Picture below' }, plate: { kind: 'plate', optional: true, title: 'Performance' } },
  idle: (v) => v.amount <= 0,
  render(draw, v, { below, plate }) {
    if (!plate) return {};
    const { pictures, width, height } = draw,
      deviation = grainDeviation(plate);
    if (deviation < NONE) return {};
    const mask = v.on === 'everything' ? whole(width, height, pictures) : missing(below, plate, deviation, pictures);
    if (!mask) return {};
    const sigma = pictures.takePlane(4, 1),
      changed = pictures.takePicture(width, height),
      strength = (v.amount * deviation) / OF_BRIGHTNESS;
    sigma.data.set([strength, strength, strength, 0]);
    withAddresses(pictures, [below, mask, sigma], (from, where, by) =>
      pictures.run('showGrained', height, from!, from!, where!, by!, hash(draw.frame, v.seed, 71) | 0, changed.address!, width),
    );
    for (const working of [mask, sigma]) pictures.give(working);
    return { changed };
  },
});

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
