import { newPlane, type Plane } from '../image/picture';

/** Half of the side of the square whose mean is taken off: light that changes over more than that says nothing of motion. */
const AROUND = 15;
/** Takes the mean of what is around it off every pixel, by a table of running sums. */
function lessAround({ width, height, data }: Plane): void {
  const line = width + 1,
    sums = new Float64Array(line * (height + 1));
  for (let y = 0; y < height; y++)
    for (let x = 0, row = 0; x < width; x++) {
      row += data[y * width + x]!;
      sums[(y + 1) * line + x + 1] = sums[y * line + x + 1]! + row;
    }
  for (let y = 0; y < height; y++) {
    const top = Math.max(0, y - AROUND),
      bottom = Math.min(height, y + AROUND + 1);
    for (let x = 0; x < width; x++) {
      const left = Math.max(0, x - AROUND),
        right = Math.min(width, x + AROUND + 1);
      data[y * width + x]! -=
        (sums[bottom * line + right]! - sums[top * line + right]! - sums[bottom * line + left]! + sums[top * line + left]!) /
        ((bottom - top) * (right - left));
    }
  }
}

/** A part of a picture and halves of it, each less what is around. */
export interface Part {
  left: number;
  top: number;
  planes: Plane[];
}

function half({ width, height, data }: Plane): Plane {
  const small = newPlane(width >> 1, height >> 1);
  for (let y = 0; y < small.height; y++)
    for (let x = 0; x < small.width; x++) {
      const p = 2 * y * width + 2 * x;
      small.data[y * small.width + x] = (data[p]! + data[p + 1]! + data[p + width]! + data[p + width + 1]!) / 4;
    }
  return small;
}
/**
 * The part of a picture within a box, as far as the picture goes, with halves of it; null where it is too small to look for anything in it.
 * @param box left, top, right, bottom, pixels. @param levels how often it is halved at the most. @param window side of what is looked for in it, pixels.
 */
export function partOf(
  plane: Plane,
  [x0, y0, x1, y1]: readonly [number, number, number, number],
  levels: number,
  window: number,
): Part | null {
  const unit = 1 << levels,
    left = Math.max(0, Math.floor(x0 / unit) * unit),
    top = Math.max(0, Math.floor(y0 / unit) * unit),
    width = Math.min(plane.width - left, Math.ceil((x1 - x0) / unit) * unit + unit),
    height = Math.min(plane.height - top, Math.ceil((y1 - y0) / unit) * unit + unit);
  if (width < 3 * window || height < 3 * window) return null;
  const first = newPlane(width, height);
  for (let j = 0; j < height; j++) {
    const at = (top + j) * plane.width + left;
    first.data.set(plane.data.subarray(at, at + width), j * width);
  }
  lessAround(first);
  const planes = [first];
  while (planes.length <= levels && Math.min(planes.at(-1)!.width, planes.at(-1)!.height) > 2 * window) planes.push(half(planes.at(-1)!));
  return { left, top, planes };
}
