import type { Pictures } from '../image/arena';
import type { Plane } from '../image/picture';

/** Side of a tile in pixels: it stays in the nearest cache while all of its shapes are laid on. */
const TILE = 32;
/** Threads that can sort at one time: each looks at every shape. */
const PARTS = 2;

/** Shapes by tile: what the kernels that draw tiles read. */
export interface Sorted {
  /** Rows of tiles, which are the bands of drawing. */
  rows: number;
  /** Addresses of where each tile's entries end, and of the entries: those of the tiles before the subject, and then of those behind it. */
  ends: number;
  entries: number;
  giveBack(): void;
}

/** Sorts drawn shapes (64 bytes each, as the kernels have them) into the tiles of a picture that they touch, each tile's in their own order. */
export function sortIntoTiles(shapes: Plane, count: number, width: number, height: number, pictures: Pictures): Sorted {
  const rows = Math.ceil(height / TILE),
    tiles = Math.ceil(width / TILE) * rows,
    ranges = pictures.takePlane(Math.max(1, 2 * count), 1),
    ends = pictures.takePlane(2 * tiles + 1, 1);
  pictures.run('tileRanges', count, shapes.address!, ranges.address!, width, height);
  pictures.run('countInTiles', PARTS, ranges.address!, count, ends.address!, PARTS, width, height);
  const entries = pictures.takePlane(Math.max(1, pictures.kernels.sumStarts(ends.address!, 2 * tiles)), 1);
  pictures.run('sortIntoTiles', PARTS, ranges.address!, count, ends.address!, entries.address!, PARTS, width, height);
  pictures.give(ranges);
  return {
    rows,
    ends: ends.address!,
    entries: entries.address!,
    giveBack() {
      pictures.give(ends);
      pictures.give(entries);
    },
  };
}
