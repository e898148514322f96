import { blur, meanHalf, twiceSize } from '../image/blur';
import type { Pictures } from '../image/arena';
import { smoothstep } from '../image/exactMath';
import type { Box } from '../image/extent';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';

/** How flat the ground is seen: picture pixels for each pixel of depth. */
const FLAT = 0.3;
/** How far above the feet the ground is lit, body heights: in the picture what is higher is far away, or no ground. */
const HIGHEST = 0.6;
/** Part of the strongest cell below which a cell throws nothing that counts. */
const FAINT = 0.02;

/**
 * The row where a body stands: below it lies less than a hundredth of its coverage. Null where it is cut off by the picture, or nowhere.
 * @param box the part of the plane that holds all of it.
 */
export function feetOf({ data, width, height }: Plane, [x0, y0, x1, y1]: Box = [0, 0, width, height]): number | null {
  const rows = new Float64Array(height);
  let all = 0;
  for (let y = y0; y < y1; y++) {
    for (let x = x0, p = y * width + x0; x < x1; x++, p++) rows[y]! += data[p]!;
    all += rows[y]!;
  }
  if (all <= 0 || rows[height - 1]! > 0.5) return null;
  let below = 0;
  for (let y = height - 1; y >= 0; y--) {
    below += rows[y]!;
    if (below > all / 100) return y + 1;
  }
  return null;
}

/**
 * What a light throws on level ground at the feet of a body: each cell of it is a lamp that hangs above that ground, and falls off by the inverse square
 * and by how steeply it comes down. Soft, so that cells of four by four of `light` are enough.
 * @param light an eighth of the picture, @param feet the row where the ground meets the body, @param tall the body's height, @param away how far before
 * it the light hangs (below 0: behind), all in cells of that picture.
 * @returns irradiance at the size of `light`; what a sky of brightness 1 would give is 1.
 */
export function groundLight(light: Picture, feet: number, tall: number, away: number, pictures: Pictures): Picture {
  const half = meanHalf(light, pictures),
    lamps = meanHalf(half, pictures),
    out = pictures.takePicture(half.width, half.height),
    o = out.data,
    l = lamps.data;
  o.fill(0);
  let most = 0;
  for (let i = 0; i < l.length; i += 4) most = Math.max(most, l[i]!, l[i + 1]!, l[i + 2]!);
  const above = Math.max(0, Math.floor((feet - HIGHEST * tall) / 2));
  if (out.height > above)
    withAddresses(pictures, [lamps, out], (from, to) =>
      pictures.run(
        'groundFall',
        out.height - above,
        ...([from!, lamps.width, lamps.height, FAINT * most, feet, away, 1 / FLAT, above, to!, out.width] as const),
      ),
    );
  // What lies higher is fainter, to nothing: no line shows where the ground ends.
  for (let y = above; y < out.height; y++) {
    const shown = smoothstep(feet - HIGHEST * tall, feet, 2 * (y + 0.5));
    for (let at = y * out.width * 4, end = at + out.width * 4; at < end; at++) o[at]! *= shown;
  }
  const soft = blur(out, 1, pictures),
    grown = twiceSize(soft, light.width, light.height, pictures);
  for (const working of [half, lamps, out, soft]) pictures.give(working);
  return grown;
}
