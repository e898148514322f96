import { exp } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import { quarterSize } from '../image/blur';
import type { Picture } from '../image/picture';
import { solveMask, type MaskSystem } from './solveMask';

/** What the light on a body's surroundings is to the matte: its shadow and the light that it throws. */
export type LightChanges = 'kept' | 'dropped';

/** Side of a cell, pixels. */
export const CELL = 4;
/** How much a cell that differs says, and one that does not and has structure; one that does not differ and has none says nearly nothing. */
export const DIFFERS = 1,
  SAME = 0.5,
  EMPTY = 0.05;
/** Deviations of the grain at which a cell begins to differ, and at which it does for certain. */
export const BEGINS = 3,
  CERTAIN = 7;
/** The least deviation of the grain of a cell, of the display range: codes are whole numbers. */
const LEAST = 0.0025;
/** Contrast of an edge, in deviations of the grain, at which it parts its two sides by half. */
const PARTS = 5;
/** Cells around in which the body's contrast is looked at, and the most that it counts. */
const AROUND = 2,
  MOST = 60;
/** How much of a hole must show the clean plate's structure for it to be one. */
const THROUGH = 0.3;
/** Cells to both sides of the edge that are open: there it is solved by pixels. */
const REACH = 2;
/** How strongly places hold together where nothing parts them, and at the least. */
const HOLDS = 0.6;
export const LINK = 0.002;
/** The exponent from which a link is no more than the least one, in the numbers in which it is kept. */
const PARTED = 23;
/** How much light may be changed by a body before it is another colour: darker and brighter. */
const DARKEST = 0.6,
  BRIGHTEST = 1.9;

/** A picture in square roots of its light, by cells: three values each. */
interface Cells {
  width: number;
  height: number;
  data: Float32Array;
}
export function cellsOf(picture: Picture, pictures: Pictures): Cells {
  const small = quarterSize(picture, pictures),
    n = small.width * small.height,
    data = new Float32Array(3 * n);
  for (let q = 0; q < n; q++) for (let c = 0; c < 3; c++) data[3 * q + c] = Math.sqrt(Math.max(0, small.data[4 * q + c]!));
  pictures.give(small);
  return { width: small.width, height: small.height, data };
}
const median = (values: Float64Array): number => values.sort()[values.length >> 1] ?? 0;

/** By how much a frame is brighter than its clean plate in each channel, as most cells say, and how far they scatter about it: the grain of a cell. */
function lightAndGrain(plate: Cells, clean: Cells): { gain: [number, number, number]; grain: [number, number, number] } {
  const every = Math.max(1, Math.floor(plate.data.length / 3 / 4000)),
    gain: [number, number, number] = [1, 1, 1],
    grain: [number, number, number] = [LEAST, LEAST, LEAST];
  const list = new Float64Array(Math.ceil(plate.data.length / (3 * every)));
  for (let c = 0; c < 3; c++) {
    let n = 0;
    for (let i = c; i < plate.data.length; i += 3 * every) if (clean.data[i]! > 0.15) list[n++] = plate.data[i]! / clean.data[i]!;
    if (n > 200) gain[c] = median(list.subarray(0, n));
    n = 0;
    for (let i = c; i < plate.data.length; i += 3 * every) list[n++] = Math.abs(plate.data[i]! - gain[c]! * clean.data[i]!);
    // The quieter half: the body may fill much of the picture.
    grain[c] = Math.max(LEAST, list.subarray(0, n).sort()[Math.floor(n * 0.3)]! / 0.385);
  }
  return { gain, grain };
}

/**
 * Where a body is, by cells of 4 pixels, 0..1, against a clean plate. A cell speaks by how far it differs, in deviations of the measured grain, once light
 * that changed over all of the picture is made good; shadow and thrown light do not count where they are dropped; structure of the clean plate that is
 * still there says that nothing stands before it. What says nothing, as colours that lean towards the background do, takes the side of what it holds
 * together with: edges of the frame that the clean plate does not have part them.
 */
export function bodyCells(plate: Cells, clean: Cells, light: LightChanges): Rough {
  const { width, height } = plate,
    n = width * height,
    { gain, grain } = lightAndGrain(plate, clean),
    a = plate.data,
    b = new Float32Array(clean.data.length),
    s = emptySystem(width, height),
    kept = new Float32Array(n),
    zs = new Float32Array(n);
  for (let i = 0; i < b.length; i += 3) for (let c = 0; c < 3; c++) b[i + c] = clean.data[i + c]! * gain[c]!;
  const known = likenesses(a, b, width, height, grain[1]);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const i = 3 * p,
        structure = known.structure[p]!,
        like = known.like[p]!,
        z = difference(a[i]! - b[i]!, a[i + 1]! - b[i + 1]!, a[i + 2]! - b[i + 2]!, b, i, grain, light);
      zs[p] = z;
      kept[p] = structure * Math.max(0, (like - 0.5) / 0.5);
      // Structure that is gone is covered; structure that is there is seen.
      const gone = structure * Math.max(0, 1 - Math.max(0, like) * 1.6);
      say(s, p, z, kept[p]!, SAME * gone * (z > 1.5 ? 1 : 0.4), BEGINS, CERTAIN, EMPTY);
      if (x + 1 < width) s.right[p] = link(a, b, i, i + 3, grain, PARTS);
      if (y + 1 < height) s.below[p] = link(a, b, i, i + 3 * width, grain, PARTS);
    }
  const mask = solveMask(s);
  closeHoles(width, height, mask, kept);
  const open = openCells(width, height, mask);
  return { width, height, mask, kept, open, contrast: contrastOf(width, height, mask, zs, open), gain, grain };
}
/** Closes what a body surrounds, unless the clean plate's structure is seen through it: in place. */
function closeHoles(width: number, height: number, mask: Float32Array, kept: Float32Array): void {
  const seen = new Uint8Array(width * height),
    stack: number[] = [];
  for (let first = 0; first < seen.length; first++) {
    if (seen[first] || mask[first]! > 0.5) continue;
    const hole: number[] = [];
    let [open, through] = [false, 0];
    stack.push(first);
    seen[first] = 1;
    while (stack.length) {
      const p = stack.pop()!,
        x = p % width;
      hole.push(p);
      through += kept[p]!;
      if (x === 0 || x === width - 1 || p < width || p >= seen.length - width) open = true;
      for (const q of [x > 0 ? p - 1 : -1, x + 1 < width ? p + 1 : -1, p - width, p + width])
        if (q >= 0 && q < seen.length && !seen[q] && mask[q]! <= 0.5) {
          seen[q] = 1;
          stack.push(q);
        }
    }
    if (!open && through < THROUGH * hole.length) for (const p of hole) mask[p] = 1;
  }
}
/** How far the body about each cell differs from what is behind it, in deviations of the grain; 0 where there is none. */
function contrastOf(width: number, height: number, mask: Float32Array, zs: Float32Array, open: Uint8Array): Float32Array {
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (!open[y * width + x]) continue;
      let sum = 0,
        n = 0;
      for (let j = Math.max(0, y - AROUND); j <= Math.min(height - 1, y + AROUND); j++)
        for (let i = Math.max(0, x - AROUND); i <= Math.min(width - 1, x + AROUND); i++)
          if (mask[j * width + i]! > 0.8) {
            sum += Math.min(MOST, zs[j * width + i]!);
            n++;
          }
      if (n) out[y * width + x] = sum / n;
    }
  return out;
}
/** What is known of a body by cells: where it is, where the clean plate's structure is still seen, how the light has changed, and the grain. */
export interface Rough {
  width: number;
  height: number;
  mask: Float32Array;
  kept: Float32Array;
  contrast: Float32Array;
  /** Cells near which it changes sides. */
  open: Uint8Array;
  gain: Triple;
  grain: Triple;
}
export type Triple = [number, number, number];
const emptySystem = (width: number, height: number): MaskSystem => ({
  ...{ width, height, says: new Float32Array(width * height), weight: new Float32Array(width * height) },
  ...{ right: new Float32Array(width * height), below: new Float32Array(width * height) },
});
/** How far a place differs, in deviations of the grain; where light is dropped, without the part that is the clean plate made darker or brighter. */
export function difference(dr: number, dg: number, db: number, b: Float32Array, i: number, grain: Triple, light: LightChanges): number {
  if (light === 'dropped') {
    const [r, g, bl] = [b[i]!, b[i + 1]!, b[i + 2]!],
      k = (dr * r + dg * g + db * bl) / (r * r + g * g + bl * bl + 1e-4);
    if (k > DARKEST - 1 && k < BRIGHTEST - 1) {
      dr -= k * r;
      dg -= k * g;
      db -= k * bl;
    }
  }
  return Math.sqrt((dr / grain[0]) * (dr / grain[0]) + (dg / grain[1]) * (dg / grain[1]) + (db / grain[2]) * (db / grain[2]));
}
/** What a place says for itself: how far it differs, whether the clean plate's structure is still there, and what else says that it is covered. */
export function say(
  s: MaskSystem,
  p: number,
  z: number,
  kept: number,
  covered: number,
  begins: number,
  certain: number,
  empty: number,
): void {
  const t = Math.min(1, Math.max(0, (z - begins) / (certain - begins))),
    differs = t * t * (3 - 2 * t),
    inside = Math.max(DIFFERS * differs * (1 - 0.8 * kept), covered),
    outside = Math.max(SAME * kept, empty) * (1 - differs) + EMPTY;
  s.weight[p] = inside + outside;
  s.says[p] = inside / (inside + outside);
}
/** How strongly two cells hold together: an edge of the frame parts them, as far as the clean plate does not have it. */
export function link(a: Float32Array, b: Float32Array, i: number, j: number, grain: Triple, parts: number): number {
  let squares = 0;
  for (let c = 0; c < 3; c++) {
    const own = a[i + c]! - a[j + c]!,
      known = b[i + c]! - b[j + c]!,
      off = own - known,
      // Less what the clean plate has there, as far as it has the same.
      d = ((off < 0 ? -off : off) < (own < 0 ? -own : own) ? off : own) / grain[c]!;
    squares += d * d;
  }
  const far = squares / (2 * parts * parts);
  return far > PARTED ? LINK : LINK + HOLDS * exp(-far);
}
/** Sums over squares of five cells, in place. */
function boxSums(of: Float32Array, width: number, height: number): void {
  const across = new Float32Array(of.length),
    sums = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let sum = 0;
    for (let x = -2; x < width; x++) {
      if (x + 2 < width) sum += of[row + x + 2]!;
      if (x - 3 >= 0) sum -= of[row + x - 3]!;
      if (x >= 0) across[row + x] = sum;
    }
  }
  // Row by row, so that memory is read in its order.
  for (let y = -2; y < height; y++) {
    const [coming, going] = [(y + 2) * width, (y - 3) * width];
    if (y + 2 < height) for (let x = 0; x < width; x++) sums[x]! += across[coming + x]!;
    if (y - 3 >= 0) for (let x = 0; x < width; x++) sums[x]! -= across[going + x]!;
    if (y >= 0) for (let x = 0; x < width; x++) of[y * width + x] = sums[x]!;
  }
}
/** How much structure the clean plate has about each cell, 0..1, and how much what is there now is like it, -1..1 (green, squares of five cells). */
function likenesses(
  a: Float32Array,
  b: Float32Array,
  width: number,
  height: number,
  grain: number,
): { structure: Float32Array; like: Float32Array } {
  const n = width * height,
    [sa, sb, aa, bb, ab] = [0, 1, 2, 3, 4].map(() => new Float32Array(n)) as [
      Float32Array,
      Float32Array,
      Float32Array,
      Float32Array,
      Float32Array,
    ];
  for (let p = 0, i = 1; p < n; p++, i += 3) {
    const [u, v] = [a[i]!, b[i]!];
    sa[p] = u;
    sb[p] = v;
    aa[p] = u * u;
    bb[p] = v * v;
    ab[p] = u * v;
  }
  for (const sums of [sa, sb, aa, bb, ab]) boxSums(sums, width, height);
  const near = (at: number, size: number) => Math.min(size - 1, at + 2) - Math.max(0, at - 2) + 1,
    structure = new Float32Array(n),
    like = new Float32Array(n),
    noise = grain * grain;
  for (let p = 0; p < n; p++) {
    const k = 1 / (near(p % width, width) * near(Math.floor(p / width), height)),
      va = Math.max(0, aa[p]! * k - sa[p]! * k * sa[p]! * k),
      vb = Math.max(0, bb[p]! * k - sb[p]! * k * sb[p]! * k),
      over = vb / noise;
    structure[p] = over / (over + 8);
    like[p] = vb > 0 ? (ab[p]! * k - sa[p]! * k * sb[p]! * k) / Math.sqrt(Math.max(va, 0.3 * vb) * vb + noise * noise) : 0;
  }
  return { structure, like };
}

/** Cells near which the mask changes sides: of the square about each, first along rows, then down, what is inside of it and what is outside. */
function openCells(width: number, height: number, mask: Float32Array): Uint8Array {
  const sides = new Uint8Array(width * height),
    open = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let found = 0;
      for (let i = Math.max(0, x - REACH); i <= Math.min(width - 1, x + REACH); i++) found |= mask[y * width + i]! > 0.5 ? 1 : 2;
      sides[y * width + x] = found;
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let found = 0;
      for (let j = Math.max(0, y - REACH); j <= Math.min(height - 1, y + REACH); j++) found |= sides[j * width + x]!;
      if (found === 3) open[y * width + x] = 1;
    }
  return open;
}
