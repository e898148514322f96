import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { fillSmall } from './fillSmall';
import { emptySystem, giveSystem, solveMask } from './solveMask';
import { thrownLight } from './thrownLight';

/** What the light on a body's surroundings is to the matte: its shadow and the light that it throws. */
export type LightChanges = 'kept' | 'dropped';

/** Side of a cell, pixels. */
export const CELL = 4;
/** How much a cell that differs says, and one that does not and has structure; one that does not differ and has none says nearly nothing. */
export const DIFFERS = 1,
  SAME = 0.5,
  EMPTY = 0.05;
/** Deviations of the grain at which a cell begins to differ, and at which it does for certain. */
export const BEGINS = 3,
  CERTAIN = 7;
/** The least deviation of the grain of a cell, of the display range: codes are whole numbers. */
const LEAST = 0.0025;
/** Contrast of an edge, in deviations of the grain, at which it parts its two sides by half. */
const PARTS = 5;
/** Cells around in which the body's contrast is looked at, and the most that it counts. */
const AROUND = 2,
  MOST = 160;
/** Every so many numbers of cells that vary are looked at, and the share of them that is quieter than what is taken for the grain within cells. */
const EVERY = 4 * 61,
  QUIETER = 0.3;
/** Cells around in which the light beside a body is looked at, and by how much more it may change across its edge. */
const BESIDE = 4,
  MORE = 0.05;
/** A mask's value from which on a cell is body: the least above one half. */
const HALF = 0.50000006;
/** How much of a hole must show the clean plate's structure for it to be one. */
const THROUGH = 0.3;
/** Cells to both sides of the edge that are open: there it is solved by pixels. */
const REACH = 2;
/** How strongly places hold together where nothing parts them, and at the least. */
export const HOLDS = 0.6;
export const LINK = 0.002;
/** How much light may be changed by a body before it is another colour: darker and brighter. */
export const DARKEST = 0.6,
  BRIGHTEST = 1.9;

export type Triple = [number, number, number];
/** What is known of a body by cells: where it is, where the clean plate's structure is still seen, how the light has changed, and the grain. */
export interface Rough {
  width: number;
  height: number;
  mask: Plane;
  kept: Plane;
  contrast: Plane;
  /** Cells near which it changes sides: 1, else 0. */
  open: Plane;
  /** How much darker and brighter the light is beside the body near them, at the most: two numbers each. */
  bounds: Plane;
  /** By how much light that falls on cells makes the clean plate's roots brighter (RGB); null where none falls. */
  lit: Picture | null;
  gain: Triple;
  grain: Triple;
}
export function giveRough({ mask, kept, contrast, open, bounds, lit }: Rough, pictures: Pictures): void {
  for (const plane of [mask, kept, contrast, open, bounds]) pictures.give(plane);
  if (lit) pictures.give(lit);
}

const median = (values: Float64Array): number => values.sort()[values.length >> 1] ?? 0,
  root = (v: number): number => (v > 0 ? Math.sqrt(v) : 0);
/** By how much a frame is brighter than its clean plate in each channel, as most cells say, and how far they scatter about it: the grain of a cell. Of square roots of light. */
function lightAndGrain(plate: Picture, clean: Picture): { gain: Triple; grain: Triple } {
  const cells = plate.width * plate.height,
    every = 4 * Math.max(1, Math.floor(cells / 4000)),
    gain: Triple = [1, 1, 1],
    grain: Triple = [LEAST, LEAST, LEAST],
    list = new Float64Array(Math.ceil(plate.data.length / every));
  for (let c = 0; c < 3; c++) {
    let n = 0;
    for (let i = c; i < plate.data.length; i += every) {
      const behind = root(clean.data[i]!);
      if (behind > 0.15) list[n++] = root(plate.data[i]!) / behind;
    }
    if (n > 200) gain[c] = median(list.subarray(0, n));
    n = 0;
    for (let i = c; i < plate.data.length; i += every) list[n++] = Math.abs(root(plate.data[i]!) - gain[c]! * root(clean.data[i]!));
    // The quieter half: the body may fill much of the picture.
    grain[c] = Math.max(LEAST, list.subarray(0, n).sort()[Math.floor(n * 0.3)]! / 0.385);
  }
  return { gain, grain };
}
/** Three planes, one after another, of a picture's square roots of light, times a gain of each channel. */
function rootsOf(picture: Picture, gain: Triple, pictures: Pictures): Plane {
  const n = picture.width * picture.height,
    out = pictures.takePlane(3 * n, 1),
    gains = pictures.takePlane(4, 1);
  gains.data.set([...gain, 0]);
  withAddresses(pictures, [picture, gains, out], (from, by, to) =>
    pictures.run('rootPlanes', picture.height, from!, by!, to!, n, picture.width),
  );
  pictures.give(gains);
  return out;
}

/**
 * Where a body is, by cells of 4 pixels, 0..1, against a clean plate. A cell speaks by how far it differs, in deviations of the measured grain, once light
 * that changed over all of the picture is made good; shadow and thrown light do not count where they are dropped; structure of the clean plate that is
 * still there says that nothing stands before it, its fine structure in whatever light. What says nothing, as colours that lean towards the background do, takes the side of what it holds
 * together with: edges of the frame that the clean plate does not have part them. Where light falls that is much brighter or of another colour (see
 * `thrownLight`), all of this is asked once more, against the clean plate in that light.
 */
export function bodyCells(plate: Picture, clean: Picture, light: LightChanges, pictures: Pictures): Rough {
  const { small, behind, varied } = quarterPair(plate, clean, pictures),
    { width, height } = small,
    { gain, grain } = lightAndGrain(small, behind),
    [a, b] = [rootsOf(small, [1, 1, 1], pictures), rootsOf(behind, gain, pictures)],
    bounds = pictures.takePlane(2 * width, height),
    [structure, like, surely, kept, zs, open, contrast] = Array.from({ length: 7 }, () => pictures.takePlane(width, height)) as [
      Plane,
      Plane,
      Plane,
      Plane,
      Plane,
      Plane,
      Plane,
    ],
    words = { structure, like, surely, kept, zs },
    parts = pictures.takePlane(16, 1);
  for (const working of [small, behind]) pictures.give(working);
  parts.data.set([
    ...[1 / grain[0], 1 / grain[1], 1 / grain[2], DARKEST - 1, BRIGHTEST - 1, 1 / (2 * PARTS * PARTS), LINK, HOLDS],
    ...[BEGINS, 1 / (CERTAIN - BEGINS), DIFFERS, SAME, EMPTY, light === 'dropped' ? 1 : 0],
  ]);
  pictures.run('seenStructure', height, varied.address!, fineGrain(varied, grain), surely.address!, width, height);
  let mask = askCells(a, b, grain, parts, words, pictures);
  closeHoles(mask, kept);
  const lit = light === 'dropped' ? thrownLight({ a, b, mask, ...words }, grain, pictures) : null;
  if (lit) {
    pictures.kernels.lightPlanes(b.address!, lit.address!, b.address!, width * height);
    pictures.give(mask);
    mask = askCells(a, b, grain, parts, words, pictures);
    closeHoles(mask, kept);
  }
  withAddresses(pictures, [mask, zs, open, contrast], (m, z, o, to) => {
    pictures.run('openCells', height, m!, o!, REACH, width, height);
    pictures.run('cellContrast', height, m!, z!, o!, AROUND, MOST, to!, width, height);
    pictures.run('lightBeside', height, a.address!, b.address!, m!, o!, BESIDE, MORE, bounds.address!, width, height);
  });
  for (const working of [a, b, structure, like, surely, zs, parts, varied]) pictures.give(working);
  return { width, height, mask, kept, open, contrast, bounds, lit, gain, grain };
}
/** Both at a quarter of their size, and how they vary within its cells, apart and together (kernel `quarterPair`). */
function quarterPair(plate: Picture, clean: Picture, pictures: Pictures): Record<'small' | 'behind' | 'varied', Picture> {
  const { width, height } = plate,
    [small, behind, varied] = Array.from({ length: 3 }, () => pictures.takePicture((width + 3) >> 2, (height + 3) >> 2)) as [
      Picture,
      Picture,
      Picture,
    ];
  withAddresses(pictures, [plate, clean], (a, b) =>
    pictures.run('quarterPair', small.height, a!, b!, small.address!, behind.address!, varied.address!, width, height),
  );
  return { small, behind, varied };
}
/** Variance of the green grain within a cell: what the mean of its pixels says, less where codecs smoothed it, as the quieter cells show. */
function fineGrain({ data }: Picture, [, grain]: Triple): number {
  const quieter = [0, 1].map((k) => {
    const list = new Float64Array(Math.floor(data.length / EVERY) + 1);
    for (let i = k, n = 0; i < data.length; i += EVERY) list[n++] = data[i]!;
    return list.sort()[Math.floor(QUIETER * list.length)]!;
  });
  return Math.max(LEAST * LEAST, Math.min(16 * grain * grain, Math.max(...quieter)));
}
/** Asks each cell of the plate's roots `a` and the clean plate's `b` what it says, into `words`, and what they hold together with. @returns a mask, 0..1. */
function askCells(
  ...[a, b, grain, parts, { structure, like, surely, kept, zs }, pictures]: [
    a: Plane,
    b: Plane,
    grain: Triple,
    parts: Plane,
    words: Record<'structure' | 'like' | 'surely' | 'kept' | 'zs', Plane>,
    pictures: Pictures,
  ]
): Plane {
  const { width, height } = kept,
    s = emptySystem(width, height, pictures),
    green = 4 * width * height;
  withAddresses(pictures, [a, b, structure, like], (p, q, has, alike) =>
    pictures.run('likenessOf', height, p! + green, q! + green, grain[1] * grain[1], has!, alike!, width, height),
  );
  pictures.run(
    'cellSystem',
    height,
    ...([a.address!, b.address!, structure.address!, like.address!, surely.address!, parts.address!] as const),
    ...([s.said.address!, s.weight.address!, s.right.address!, s.below.address!, s.stride] as const),
    ...([kept.address!, zs.address!, width, height] as const),
  );
  const mask = solveMask(s, pictures);
  giveSystem(s, pictures);
  return mask;
}
/** Closes what a body surrounds, unless the clean plate's structure is seen through it: in place. */
const closeHoles = (mask: Plane, kept: Plane): void => fillSmall(mask, Infinity, HALF, true, 1, true, { is: kept, mean: THROUGH });
