import type { Pictures } from '../image/arena';
import { quarterSize } from '../image/blur';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { emptySystem, giveSystem, solveMask } from './solveMask';

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
  MOST = 60;
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
  gain: Triple;
  grain: Triple;
}
export function giveRough({ mask, kept, contrast, open }: Rough, pictures: Pictures): void {
  for (const plane of [mask, kept, contrast, open]) pictures.give(plane);
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
 * still there says that nothing stands before it. What says nothing, as colours that lean towards the background do, takes the side of what it holds
 * together with: edges of the frame that the clean plate does not have part them.
 */
export function bodyCells(plate: Picture, clean: Picture, light: LightChanges, pictures: Pictures): Rough {
  const [small, behind] = [quarterSize(plate, pictures), quarterSize(clean, pictures)],
    { width, height } = small,
    { gain, grain } = lightAndGrain(small, behind),
    [a, b] = [rootsOf(small, [1, 1, 1], pictures), rootsOf(behind, gain, pictures)],
    [structure, like, kept, zs, open, contrast] = Array.from({ length: 6 }, () => pictures.takePlane(width, height)) as [
      Plane,
      Plane,
      Plane,
      Plane,
      Plane,
      Plane,
    ],
    s = emptySystem(width, height, pictures),
    parts = pictures.takePlane(16, 1),
    n = width * height,
    green = 4 * n;
  for (const working of [small, behind]) pictures.give(working);
  parts.data.set([
    ...[1 / grain[0], 1 / grain[1], 1 / grain[2], DARKEST - 1, BRIGHTEST - 1, 1 / (2 * PARTS * PARTS), LINK, HOLDS],
    ...[BEGINS, 1 / (CERTAIN - BEGINS), DIFFERS, SAME, EMPTY, light === 'dropped' ? 1 : 0],
  ]);
  withAddresses(pictures, [a, b, structure, like], (p, q, has, alike) =>
    pictures.run('likenessOf', height, p! + green, q! + green, grain[1] * grain[1], has!, alike!, width, height),
  );
  pictures.run(
    'cellSystem',
    height,
    ...([a.address!, b.address!, structure.address!, like.address!, parts.address!] as const),
    ...([s.said.address!, s.weight.address!, s.right.address!, s.below.address!, s.stride] as const),
    ...([kept.address!, zs.address!, width, height] as const),
  );
  const mask = solveMask(s, pictures);
  closeHoles(width, height, mask.data, kept.data);
  withAddresses(pictures, [mask, zs, open, contrast], (m, z, o, to) => {
    pictures.run('openCells', height, m!, o!, REACH, width, height);
    pictures.run('cellContrast', height, m!, z!, o!, AROUND, MOST, to!, width, height);
  });
  giveSystem(s, pictures);
  for (const working of [a, b, structure, like, zs, parts]) pictures.give(working);
  return { width, height, mask, kept, open, contrast, gain, grain };
}
/** Closes what a body surrounds, unless the clean plate's structure is seen through it: in place. */
function closeHoles(width: number, height: number, mask: Plane['data'], kept: Plane['data']): void {
  const n = width * height,
    seen = new Uint8Array(n),
    // The hole that is looked at: a list that grows at its end while it is worked through.
    hole = new Int32Array(n);
  for (let first = 0; first < n; first++) {
    if (seen[first] || mask[first]! > 0.5) continue;
    let [count, open, through] = [1, false, 0];
    const look = (q: number) => {
      if (seen[q] || mask[q]! > 0.5) return;
      seen[q] = 1;
      hole[count++] = q;
    };
    hole[0] = first;
    seen[first] = 1;
    for (let k = 0; k < count; k++) {
      const p = hole[k]!,
        x = p % width;
      through += kept[p]!;
      if (x === 0 || x === width - 1 || p < width || p >= n - width) open = true;
      if (x > 0) look(p - 1);
      if (x + 1 < width) look(p + 1);
      if (p >= width) look(p - width);
      if (p + width < n) look(p + width);
    }
    if (!open && through < THROUGH * count) for (let k = 0; k < count; k++) mask[hole[k]!] = 1;
  }
}
