import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Plane } from '../image/picture';

/** How much finer the second octave of the turbulence is; moveFlakes has the same. */
const FINE = 3.1;
/** Whole numbers before the tables, and floats for each place of them (two layers). */
const HEAD = 8;
const LAYERS = 2;
const HALF_STEPS = 2;
/** Places of the lattice are whole numbers of 32 bits: as far from the origin as leaves room for the table. */
const FARTHEST = 0x40000000;

/**
 * The values of the turbulence's noise at all places of its lattice among which particles are, for both half steps of a frame: hashed once a place, and not for each particle. What moves out of
 * them is worked out without, to the same bits.
 * @param x address of the particles' places across, and `y` down: `stride` of them each (a multiple of 4), whole-shot pixels.
 * @param eddy lattice steps of the broad octave a pixel.
 * @param params what moveFlakes is given.
 * @returns in the arena; null where particles are so few, or lie so far apart, that it would hold more places than there are particles.
 */
export function layLattice(x: number, y: number, stride: number, eddy: number, params: Plane, pictures: Pictures): Plane | null {
  const [left, right] = spanOf(x, stride, pictures),
    [top, bottom] = spanOf(y, stride, pictures),
    heads = [eddy, eddy * FINE].map((per) => {
      // A place more on every side, since they move on.
      const [x0, y0] = [Math.floor(left * per) - 1, Math.floor(top * per) - 1];
      return [x0, y0, 4 * Math.ceil((Math.floor(right * per) + 3 - x0) / 4), Math.floor(bottom * per) + 3 - y0] as const;
    }),
    places = heads.reduce((sum, [, , columns, rows]) => sum + columns * rows, 0);
  // What flew off beyond all whole numbers, or is no number, has no place in a table.
  if (!(places <= stride) || heads.some(([x0, y0]) => Math.max(Math.abs(x0), Math.abs(y0)) > FARTHEST)) return null;
  const lattice = pictures.takePlane(HEAD + HALF_STEPS * LAYERS * places, 1);
  new Int32Array(lattice.data.buffer, lattice.data.byteOffset, HEAD).set(heads.flat());
  withAddresses(pictures, [params], (given) =>
    pictures.run('layLattice', HALF_STEPS * heads.reduce((sum, [, , , rows]) => sum + rows, 0), given!, lattice.address!),
  );
  return lattice;
}

/** The least and the greatest of a lane's numbers. */
function spanOf(lane: number, stride: number, pictures: Pictures): [number, number] {
  const out = pictures.takePlane(2, 1);
  pictures.kernels.spanOf(lane, stride >> 2, out.address!);
  const span: [number, number] = [out.data[0]!, out.data[1]!];
  pictures.give(out);
  return span;
}
