import { blur, halfSize, twiceSize } from '../image/blur';
import type { Pictures } from '../image/arena';
import type { Plane } from '../image/picture';
import { withAddresses } from '../image/kernelCall';
import { clampedLine } from '../image/planeMath';
import { growMatte } from '../matte/refine';
import type { Canvas } from './describe';

/** How far past the matte's soft edge a removal reaches, so that no outline is left; whole-shot pixels. */
const BEYOND = 7;

/** The matte grown and softened past its edge: where the clean plate may show. It is soft, so half the size is enough to make it. */
export function reachBeyond(matte: Plane, scale: number, { pictures }: Canvas): Plane {
  const full = clampedLine(matte, 4, 0, pictures),
    half = halfSize(full, pictures);
  pictures.give(full);
  growMatte(half, (BEYOND * scale) / 2, pictures);
  const soft = blur(half, 0.8 * scale, pictures),
    out = twiceSize(soft, matte.width, matte.height, pictures);
  pictures.give(half);
  pictures.give(soft);
  return out;
}

/** A part of a picture: first column and row, and those after the last. */
export type Box = readonly [x0: number, y0: number, x1: number, y1: number];

/**
 * Where a plane has more than 0.02, with a margin in its pixels; null where it has nothing. Every other row is looked at and the box reaches a row
 * further, so that only what is a single row high can be missed.
 */
export function boxOf(plane: Plane, margin: number, pictures: Pictures): Box | null {
  const { width, height } = plane,
    found = pictures.takePlane(4, 1),
    some = withAddresses(pictures, [plane, found], (from, to) => pictures.kernels.findBox(from!, width, height, 0.02, to!)),
    [x0, y0, x1, y1] = new Int32Array(found.data.buffer, found.data.byteOffset, 4) as unknown as [number, number, number, number];
  pictures.give(found);
  return some
    ? [Math.max(0, x0 - margin), Math.max(0, y0 - 1 - margin), Math.min(width, x1 + 1 + margin), Math.min(height, y1 + 2 + margin)]
    : null;
}

/**
 * Near to exp(-x) for x >= 0, and much quicker: (1 - x / 16)^16, nothing from 16 on. At most 0.017 off.
 */
export function fallOff(x: number): number {
  if (x >= 16) return 0;
  let t = 1 - x / 16;
  t *= t;
  t *= t;
  t *= t;
  return t * t;
}
