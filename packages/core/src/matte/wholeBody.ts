import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import {
  BEGINS,
  bodyCells,
  BRIGHTEST,
  CERTAIN,
  DARKEST,
  DIFFERS,
  EMPTY,
  giveRough,
  HOLDS,
  LINK,
  SAME,
  type LightChanges,
  type Rough,
  type Triple,
} from './bodyCells';

export type { LightChanges } from './bodyCells';

/** Contrast of an edge at which it parts two pixels by half, in deviations of their grain: after a mean of five that is so many times a cell's. */
const PARTS_PIXELS = 1.5,
  PIXEL = 1.4;
/** The shares of the body's own contrast between which a pixel is half body. */
const SHARES = [0.3, 0.7] as const;
/** How much a pixel that differs little where the body differs much says that it is none; what its cell says. */
const CLEAR = 0.25,
  CELL_SAYS = 0.1;
/** Passes over the edge, there and back, and their over-relaxation. */
const EDGE_PASSES = 6,
  OVER = 1.5;

/**
 * A body against its clean plate, whole and with its own edge, 0..1: where it is, by cells (see `bodyCells`), and along their edge the same once more by
 * pixels. The caller gives it back.
 */
export function wholeBody(plate: Picture, clean: Picture, light: LightChanges, pictures: Pictures): Plane {
  const { width, height } = plate,
    rough = bodyCells(plate, clean, light, pictures),
    out = pictures.takePlane(width, height);
  // Cells that are clear are filled; the others are solved, with a cell of what is clear around them.
  withAddresses(pictures, [rough.mask, out], (from, to) => pictures.run('fillCells', height, from!, rough.width, to!, width));
  solveEdge(plate, clean, rough, light, out, pictures);
  giveRough(rough, pictures);
  return out;
}
/** Solves the pixels of open cells, with what lies around them as it is; in place. */
function solveEdge(plate: Picture, clean: Picture, rough: Rough, light: LightChanges, out: Plane, pictures: Pictures): void {
  const { width, height } = plate;
  let cells = 0;
  for (let q = 0; q < rough.open.data.length; q++) cells += rough.open.data[q]!;
  if (!cells) return;
  const most = 16 * cells,
    index = pictures.takePlane(width, height),
    [at, said, weight, right, below] = Array.from({ length: 5 }, () => pictures.takePlane(most, 1)) as [Plane, Plane, Plane, Plane, Plane],
    m = pictures.kernels.listOpen(rough.open.address!, rough.width, at.address!, index.address!, width, height),
    // Later these hold each pixel's neighbours and links.
    [roots, behind] = [pictures.takePicture(most, 1), pictures.takePicture(most, 1)],
    [gains, parts] = [pictures.takePlane(8, 1), pictures.takePlane(20, 1)],
    [r, g, b] = rough.grain.map((deviation) => 1 / (deviation * PIXEL)) as Triple;
  gains.data.set([1, 1, 1, 0, ...rough.gain, 0]);
  parts.data.set([
    ...[r, g, b, DARKEST - 1, BRIGHTEST - 1, 1 / (2 * PARTS_PIXELS * PARTS_PIXELS), LINK, HOLDS],
    ...[SHARES[0] / PIXEL, SHARES[1] / PIXEL, BEGINS, CERTAIN, DIFFERS, SAME, EMPTY, CLEAR, CELL_SAYS, light === 'dropped' ? 1 : 0],
  ]);
  withAddresses(pictures, [plate, clean], (own, known) => {
    pictures.run('edgeRoots', m, own!, at.address!, gains.address!, roots.address!, width, height);
    pictures.run('edgeRoots', m, known!, at.address!, gains.address! + 16, behind.address!, width, height);
  });
  if (rough.lit) pictures.run('lightEdge', m, behind.address!, at.address!, rough.lit.address!, rough.width, rough.height, width);
  const system = [said.address!, weight.address!, right.address!, below.address!] as const;
  pictures.run(
    'edgeSystem',
    m,
    ...([roots.address!, behind.address!, at.address!, index.address!] as const),
    ...([rough.contrast.address!, rough.kept.address!, rough.bounds.address!, rough.mask.address!, rough.width, parts.address!] as const),
    ...system,
    ...([out.address!, width, height] as const),
  );
  pictures.kernels.relaxEdge(
    ...([out.address!, at.address!, index.address!] as const),
    ...system,
    ...([roots.address!, behind.address!, LINK, OVER, 2 * EDGE_PASSES, m, width, height] as const),
  );
  for (const working of [index, at, said, weight, right, below, roots, behind, gains, parts]) pictures.give(working);
}
