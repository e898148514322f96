import type { Pictures } from '../image/arena';
import { blur } from '../image/blur';
import { withAddresses } from '../image/kernelCall';
import type { Plane } from '../image/picture';
import { between } from '../image/planeMath';

/** Lengths in pixels of the plane, areas in square pixels. */
export interface RefineOptions {
  grow: number;
  blur: number;
  despeckle: number;
  fillHoles: number;
}

/** Grows (or, below 0, shrinks) a matte by `amount` pixels; parts of a pixel are mixed. In place. */
export function growMatte(matte: Plane, amount: number, pictures: Pictures): void {
  const size = Math.min(200, Math.abs(amount)),
    sign = amount > 0 ? 1 : -1,
    whole = Math.floor(size),
    part = size - whole;
  if (size < 1e-3) return;
  const { width, height } = matte,
    planes = [pictures.takePlane(width, height), pictures.takePlane(width, height)] as const;
  planes[0].data.set(matte.data);
  let now: 0 | 1 = 0;
  // Square and diamond steps in turn make an octagon, near enough a disc.
  withAddresses(pictures, planes, (first, second) => {
    const step = (i: number) =>
      pictures.run('growOnce', height, now ? second! : first!, now ? first! : second!, width, height, i % 2 === 1, sign < 0);
    for (let i = 0; i < whole; i++) {
      step(i);
      now = now ? 0 : 1;
    }
    if (part > 1e-3) step(whole);
  });
  const less = planes[now],
    more = planes[now ? 0 : 1];
  if (part > 1e-3) between(less, more, part, pictures, less);
  matte.data.set(less.data);
  for (const plane of planes) pictures.give(plane);
}

/**
 * Sets every connected area (four neighbours) of values above `level` (or, with `below`, under it) that is smaller than `most` pixels to `value`;
 * areas that reach the border may be left. Areas are joined from the runs of each row, so that a large one costs no more than its rows.
 */
function fillSmall(matte: Plane, most: number, level: number, below: boolean, value: number, keepAtBorder: boolean): void {
  const { width, height, data } = matte;
  const starts: number[] = [],
    ends: number[] = [],
    parents: number[] = [],
    areas: number[] = [],
    open: boolean[] = [];
  const root = (i: number): number => {
    while (parents[i] !== i) i = parents[i] = parents[parents[i]!]!;
    return i;
  };
  let above = 0,
    aboveEnd = 0;
  for (let y = 0; y < height; y++) {
    const first = starts.length,
      row = y * width,
      edgeRow = y === 0 || y === height - 1;
    let before = above;
    for (let x = 0; x < width; x++) {
      if (below ? data[row + x]! >= level : data[row + x]! <= level) continue;
      const begin = x;
      while (x < width && (below ? data[row + x]! < level : data[row + x]! > level)) x++;
      const own = starts.length;
      starts.push(row + begin);
      ends.push(row + x);
      parents.push(own);
      areas.push(x - begin);
      open.push(edgeRow || begin === 0 || x === width);
      // Join with every run of the row above that shares a column.
      while (before < aboveEnd && ends[before]! <= row - width + begin) before++;
      for (let k = before; k < aboveEnd && starts[k]! < row - width + x; k++) {
        const a = root(k),
          b = root(own);
        if (a === b) continue;
        parents[b] = a;
        areas[a]! += areas[b]!;
        open[a] = open[a]! || open[b]!;
      }
    }
    above = first;
    aboveEnd = starts.length;
  }
  for (let i = 0; i < starts.length; i++) {
    const r = root(i);
    if (areas[r]! < most && !(keepAtBorder && open[r])) data.fill(value, starts[i], ends[i]);
  }
}

/** Despeckles, fills holes, grows and blurs a matte, in that order: in place, or into another plane where it is blurred (the first goes back then). */
export function refineMatte(matte: Plane, options: RefineOptions, pictures: Pictures): Plane {
  if (options.despeckle > 0) fillSmall(matte, options.despeckle, 0.05, false, 0, false);
  if (options.fillHoles > 0) fillSmall(matte, options.fillHoles, 0.95, true, 1, true);
  growMatte(matte, options.grow, pictures);
  if (!(options.blur > 0.1)) return matte;
  const soft = blur(matte, options.blur / 2, pictures);
  pictures.give(matte);
  return soft;
}
