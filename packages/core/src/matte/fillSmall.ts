import type { Plane } from '../image/picture';

/**
 * Sets every connected area (four neighbours) of values above `level` (or, with `below`, under it) that is smaller than `most` pixels to `value`;
 * areas that reach the border may be left, and those in which another plane is on the mean as large as a number. Areas are joined from the runs of each row, so that a large one costs no more than its rows.
 */
export function fillSmall(
  matte: Plane,
  most: number,
  level: number,
  below: boolean,
  value: number,
  keepAtBorder: boolean,
  unless?: { is: Plane; mean: number },
): void {
  const { width, height, data } = matte;
  const starts: number[] = [],
    ends: number[] = [],
    parents: number[] = [],
    areas: number[] = [],
    sums: number[] = [],
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
      let sum = 0;
      if (unless) for (let i = begin; i < x; i++) sum += unless.is.data[row + i]!;
      sums.push(sum);
      open.push(edgeRow || begin === 0 || x === width);
      // Join with every run of the row above that shares a column.
      while (before < aboveEnd && ends[before]! <= row - width + begin) before++;
      for (let k = before; k < aboveEnd && starts[k]! < row - width + x; k++) {
        const a = root(k),
          b = root(own);
        if (a === b) continue;
        parents[b] = a;
        areas[a]! += areas[b]!;
        sums[a]! += sums[b]!;
        open[a] = open[a]! || open[b]!;
      }
    }
    above = first;
    aboveEnd = starts.length;
  }
  for (let i = 0; i < starts.length; i++) {
    const r = root(i);
    if (areas[r]! < most && !(keepAtBorder && open[r]) && !(unless && sums[r]! >= unless.mean * areas[r]!))
      data.fill(value, starts[i], ends[i]);
  }
}
