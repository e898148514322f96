import { blur, halfSize, twiceSize } from '../image/blur';
import type { Pictures } from '../image/arena';
import type { Plane } from '../image/picture';
import { extentOf } from '../image/extent';
import { clampedLine, emptyPlane } from '../image/planeMath';
import { growMatte } from '../matte/grow';
import type { Canvas } from './describe';
import { partOf, type Region } from '../image/resize';
import type { Box } from '../image/extent';
import { planeWith, regionAround } from './region';

/** How far past the matte's soft edge a removal reaches, so that no outline is left; whole-shot pixels. */
const BEYOND = 7;

/**
 * Where a plane has more than 0.02, with a margin in its pixels; null where it has nothing. Every other row is looked at and the box reaches a row
 * further, so that only what is a single row high can be missed.
 */
export function boxOf(plane: Plane, margin: number, pictures: Pictures): Box | null {
  const { width, height } = plane,
    box = extentOf(plane, 0.02, 2, pictures);
  return (
    box && [
      Math.max(0, box[0] - margin),
      Math.max(0, box[1] - 1 - margin),
      Math.min(width, box[2] + margin),
      Math.min(height, box[3] + 1 + margin),
    ]
  );
}

/** How far that cover reaches at the most: what it grows by, its blur, and the filters of the half size; whole-shot pixels. */
const SPREAD = BEYOND + 11;
const NOTHING: Region = { x: 0, y: 0, width: 0, height: 0 };
/** The part of a picture that holds a box with a margin, beginning at multiples of `step`. */
export function about([x0, y0, x1, y1]: Box, margin: number, step: number, width: number, height: number): Region {
  const down = (v: number) => Math.max(0, Math.floor((v - margin) / step) * step),
    up = (v: number, most: number) => Math.min(most, Math.ceil((v + margin) / step) * step),
    [x, y] = [down(x0), down(y0)];
  return { x, y, width: up(x1, width) - x, height: up(y1, height) - y };
}

/**
 * The matte grown and softened past its edge: where the clean plate may show. It is soft, so half the size is enough to make it, and only the part of
 * the picture around the matte is worked on. Outside of `within` (which begins at a multiple of 4) the cover is 0; `body` is the part that the matte itself fills.
 */
export function reachBeyond(matte: Plane, scale: number, { pictures }: Canvas): { cover: Plane; within: Region; body: Region } {
  const { width, height } = matte,
    box = extentOf(matte, 0, 1, pictures);
  if (!box) return { cover: emptyPlane(width, height, pictures), within: NOTHING, body: NOTHING };
  const region = regionAround(box, BEYOND * scale, width, height),
    own = partOf(matte, region, pictures),
    full = clampedLine(own, 4, 0, pictures, own),
    half = halfSize(full, pictures);
  pictures.give(full);
  growMatte(half, (BEYOND * scale) / 2, pictures);
  const soft = blur(half, 0.8 * scale, pictures),
    grown = twiceSize(soft, region.width, region.height, pictures),
    cover = planeWith(grown, region, width, height, pictures);
  for (const working of [half, soft, grown]) pictures.give(working);
  return { cover, within: about(box, Math.ceil(SPREAD * scale) + 4, 4, width, height), body: about(box, 0, 1, width, height) };
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
