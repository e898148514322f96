import type { Picture } from '../image/picture';

/** Rows and columns that are looked at, each way. */
const LINES = 80;
/** Square roots of light between both sides of what counts as an edge, and pixels that it may be wide. */
const STEP = 0.1,
  WIDEST = 24;
/** Deviations of the grain that an edge rises by at the least: it climbs by six in a few pixels by chance. */
const GRAINS = 10;
/** Part of the edges that are sharper than the one that is taken: most of a picture is out of focus or moves. */
const SHARPEST = 0.25;
/** Fewer edges than this say nothing. */
const FEWEST = 12;
/** Variance of an edge that was drawn with soft pixels, in differences of neighbours: a twelfth for the pixel and one for the difference. */
const DRAWN = 1 / 6;

/** Variances, in pixels squared, of the slopes of all clear edges of a line: each a run that only rises or only falls. */
function edgesOf(line: Float64Array, n: number, least: number, found: number[]): void {
  for (let i = 1, begin = 0; i <= n; i++) {
    const up = i < n && line[i]! > line[i - 1]!,
      was = i > 1 && line[i - 1]! > line[i - 2]!;
    if (i < n && (i === 1 || up === was)) continue;
    const end = i - 1,
      height = Math.abs(line[end]! - line[begin]!);
    if (height >= least && end - begin <= WIDEST) {
      let [sum, mean] = [0, 0];
      for (let k = begin; k < end; k++) {
        const d = Math.abs(line[k + 1]! - line[k]!);
        sum += d;
        mean += d * k;
      }
      mean /= sum;
      let variance = 0;
      for (let k = begin; k < end; k++) variance += (Math.abs(line[k + 1]! - line[k]!) / sum) * (k - mean) * (k - mean);
      found.push(variance);
    }
    begin = end;
  }
}

/**
 * By how much a picture is softer than what is drawn pixel by pixel: the standard deviation of the blur, pixels, that takes a drawn edge to one of its own sharp ones. From the
 * spread of the slopes of its edges along rows and columns: the slope of an edge is the line spread function (ISO 12233). 0 where it is as sharp, or has too few edges.
 * @param grain deviation of its grain, of square roots of light (`grainDeviation`): what rises by less than some of them is no edge.
 */
export function softnessOf({ data, width, height }: Picture, grain = 0): number {
  const found: number[] = [],
    line = new Float64Array(Math.max(width, height)),
    least = Math.max(STEP, GRAINS * grain),
    rootAt = (i: number) => Math.sqrt(Math.max(0, 0.2126 * data[i]! + 0.7152 * data[i + 1]! + 0.0722 * data[i + 2]!)),
    along = (n: number, lines: number, step: number, next: number) => {
      const every = Math.max(1, Math.floor(lines / LINES));
      for (let k = Math.floor(every / 2); k < lines; k += every) {
        for (let i = 0, p = k * next; i < n; i++, p += step) line[i] = rootAt(4 * p);
        edgesOf(line, n, least, found);
      }
    };
  along(width, height, 1, width);
  along(height, width, width, 1);
  if (found.length < FEWEST) return 0;
  found.sort((a, b) => a - b);
  return Math.sqrt(Math.max(0, found[Math.floor(SHARPEST * found.length)]! - DRAWN));
}
