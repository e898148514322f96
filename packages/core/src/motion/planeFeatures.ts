import { hypot } from '../image/exactMath';
import { seenAt } from '../image/homography';
import type { Homography } from '../image/warp';
import type { Pair } from './fitHomography';
import { FollowedWindow } from './flow';
import type { Point } from './frame';
import type { Part } from './part';

/** The grid, cells to a side, of which each cell gives its share of features: a plane is held by all of it, not by its strongest corner. */
export const CELLS = 6;
/** Side of the window by which features are chosen, and what its stronger direction counts where its weaker says nothing. */
const NEAR = 9,
  EDGE = 0.05;
/** Structure of a window, in times that of its grain and at the least, below which it says nothing. */
const SEEN_ABOVE = 1,
  FAINTEST = 0.002;
/** What a direction must say against the stronger one to say anything; and times the grain at which a window counts by half. */
const VAGUE = 0.03,
  GRAINY = 4;
/** How strong a feature has to be against the strongest of its plane. */
const STRONG = 0.01;

/** How much each direction of a window says, as pairs have it. */
export type Says = Pair[2];
/** Eigenvalues of a structure less that of grain, the larger first. */
function eigen([xx, xy, yy]: Says, noise: number): [number, number] {
  const half = (xx + yy) / 2 - noise,
    by = Math.sqrt((xx - yy) * (xx - yy) + 4 * xy * xy) / 2;
  return [half + by, half - by];
}
/** How well a window holds what it shows: by its weaker direction, and a little by its stronger one, since edges say half. */
function strengthOf(structure: Says, noise: number): number {
  const [large, small] = eigen(structure, noise);
  return Math.max(0, small) + EDGE * Math.max(0, large);
}
/** How much each direction of a window says against its strongest; null where it is grain and no more. */
export function saysOf([xx, xy, yy]: Says, noise: number): Says | null {
  const [large, small] = eigen([xx, xy, yy], noise);
  if (!(large > SEEN_ABOVE * noise + FAINTEST)) return null;
  // The unit vector of the stronger direction, and what the weaker one says beside it.
  const dx = xx - noise - small,
    size = hypot(dx, xy) || 1,
    [ux, uy] = dx > 1e-9 || xy !== 0 ? [dx / size, xy / size] : xx >= yy ? [1, 0] : [0, 1],
    weak = Math.max(0, small / large - VAGUE),
    k = large / (large + noise * GRAINY);
  return [k * (ux * ux + weak * uy * uy), k * ux * uy * (1 - weak), k * (uy * uy + weak * ux * ux)];
}

/**
 * Places of a plane that can be followed, the strongest of each cell first, so that it is held by all of it.
 * @param toCells from the picture to the cells of the plane. @param noise what grain adds to the structure of a window, for each of its pixels.
 * @param window side of the windows that are followed, pixels: they stand half of it apart. @param most how many are wanted.
 */
export function featuresOf(part: Part, toCells: Homography, noise: number, window: number, most: number): Point[] {
  const [top] = part.planes,
    looked = new FollowedWindow(NEAR),
    edge = window >> 1,
    cells = Array.from({ length: CELLS * CELLS }, () => [] as { at: Point; strength: number }[]);
  let strongest = 0;
  for (let y = edge; y < top!.height - edge; y += 3)
    for (let x = edge; x < top!.width - edge; x += 3) {
      const at: Point = [part.left + x + 0.5, part.top + y + 0.5],
        { at: cell, depth } = seenAt(toCells, at),
        [i, j] = [Math.floor(cell[0]), Math.floor(cell[1])];
      if (!(depth > 0) || i < 0 || j < 0 || i >= CELLS || j >= CELLS) continue;
      looked.at(top!, x + 0.5, y + 0.5);
      const strength = strengthOf(looked.structure, NEAR * NEAR * noise);
      if (strength <= 0) continue;
      strongest = Math.max(strongest, strength);
      cells[j * CELLS + i]!.push({ at, strength });
    }
  const found: { at: Point; strength: number; rank: number }[] = [];
  for (const cell of cells) {
    cell.sort((a, b) => b.strength - a.strength || a.at[1] - b.at[1] || a.at[0] - b.at[0]);
    const taken: Point[] = [];
    for (const { at, strength } of cell) {
      if (strength < STRONG * strongest || taken.length >= most / CELLS) break;
      if (taken.some((p) => hypot(p[0] - at[0], p[1] - at[1]) < window / 2)) continue;
      found.push({ at, strength, rank: taken.length });
      taken.push(at);
    }
  }
  found.sort((a, b) => a.rank - b.rank || b.strength - a.strength);
  return found.slice(0, most).map(({ at }) => at);
}
