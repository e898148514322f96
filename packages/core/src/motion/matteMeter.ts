import { PI } from '../image/exactMath';
import type { Plane } from '../image/picture';
import type { TrackSample } from './pointTracker';
import { axisOf, type Spread } from './spread';

/** Where on a matte a track stands. */
export const matteSpots = ['in its middle', 'at its top', 'at its bottom', 'at its left', 'at its right'] as const;
export type MatteSpot = (typeof matteSpots)[number];

/** What counts as outside, of the coverage: soft edges and grain that a refined matte still has. */
const FLOOR = 0.1;
/** Share of all that is covered that makes an edge: a single hair or speck does not. */
const EDGE = 0.01;
/** How much larger or smaller it may become from frame to frame and still be sure. */
const SURE = 1.4;
/** Less than this many pixels are nothing. */
const LEAST = 4;

/** How a matte is spread, and where a spot of it is: its middle, or the edge that a hundredth of it lies beyond, in the middle of what does. */
function lookAt({ data, width, height }: Plane, spot: MatteSpot): (Spread & { spot: readonly [number, number] }) | null {
  const columns = new Float64Array(width),
    rows = new Float64Array(height);
  let [area, sx, sy, xx, xy, yy] = [0, 0, 0, 0, 0, 0];
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const w = data[p]!;
      if (!(w > FLOOR)) continue;
      area += w;
      sx += w * x;
      sy += w * y;
      xx += w * x * x;
      xy += w * x * y;
      yy += w * y * y;
      columns[x]! += w;
      rows[y]! += w;
    }
  if (area < LEAST) return null;
  const mx = sx / area,
    my = sy / area,
    /** Where the share of `EDGE` lies before it, between pixels. */
    edge = (sums: Float64Array, back: boolean) => {
      let left = EDGE * area;
      for (let k = 0; k < sums.length; k++) {
        const i = back ? sums.length - 1 - k : k;
        if (sums[i]! >= left) return back ? i + 1 - left / sums[i]! : i + left / sums[i]!;
        left -= sums[i]!;
      }
      return sums.length / 2;
    },
    beyond = (inside: (x: number, y: number) => boolean, along: 'x' | 'y') => {
      let [sum, n] = [0, 0];
      for (let y = 0, p = 0; y < height; y++)
        for (let x = 0; x < width; x++, p++) {
          const w = data[p]!;
          if (!(w > FLOOR) || !inside(x + 0.5, y + 0.5)) continue;
          n += w;
          sum += w * (along === 'x' ? x : y);
        }
      return n > 0 ? sum / n + 0.5 : along === 'x' ? mx + 0.5 : my + 0.5;
    };
  const at: Record<MatteSpot, () => readonly [number, number]> = {
    'in its middle': () => [mx + 0.5, my + 0.5],
    'at its top': () => {
      const top = edge(rows, false);
      return [beyond((_, y) => y < top + 0.5, 'x'), top];
    },
    'at its bottom': () => {
      const bottom = edge(rows, true);
      return [beyond((_, y) => y > bottom - 0.5, 'x'), bottom];
    },
    'at its left': () => {
      const left = edge(columns, false);
      return [left, beyond((x) => x < left + 0.5, 'y')];
    },
    'at its right': () => {
      const right = edge(columns, true);
      return [right, beyond((x) => x > right - 0.5, 'y')];
    },
  };
  return {
    ...{ area, x: mx + 0.5, y: my + 0.5, xx: xx / area - mx * mx, xy: xy / area - mx * my, yy: yy / area - my * my },
    spot: at[spot](),
  };
}

/** Measures a matte from frame to frame: its middle or an edge, its turn by its longer axis, its growth by its area. */
export class MatteMeter {
  private first: Spread | null = null;
  private last: Spread | null = null;
  private axis = 0;
  private firstAxis: number | null = null;

  /** @param scale pixels of the clip for each of the plane. */
  constructor(
    private readonly spot: MatteSpot,
    private readonly scale = 1,
  ) {}
  /** @param plane coverage, 0..1, on frame `frame` of the clip. */
  at(plane: Plane, frame: number): TrackSample {
    const seen = lookAt(plane, this.spot);
    if (!seen) return { frame, x: null, y: null, rotation: 0, scale: 1, confidence: 0, state: 'lost' };
    const { last } = this,
      change = last ? Math.max(seen.area / last.area, last.area / seen.area) : 1,
      axis = axisOf(seen),
      [x, y] = seen.spot;
    this.first ??= seen;
    this.last = seen;
    if (axis !== null) {
      // An axis has no front: of its two directions the one nearer to where it pointed.
      this.axis = axis - PI * Math.round((axis - this.axis) / PI);
      this.firstAxis ??= this.axis;
    }
    return {
      ...{ frame, x: x * this.scale, y: y * this.scale },
      rotation: this.firstAxis === null ? 0 : ((this.axis - this.firstAxis) * 180) / PI,
      scale: Math.sqrt(seen.area / this.first.area),
      ...{ confidence: 1 / change, state: change < SURE ? 'good' : 'weak' },
    };
  }
}
