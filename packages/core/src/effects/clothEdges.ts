import { blur } from '../image/blur';
import { clamp } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import { emptyPlane } from '../image/planeMath';
import { boxOf } from './body';

/** Sigmas of what counts as detail of a body and of what is around it, in cells of a quarter of the size. */
const FINE = 1.2,
  AROUND = 7;

/**
 * How much brighter each cell of a body is than what is around it on the body, -1..1 at most, 0 on average: the folds, seams and edges of cloth, along which a front eats. Square roots of
 * luminance, in deviations of what the body shows; so it says the same in bright and in dim light.
 * @param plate and @param matte at a quarter of the whole shot's size. The caller gives the result back.
 */
export function clothEdges(plate: Picture, matte: Plane, pictures: Pictures): Plane {
  const { width, height, data: p } = plate,
    out = emptyPlane(width, height, pictures),
    box = boxOf(matte, 1, pictures);
  if (!box) return out;
  const light = pictures.takePicture(width, height),
    l = light.data,
    o = out.data,
    everywhere = (work: (k: number) => void) => {
      for (let y = box[1]; y < box[3]; y++) for (let k = y * width + box[0], end = y * width + box[2]; k < end; k++) work(k);
    };
  pictures.run('clear', height, light.address!, width * 4);
  // Light by its share of the body, so that what stands behind the body has no say.
  everywhere((k) => {
    const i = 4 * k,
      m = clamp(matte.data[k]!, 0, 1),
      root = Math.sqrt(Math.max(0, 0.2126 * p[i]! + 0.7152 * p[i + 1]! + 0.0722 * p[i + 2]!));
    l[i] = m * root;
    l[i + 1] = m;
  });
  const [fine, around] = [blur(light, FINE, pictures), blur(light, AROUND, pictures)],
    [f, a] = [fine.data, around.data];
  let [squares, n] = [0, 0];
  everywhere((k) => {
    const i = 4 * k;
    if (!(matte.data[k]! > 0.05)) return;
    o[k] = f[i]! / Math.max(0.02, f[i + 1]!) - a[i]! / Math.max(0.02, a[i + 1]!);
    squares += o[k]! * o[k]!;
    n++;
  });
  const deviation = n ? Math.max(1e-4, Math.sqrt(squares / n)) : 1;
  everywhere((k) => {
    if (o[k] !== 0) o[k] = o[k]! / (Math.abs(o[k]!) + deviation);
  });
  for (const working of [light, fine, around]) pictures.give(working);
  return out;
}

/** Moves the order of each pixel about a body by `amount` times what is there of `edges` (quarter size), in place: dark folds go first. */
export function alongEdges(order: Plane, cover: Plane, edges: Plane, amount: number, scale: number, pictures: Pictures): void {
  const box = boxOf(cover, 0, pictures);
  if (!box) return;
  const { width, height, data: e } = edges,
    step = 1 / (4 * scale);
  for (let y = box[1]; y < box[3]; y++) {
    const v = clamp((y + 0.5) * step - 0.5, 0, height - 1),
      y0 = Math.floor(v),
      below = Math.min(height - 1, y0 + 1) * width,
      row = y0 * width,
      fy = v - y0;
    for (let x = box[0], k = y * order.width + x; x < box[2]; x++, k++) {
      const u = clamp((x + 0.5) * step - 0.5, 0, width - 1),
        x0 = Math.floor(u),
        x1 = Math.min(width - 1, x0 + 1),
        fx = u - x0,
        a = e[row + x0]! + (e[row + x1]! - e[row + x0]!) * fx,
        b = e[below + x0]! + (e[below + x1]! - e[below + x0]!) * fx;
      order.data[k]! += amount * (a + (b - a) * fy);
    }
  }
}
