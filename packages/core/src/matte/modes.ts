import type { Pictures } from '../image/arena';
import type { Plane } from '../image/picture';
import { clampedLine, emptyPlane, largerOf, leave, product, unite } from '../image/planeMath';

/** How a source or an outline goes into its matte. */
export const matteModes = ['add', 'take away', 'keep inside', 'exclude'] as const;
export type MatteMode = (typeof matteModes)[number];

/** What is in one of two mattes and not in both, in place. */
function eitherOf(a: Plane, b: Plane): void {
  for (let i = 0; i < a.data.length; i++) a.data[i]! += b.data[i]! * (1 - 2 * a.data[i]!);
}

/**
 * A matte put together from planes of 0..1, one after another. What keeps only its inside does so at the end, all of these together: a matte is kept where any
 * of them is.
 * @example const sum = new MatteSum(arena); sum.put(body, 'add'); sum.put(hole, 'take away'); const matte = sum.result(width, height);
 */
export class MatteSum {
  private out: Plane | null = null;
  private kept: Plane | null = null;
  constructor(private readonly pictures: Pictures) {}
  /** Takes a plane in, which belongs to the sum from then on. @param opacity how much of it counts, 0..1. */
  put(plane: Plane, mode: MatteMode, opacity = 1): void {
    const { pictures } = this;
    if (mode === 'keep inside') {
      // What lies outside is left by the share that does not count.
      if (opacity < 1) clampedLine(plane, opacity, 1 - opacity, pictures, plane);
      if (!this.kept) {
        this.kept = plane;
        return;
      }
      largerOf(this.kept, plane, pictures, 1, this.kept);
    } else {
      if (opacity < 1) clampedLine(plane, opacity, 0, pictures, plane);
      const { out } = this;
      if (mode !== 'take away' && !out) {
        this.out = plane;
        return;
      }
      if (mode === 'add') unite(out!, plane, pictures, out!);
      else if (mode === 'exclude') eitherOf(out!, plane);
      else if (out) leave(out, plane, pictures, 1, out);
    }
    pictures.give(plane);
  }
  /** The matte, which the caller gives back; empty where nothing was added. */
  result(width: number, height: number): Plane {
    const out = this.out ?? emptyPlane(width, height, this.pictures);
    if (this.kept) {
      product(out, this.kept, this.pictures, 1, out);
      this.pictures.give(this.kept);
    }
    return out;
  }
}
