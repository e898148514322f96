import { blur } from '../image/blur';
import type { Pictures } from '../image/arena';
import { clamp } from '../image/exactMath';
import { uniform } from '../image/random';
import type { Picture, Plane } from '../image/picture';
import { CELL, type Flakes } from '../particles';
import { boxOf } from './body';
import type { Canvas } from './describe';

/** How far before and behind the line of its ground a body's particles come down, as a share of its height. */
export const BAND = 0.05;
/** Of the shadows of what is low, and of what is high, in cells; and the height that counts as high, as a share of the body's. */
const SOFT = { low: 1, high: 5, from: 0.3 };
/** So many pieces throw the shadow of all. */
const MOST = 12000;

/**
 * Where a body stands: the lowest row of its matte, whole-shot pixels; null where it reaches out of the picture below, or is not there.
 * @param scale pixels of the matte for each whole-shot pixel.
 */
export function feetOf(matte: Plane, scale: number, { pictures }: Pick<Canvas, 'pictures'>): number | null {
  const box = boxOf(matte, 0, pictures);
  return !box || box[3] >= matte.height - 1 ? null : box[3] / scale;
}

/**
 * The shadow that flying pieces throw on the ground, straight below each, laid under `picture` in place (premultiplied): sharper and darker the lower they fly.
 * @param ground the line on which the body stands, whole-shot pixels; each piece lands up to a BAND of the body's height before or behind it.
 * @param size of a piece, whole-shot pixels; @param share how dark the shadow of what covers all is, 0..1.
 */
export function layGroundShadow(
  flakes: Flakes,
  { ground, size, share, seed, tall }: { ground: number; size: number; share: number; seed: number; tall: number },
  picture: Picture,
  { pictures, scale }: Canvas,
): void {
  const width = Math.ceil(picture.width / scale / CELL),
    height = Math.ceil(picture.height / scale / CELL),
    falls = [pictures.takePlane(width, height), pictures.takePlane(width, height)] as const;
  for (const plane of falls) plane.data.fill(0);
  // Chosen by their numbers, so that the same ones throw it on every frame.
  const every = Math.max(1, Math.floor(flakes.count / MOST)),
    area = (every * 1.4 * size * size) / (CELL * CELL);
  for (let i = 0; i < flakes.count; i++) {
    if (flakes.id[i]! % every) continue;
    const lies = flakes.vx[i] === 0 && flakes.vy[i] === 0,
      own = lies ? flakes.y[i]! : ground + BAND * tall * (1.6 * uniform(seed, flakes.id[i]!, 41) - 0.6),
      up = (own - flakes.y[i]!) / tall;
    if (!(up > -0.02)) continue;
    const cx = Math.floor(flakes.x[i]! / CELL),
      cy = Math.floor(own / CELL);
    if (cx < 0 || cy < 0 || cx >= width || cy >= height) continue;
    const left = 1 - flakes.age[i]! / flakes.life[i]!;
    falls[up > SOFT.from ? 1 : 0].data[cy * width + cx]! += (area * clamp(2.5 * left, 0, 1)) / (1 + up);
  }
  const soft = [blur(falls[0], SOFT.low, pictures), blur(falls[1], SOFT.high, pictures)] as const,
    all = soft[0].data;
  for (let k = 0; k < all.length; k++) all[k]! += soft[1].data[k]!;
  layUnder(soft[0], share, picture, scale, pictures);
  for (const plane of [...falls, ...soft]) pictures.give(plane);
}
/** Lays black of so much, by cells, under what a picture has. */
function layUnder(fallen: Plane, share: number, picture: Picture, scale: number, pictures: Pictures): void {
  const box = boxOf(fallen, 1, pictures);
  if (!box) return;
  const { width, height, data } = fallen,
    cell = CELL * scale,
    [left, right] = [Math.floor(box[0] * cell), Math.min(picture.width, Math.ceil(box[2] * cell))],
    p = picture.data;
  for (let y = Math.floor(box[1] * cell), end = Math.min(picture.height, Math.ceil(box[3] * cell)); y < end; y++) {
    const v = clamp((y + 0.5) / cell - 0.5, 0, height - 1),
      y0 = Math.floor(v),
      y1 = Math.min(height - 1, y0 + 1),
      fv = v - y0;
    for (let x = left, i = 4 * (y * picture.width + left) + 3; x < right; x++, i += 4) {
      const u = clamp((x + 0.5) / cell - 0.5, 0, width - 1),
        x0 = Math.floor(u),
        x1 = Math.min(width - 1, x0 + 1),
        a = data[y0 * width + x0]!,
        c = data[y1 * width + x0]!,
        upper = a + (data[y0 * width + x1]! - a) * (u - x0),
        deep = upper + (c + (data[y1 * width + x1]! - c) * (u - x0) - upper) * fv;
      if (deep > 0.004) p[i]! += (1 - p[i]!) * share * (deep / (0.6 + deep));
    }
  }
}
