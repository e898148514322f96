import { blur } from '../image/blur';
import { smoothstep } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import type { Picture } from '../image/picture';

/**
 * Gathers what was drawn into drops and streams with one skin, in place: what is near enough together flows into one, by a blur whose coverage is cut
 * at a level; the slope of the blurred coverage turns the skin to the light from the upper left.
 * @param amount 0 leaves it, 1 is liquid only.
 * @param over how far apart things may be, pixels of the picture.
 */
export function gatherLiquid(layer: Picture, amount: number, over: number, shine: number, pictures: Pictures): void {
  const { width, height, data } = layer,
    // Light has no coverage of its own: its brightness stands in for it.
    working = pictures.takePicture(width, height),
    w = working.data;
  for (let i = 0; i < data.length; i += 4) {
    const bright = Math.max(data[i]!, data[i + 1]!, data[i + 2]!);
    w[i] = data[i]!;
    w[i + 1] = data[i + 1]!;
    w[i + 2] = data[i + 2]!;
    w[i + 3] = Math.max(data[i + 3]!, Math.min(1, bright));
  }
  const soft = blur(working, over / 2, pictures),
    s = soft.data;
  pictures.give(working);
  const level = 0.24;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      const a = s[i + 3]!;
      if (a < 0.01) {
        for (let c = 0; c < 4; c++) data[i + c]! *= 1 - amount;
        continue;
      }
      const body = smoothstep(level - 0.07, level + 0.07, a),
        right = x + 1 < width ? s[i + 7]! : a,
        left = x > 0 ? s[i - 1]! : a,
        down = y + 1 < height ? s[i + width * 4 + 3]! : a,
        up = y > 0 ? s[i - width * 4 + 3]! : a,
        // The skin bulges where coverage rises: its normal leans against the slope.
        nx = (left - right) * over,
        ny = (up - down) * over,
        n = 1 / Math.sqrt(nx * nx + ny * ny + 0.35),
        towards = Math.max(0, (0.55 - 0.5 * nx - 0.68 * ny) * n * 0.75),
        t2 = towards * towards,
        t4 = t2 * t2,
        glint = shine * (t4 * t4 * 1.6 + 0.12 * t2) * body,
        dark = 0.55 + 0.45 * smoothstep(level, level + 0.45, a),
        k = body / a;
      for (let c = 0; c < 3; c++) data[i + c] = data[i + c]! * (1 - amount) + amount * (s[i + c]! * k * dark + glint);
      data[i + 3] = data[i + 3]! * (1 - amount) + amount * body;
    }
  pictures.give(soft);
}
