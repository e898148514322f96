import type { Pictures } from '../image/arena';
import { blur } from '../image/blur';
import { clamp } from '../image/exactMath';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { hash } from '../image/random';
import { deviationOf, finestAt, KERNEL } from '../motion/noise';
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
 * worked on: most effects cover little of a picture.
 */
function missing(below: Picture, plate: Picture, deviation: number, pictures: Pictures): Plane | null {
  const { width, height } = below,
    [b, o] = [below.data, plate.data],
    w = Math.ceil(width / BLOCK),
    h = Math.ceil(height / BLOCK),
    differs = new Uint8Array(w * h);
  let any = false;
  for (let y = 0, i = 0; y < height; y++) {
    const row = Math.floor(y / BLOCK) * w;
    for (let x = 0; x < width; x++, i += 4)
      if (b[i] !== o[i] || b[i + 1] !== o[i + 1] || b[i + 2] !== o[i + 2]) {
        differs[row + (x >> 2)] = 1;
        any = true;
      }
  }
  if (!any) return null;
  const near = energyOf(below, differs, w, h, deviation, pictures),
    out = pictures.takePlane(width, height),
    m = out.data,
    has = 1 / (deviation * deviation),
    change = 1 / (4 * deviation);
  m.fill(0);
  for (let by = 0, block = 0; by < h; by++)
    for (let bx = 0; bx < w; bx++, block++) {
      if (!differs[block]) continue;
      const lacks = 1 - near.data[block]! * has;
      if (lacks <= 0.2) continue;
      // What lacks a variance gets a deviation.
      const share = Math.sqrt(lacks);
      for (let y = by * BLOCK; y < Math.min(height, by * BLOCK + BLOCK); y++)
        for (let x = bx * BLOCK; x < Math.min(width, bx * BLOCK + BLOCK); x++) {
          const i = (y * width + x) * 4,
            away = Math.max(Math.abs(rootAt(b, i) - rootAt(o, i)), Math.abs(b[i]! - o[i]!), Math.abs(b[i + 2]! - o[i + 2]!));
          m[y * width + x] = share * clamp(away * change - 0.25, 0, 1);
        }
    }
  pictures.give(near);
  return out;
}

/** Variance of the grain around each block that differs, of square roots of light; an edge is no grain, however strong. */
function energyOf(below: Picture, differs: Uint8Array, w: number, h: number, deviation: number, pictures: Pictures): Plane {
  const { width, height, data } = below,
    energy = pictures.takePlane(w, h),
    weight = pictures.takePlane(w, h),
    most = 9 * deviation * deviation,
    side = BLOCK + 2,
    roots = new Float64Array(side * side);
  energy.data.fill(0);
  weight.data.fill(0);
  for (let by = 0, block = 0; by < h; by++)
    for (let bx = 0; bx < w; bx++, block++) {
      if (!differs[block]) continue;
      for (let y = 0, k = 0; y < side; y++)
        for (let x = 0; x < side; x++, k++) {
          const px = clamp(bx * BLOCK + x - 1, 0, width - 1),
            py = clamp(by * BLOCK + y - 1, 0, height - 1);
          roots[k] = rootAt(data, (py * width + px) * 4);
        }
      let sum = 0;
      for (let y = 1; y <= BLOCK; y++)
        for (let x = 1; x <= BLOCK; x++) {
          const f = finestAt(roots, y * side + x, side) / KERNEL,
            squared = f * f;
          sum += squared < most ? squared : most;
        }
      energy.data[block] = sum / (BLOCK * BLOCK);
      weight.data[block] = 1;
    }
  const soft = blur(energy, 2, pictures),
    known = blur(weight, 2, pictures);
  for (let p = 0; p < soft.data.length; p++) soft.data[p] = known.data[p]! > 1e-3 ? soft.data[p]! / known.data[p]! : 0;
  for (const working of [energy, weight, known]) pictures.give(working);
  return soft;
}
