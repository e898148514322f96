import type { Pictures } from '../image/arena';
import { blur } from '../image/blur';
import type { Plane } from '../image/picture';

/** Lengths in pixels of the plane, areas in square pixels. */
export interface RefineOptions { grow: number; blur: number; despeckle: number; fillHoles: number }

/** One step of growing (or shrinking) by a pixel: square and diamond in turn make an octagon, near enough a disc. */
function growStep(from: Float32Array<ArrayBufferLike>, to: Float32Array<ArrayBufferLike>, width: number, height: number, square: boolean, sign: 1 | -1): void {
  for (let y = 0; y < height; y++) {
    const up = Math.max(0, y - 1) * width, row = y * width, down = Math.min(height - 1, y + 1) * width;
    for (let x = 0; x < width; x++) {
      const l = x > 0 ? x - 1 : 0, r = x < width - 1 ? x + 1 : x;
      let v = Math.max(sign * from[row + x]!, sign * from[row + l]!, sign * from[row + r]!, sign * from[up + x]!, sign * from[down + x]!);
      if (square) v = Math.max(v, sign * from[up + l]!, sign * from[up + r]!, sign * from[down + l]!, sign * from[down + r]!);
      to[row + x] = sign * v;
    }
  }
}

/** Grows (or, below 0, shrinks) a matte by `amount` pixels; parts of a pixel are mixed. In place. */
export function growMatte(matte: Plane, amount: number, pictures: Pictures): void {
  const size = Math.min(200, Math.abs(amount)), sign = amount > 0 ? 1 : -1, whole = Math.floor(size), part = size - whole;
  if (size < 1e-3) return;
  const other = pictures.takePlane(matte.width, matte.height);
  let a = matte.data, b = other.data;
  for (let i = 0; i < whole; i++) { growStep(a, b, matte.width, matte.height, i % 2 === 1, sign); [a, b] = [b, a]; }
  if (part > 1e-3) { growStep(a, b, matte.width, matte.height, whole % 2 === 1, sign); for (let p = 0; p < a.length; p++) b[p] = a[p]! + (b[p]! - a[p]!) * part; a = b; }
  if (a !== matte.data) matte.data.set(a);
  pictures.give(other);
}

/** Sets every connected area (four neighbours) of `inside` pixels that is smaller than `most` to `value`; areas at the border count as open. */
function fillSmall(matte: Plane, most: number, inside: (v: number) => boolean, value: number, keepAtBorder: boolean): void {
  const { width, height, data } = matte, seen = new Uint8Array(data.length), stack: number[] = [], area: number[] = [];
  for (let start = 0; start < data.length; start++) {
    if (seen[start] || !inside(data[start]!)) continue;
    stack.push(start); seen[start] = 1; area.length = 0;
    let border = false;
    while (stack.length) {
      const p = stack.pop()!, x = p % width, y = (p - x) / width;
      area.push(p);
      if (x === 0 || y === 0 || x === width - 1 || y === height - 1) border = true;
      if (x > 0 && !seen[p - 1] && inside(data[p - 1]!)) { seen[p - 1] = 1; stack.push(p - 1); }
      if (x < width - 1 && !seen[p + 1] && inside(data[p + 1]!)) { seen[p + 1] = 1; stack.push(p + 1); }
      if (y > 0 && !seen[p - width] && inside(data[p - width]!)) { seen[p - width] = 1; stack.push(p - width); }
      if (y < height - 1 && !seen[p + width] && inside(data[p + width]!)) { seen[p + width] = 1; stack.push(p + width); }
    }
    if (area.length < most && !(border && keepAtBorder)) for (const p of area) data[p] = value;
  }
}

/** Despeckles, fills holes, grows and blurs a matte, in that order, in place. */
export function refineMatte(matte: Plane, options: RefineOptions, pictures: Pictures): void {
  if (options.despeckle > 0) fillSmall(matte, options.despeckle, (v) => v > 0.05, 0, false);
  if (options.fillHoles > 0) fillSmall(matte, options.fillHoles, (v) => v < 0.95, 1, true);
  growMatte(matte, options.grow, pictures);
  if (options.blur > 0.1) { const soft = blur(matte, options.blur / 2, pictures); matte.data.set(soft.data); pictures.give(soft); }
}
