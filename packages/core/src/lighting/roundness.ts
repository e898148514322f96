import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import { emptyPlane } from '../image/planeMath';
import type { Picture, Plane } from '../image/picture';

/** Coverage from which a cell is of the body. */
const INSIDE = 0.5;
/** Rounds of averaging before and after each visit of the coarser level. */
const ROUNDS = 2;
/** Levels end where a side is this small. */
const SMALLEST = 6;

/**
 * One level of the grid. Only its cells inside are listed: where each lies, and its four neighbours (a cell at the edge of the picture is its own, so that
 * it goes on there). What is outside stays zero.
 */
interface Level {
  width: number;
  height: number;
  inside: Uint8Array;
  cells: Int32Array;
  /** Left, right, upper and lower neighbour of each cell. */
  beside: Int32Array;
  /** What each is to be above the mean of its neighbours, and its value. */
  above: Float32Array;
  value: Float32Array;
}

/**
 * How far a body stands out, squared, guessed from its coverage: it is zero at the edge and its Laplacian is -4 inside, so that a disc of radius R gives
 * R² - r², whose root is a sphere, and a limb comes out round. The picture's edges cut a body off without rounding it. Solved by multigrid (Brandt 1977).
 * @returns square cells of the matte, one value a cell.
 */
export function standsOut({ data, width, height }: Pick<Plane, 'data' | 'width' | 'height'>): Float32Array {
  const inside = new Uint8Array(width * height);
  for (let p = 0; p < inside.length; p++) inside[p] = data[p]! >= INSIDE ? 1 : 0;
  const levels: Level[] = [levelOf(inside, width, height)];
  for (;;) {
    const last = levels[levels.length - 1]!;
    if (Math.min(last.width, last.height) <= SMALLEST || !last.cells.length) break;
    levels.push(coarser(last));
  }
  // From the coarsest level to the finest: each begins with what the one before it found (in its own, smaller cells), and is mended by one visit.
  for (let at = levels.length - 1; at >= 0; at--) {
    const level = levels[at]!;
    if (at < levels.length - 1) {
      const { value } = levels[at + 1]!;
      for (let p = 0; p < value.length; p++) value[p]! *= 4;
      level.value.fill(0);
      spreadOnto(level, levels[at + 1]!);
    }
    // With every neighbour a cell away, a Laplacian of -4 puts each cell 1 above their mean.
    level.above.fill(1);
    visit(levels, at);
  }
  return levels[0]!.value;
}
function levelOf(inside: Uint8Array, width: number, height: number): Level {
  let n = 0;
  for (let p = 0; p < inside.length; p++) n += inside[p]!;
  const cells = new Int32Array(n),
    beside = new Int32Array(4 * n);
  for (let y = 0, p = 0, k = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      if (!inside[p]) continue;
      cells[k] = p;
      beside[4 * k] = x > 0 ? p - 1 : p;
      beside[4 * k + 1] = x < width - 1 ? p + 1 : p;
      beside[4 * k + 2] = y > 0 ? p - width : p;
      beside[4 * k + 3] = y < height - 1 ? p + width : p;
      k++;
    }
  return { width, height, inside, cells, beside, above: new Float32Array(n), value: new Float32Array(inside.length) };
}
/** The cells of a level by two and two: inside where all of them are, since a body that grows from level to level would be corrected too far. */
function coarser({ inside, width, height }: Level): Level {
  const w = (width + 1) >> 1,
    h = (height + 1) >> 1,
    small = new Uint8Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const right = Math.min(width - 1, 2 * x + 1),
        upper = 2 * y * width,
        lower = Math.min(height - 1, 2 * y + 1) * width;
      small[y * w + x] = inside[upper + 2 * x]! & inside[upper + right]! & inside[lower + 2 * x]! & inside[lower + right]!;
    }
  return levelOf(small, w, h);
}

function visit(levels: Level[], at: number): void {
  const fine = levels[at]!,
    coarse = levels[at + 1];
  average(fine, coarse ? ROUNDS : 12 * ROUNDS);
  if (!coarse?.cells.length) return;
  // What is still missing, of four cells together: neighbours there are twice as far away, which makes it four times as much.
  const { cells, beside, above, value, width } = fine,
    w = coarse.width,
    missing = new Float32Array(w * coarse.height);
  for (let k = 0, b = 0; k < cells.length; k++, b += 4) {
    const p = cells[k]!,
      y = Math.floor(p / width),
      x = p - y * width,
      sum = value[beside[b]!]! + value[beside[b + 1]!]! + value[beside[b + 2]!]! + value[beside[b + 3]!]!;
    missing[(y >> 1) * w + (x >> 1)]! += sum / 4 + above[k]! - value[p]!;
  }
  for (let k = 0; k < coarse.cells.length; k++) coarse.above[k] = missing[coarse.cells[k]!]!;
  coarse.value.fill(0);
  visit(levels, at + 1);
  spreadOnto(fine, coarse);
  average(fine, ROUNDS);
}
/** Adds the values of a coarser level, smooth between its cells. */
function spreadOnto({ cells, value, width }: Level, coarse: Level): void {
  const e = coarse.value,
    w = coarse.width;
  for (let k = 0; k < cells.length; k++) {
    const p = cells[k]!,
      y = Math.floor(p / width),
      x = p - y * width,
      near = (y >> 1) * w,
      far = Math.min(coarse.height - 1, Math.max(0, (y >> 1) + (y & 1 ? 1 : -1))) * w,
      i = x >> 1,
      j = Math.min(w - 1, Math.max(0, i + (x & 1 ? 1 : -1)));
    value[p]! += (9 * e[near + i]! + 3 * (e[near + j]! + e[far + i]!) + e[far + j]!) / 16;
  }
}
/** Gauss and Seidel, forwards and back by turns. */
function average({ cells, beside, above, value }: Level, rounds: number): void {
  const n = cells.length;
  for (let round = 0; round < rounds; round++)
    for (let i = 0; i < n; i++) {
      const k = round & 1 ? n - 1 - i : i,
        b = 4 * k;
      value[cells[k]!] = (value[beside[b]!]! + value[beside[b + 1]!]! + value[beside[b + 2]!]! + value[beside[b + 3]!]!) * 0.25 + above[k]!;
    }
}

/** Slope of the surface for a change of the picture's brightness, and the steepest that it may come to. */
const FOLDS = 0.9,
  STEEPEST = 0.6;

/**
 * Which way the surface of a body looks at each of its cells: x right, y down, z towards the camera, of length 1; alpha is the coverage. It is round as
 * its matte is, with the folds of the picture's own shading: brighter cloth is taken to stand out. It goes on one cell beyond the body, so that it can be smooth
 * up to the edge.
 * @param picture of the same size; null for a surface without folds.
 */
export function surfaceOf(matte: Plane, picture: Picture | null, pictures: Pictures): Picture {
  const { width, height } = matte,
    out = pictures.takePicture(width, height),
    u = pictures.takePlane(width, height),
    shades = emptyPlane(width, height, pictures),
    grey = shades.data;
  u.data.set(standsOut(matte));
  if (picture) {
    let mean = 0,
      all = 1e-6;
    for (let p = 0, i = 0; p < grey.length; p++, i += 4) {
      const g = 0.2126 * picture.data[i]! + 0.7152 * picture.data[i + 1]! + 0.0722 * picture.data[i + 2]!,
        m = matte.data[p]!;
      grey[p] = g > 0 ? g : 0;
      mean += m * grey[p]!;
      all += m;
    }
    mean = Math.max(1e-4, mean / all);
    // What is far brighter than the rest of the body is a lamp or a white collar, and no mountain.
    for (let p = 0; p < grey.length; p++) grey[p] = grey[p]! / (grey[p]! + mean);
  }
  withAddresses(pictures, [matte, u, shades, out], (m, stands, shade, to) =>
    pictures.run('bodySurface', height, m!, stands!, shade!, FOLDS, STEEPEST, to!, width, height),
  );
  for (const working of [u, shades]) pictures.give(working);
  return out;
}
