import type { Pictures } from '../image/arena';
import { emptyPlane } from '../image/planeMath';
import type { Plane } from '../image/picture';

/**
 * What each cell of a grid says by itself (`said`: 0 outside, 1 inside, times its weight) and how strongly (`weight`), and how strongly it holds to its neighbours at the right and below (nothing beyond the
 * grid). The planes have a border of cells that hold to nothing: cell (x, y) stands at `(y + 1) * stride + 4 + x`, as `cellAt` gives it. @example cellAt(s, 3, 2)
 */
export interface MaskSystem {
  width: number;
  height: number;
  /** Cells of a row with its borders. */
  stride: number;
  said: Plane;
  weight: Plane;
  right: Plane;
  below: Plane;
}
/** A system in which nothing says anything. The caller gives it back (`giveSystem`). */
export function emptySystem(width: number, height: number, pictures: Pictures): MaskSystem {
  const stride = ((width + 3) & ~3) + 8,
    plane = () => emptyPlane(stride, height + 2, pictures);
  return { width, height, stride, said: plane(), weight: plane(), right: plane(), below: plane() };
}
export function giveSystem({ said, weight, right, below }: MaskSystem, pictures: Pictures): void {
  for (const plane of [said, weight, right, below]) pictures.give(plane);
}
/** Where a cell stands in the planes of a system. */
export const cellAt = ({ stride }: Pick<MaskSystem, 'stride'>, x: number, y: number): number => (y + 1) * stride + 4 + x;

/** Grids smaller than this are solved by themselves. */
const SMALLEST = 12;
/** Passes over both colours of the finest grid; twice as many over each coarser one, which costs a quarter, and at the most so many. */
const PASSES = 6,
  MOST = 64;
/** Over-relaxation. */
const OVER = 1.5;

/** The same at half the size: weights are summed, what is said is their mean. */
function halfOf(s: MaskSystem, pictures: Pictures): MaskSystem {
  const half = emptySystem((s.width + 1) >> 1, (s.height + 1) >> 1, pictures);
  pictures.kernels.halveMask(
    ...([s.said.address!, s.weight.address!, s.right.address!, s.below.address!, s.stride] as const),
    ...([half.said.address!, half.weight.address!, half.right.address!, half.below.address!, half.stride] as const),
    ...([half.width, half.height] as const),
  );
  return half;
}

/**
 * The smoothest values, 0..1, that agree with what cells say: the least of the sum of weight (u - says)^2 and of link (u - neighbour)^2, as a random
 * walker would find what it reaches first (Grady 2006). Solved from coarse to fine, each grid by successive over-relaxation from the coarser one's values: near enough, not to the last bit.
 * @returns a value for each cell, without the border; the caller gives it back.
 */
export function solveMask(s: MaskSystem, pictures: Pictures, passes = PASSES): Plane {
  const values = solved(s, pictures, passes),
    out = pictures.takePlane(s.width, s.height);
  for (let y = 0; y < s.height; y++)
    for (let x = 0, p = y * s.width, q = cellAt(s, 0, y); x < s.width; x++, p++, q++)
      out.data[p] = Math.min(1, Math.max(0, values.data[q]!));
  pictures.give(values);
  return out;
}
/** The same with its border. */
function solved(s: MaskSystem, pictures: Pictures, passes: number): Plane {
  const { width, height, stride, said, weight, right, below } = s,
    v = emptyPlane(stride, height + 2, pictures),
    part = emptyPlane(stride, height + 2, pictures);
  if (Math.min(width, height) > SMALLEST) {
    const half = halfOf(s, pictures),
      coarse = solved(half, pictures, Math.min(MOST, 2 * passes));
    pictures.kernels.doubleMask(coarse.address!, half.stride, v.address!, stride, width, height);
    pictures.give(coarse);
    giveSystem(half, pictures);
  } else for (let p = 0; p < v.data.length; p++) v.data[p] = weight.data[p]! > 0 ? said.data[p]! / weight.data[p]! : 0;
  pictures.kernels.maskParts(weight.address!, right.address!, below.address!, part.address!, stride, width, height);
  pictures.kernels.relaxMask(
    ...([v.address!, said.address!, right.address!, below.address!, part.address!] as const),
    ...([stride, width, height, OVER, passes] as const),
  );
  pictures.give(part);
  return v;
}
