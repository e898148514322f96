import type { Pictures } from '../image/arena';
import { blur } from '../image/blur';
import type { Plane } from '../image/picture';

/** Lengths in pixels of the plane, areas in square pixels. */
export interface RefineOptions {
  grow: number;
  blur: number;
  despeckle: number;
  fillHoles: number;
}

/** One step of growing (or shrinking) by a pixel: square and diamond in turn make an octagon, near enough a disc. */
function growStep(
  from: Float32Array<ArrayBufferLike>,
  to: Float32Array<ArrayBufferLike>,
  width: number,
  height: number,
  square: boolean,
  sign: 1 | -1,
): void {
  for (let y = 0; y < height; y++) {
    const up = Math.max(0, y - 1) * width,
      row = y * width,
      down = Math.min(height - 1, y + 1) * width;
    for (let x = 0; x < width; x++) {
      const l = x > 0 ? x - 1 : 0,
        r = x < width - 1 ? x + 1 : x;
      let v = Math.max(sign * from[row + x]!, sign * from[row + l]!, sign * from[row + r]!, sign * from[up + x]!, sign * from[down + x]!);
      if (square) v = Math.max(v, sign * from[up + l]!, sign * from[up + r]!, sign * from[down + l]!, sign * from[down + r]!);
      to[row + x] = sign * v;
    }
  }
}

/** Grows (or, below 0, shrinks) a matte by `amount` pixels; parts of a pixel are mixed. In place. */
export function growMatte(matte: Plane, amount: number, pictures: Pictures): void {
  const size = Math.min(200, Math.abs(amount)),
    sign = amount > 0 ? 1 : -1,
    whole = Math.floor(size),
    part = size - whole;
  if (size < 1e-3) return;
  const other = pictures.takePlane(matte.width, matte.height);
  let a = matte.data,
    b = other.data;
  for (let i = 0; i < whole; i++) {
    growStep(a, b, matte.width, matte.height, i % 2 === 1, sign);
    [a, b] = [b, a];
  }
  if (part > 1e-3) {
    growStep(a, b, matte.width, matte.height, whole % 2 === 1, sign);
    for (let p = 0; p < a.length; p++) b[p] = a[p]! + (b[p]! - a[p]!) * part;
    a = b;
  }
  if (a !== matte.data) matte.data.set(a);
  pictures.give(other);
}

/** Sets every connected area (four neighbours) where `inside` holds and that is smaller than `most` to `value`; areas at the border may count as open. */
function fillSmall(matte: Plane, most: number, inside: (v: number) => boolean, value: number, keepAtBorder: boolean): void {
  const { width, data } = matte,
    n = data.length,
    waiting = new Uint8Array(n),
    area = new Int32Array(n);
  for (let p = 0; p < n; p++) waiting[p] = inside(data[p]!) ? 1 : 0;
  for (let start = 0; start < n; start++) {
    if (!waiting[start]) continue;
    // The area found so far is its own queue.
    let found = 1,
      border = false;
    area[0] = start;
    waiting[start] = 0;
    for (let at = 0; at < found; at++) {
      const p = area[at]!,
        x = p % width;
      if (x > 0) {
        if (waiting[p - 1]) {
          waiting[p - 1] = 0;
          area[found++] = p - 1;
        }
      } else border = true;
      if (x < width - 1) {
        if (waiting[p + 1]) {
          waiting[p + 1] = 0;
          area[found++] = p + 1;
        }
      } else border = true;
      if (p >= width) {
        if (waiting[p - width]) {
          waiting[p - width] = 0;
          area[found++] = p - width;
        }
      } else border = true;
      if (p < n - width) {
        if (waiting[p + width]) {
          waiting[p + width] = 0;
          area[found++] = p + width;
        }
      } else border = true;
    }
    if (found < most && !(border && keepAtBorder)) for (let i = 0; i < found; i++) data[area[i]!] = value;
  }
}

/** Despeckles, fills holes, grows and blurs a matte, in that order, in place. */
export function refineMatte(matte: Plane, options: RefineOptions, pictures: Pictures): void {
  if (options.despeckle > 0) fillSmall(matte, options.despeckle, (v) => v > 0.05, 0, false);
  if (options.fillHoles > 0) fillSmall(matte, options.fillHoles, (v) => v < 0.95, 1, true);
  growMatte(matte, options.grow, pictures);
  if (options.blur > 0.1) {
    const soft = blur(matte, options.blur / 2, pictures);
    matte.data.set(soft.data);
    pictures.give(soft);
  }
}
