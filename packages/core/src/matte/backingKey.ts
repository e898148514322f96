import type { Pictures } from '../image/arena';
import { blur, halfSize } from '../image/blur';
import type { Picture, Plane } from '../image/picture';
import { decodeValue } from '../image/transfer';
import { chromaMatte } from './keys';
import { growMatte } from './grow';
import { paletteOf } from './palette';
import { backingBehind, shadeBacking } from './spill';

/** How a backing is keyed; shares 0..1, lengths in pixels. */
export interface BackingKey {
  /** Where coverage begins and where it is full. */
  outside: number;
  core: number;
  /** Half the width of the band along the edge in which each pixel is mixed from the subject's and the backing's own colours; 0 is none. */
  edge: number;
  /** The backing is followed where its light is uneven, or of one colour everywhere. */
  even: boolean;
}
/** The colour distance of the first, rough key, per cent of the backing's strength: what is backing for certain. */
const ROUGH = { tolerance: 30, softness: 45 };
/** A backing of less excess of its own channel is no backing. */
const LEAST = 1e-3;
/** The shades that a subject is taken to have, and the pixels that they are learned from. */
const SHADES = 14,
  LEARNED = 2500;
/** Grain of a pixel, 0..1 of the display range, and how much a thinner cover costs against a colour that fits less. */
const GRAIN = 0.012,
  THIN = 0.5;
/** How far a shade's colours may stray to explain a mixture, and how badly a pixel must fit all mixtures to be a shade of its own. */
const STRAYS = 0.06,
  UNKNOWN = 5;
/** How far from a shade, 0..1 of the display range, a pixel may be and still be solid. */
const SLACK = 0.035;
/** Coverage on the backing up to which grain is measured, and the deviations of it that are taken for backing, after a mean of this sigma (pixels). */
const MOST_GRAIN = 0.25,
  STEPS = 500,
  DEVIATIONS = 3.5,
  AROUND = 1.2;
/** Coverage from which a pixel counts as solid. */
const SOLID = 0.95;

/**
 * Keys a backing, in two looks. First by its excess: how much its strongest channel is above the others, against how much that of the backing itself is there
 * (the colour difference of travelling mattes). That is right for grey, and too full for a subject whose colours lean away from the backing. So along the edge
 * each pixel is told apart once more: of the shades that the subject shows where it is solid, the one is taken on whose mixture with the backing the pixel lies,
 * and the share of the way is its coverage. Light is linear, in which edges and blurred motion are mixed. The caller gives it back.
 * @param backing display-encoded, 0..1.
 */
export function keyBacking(plate: Picture, backing: readonly [number, number, number], key: BackingKey, pictures: Pictures): Plane {
  const even = backing.map((v) => decodeValue(v)) as [number, number, number],
    behind = key.even ? onePixel(even, pictures) : backingAround(plate, backing, even, pictures),
    out = byExcess(plate, behind, even.indexOf(Math.max(...even)) as 0 | 1 | 2, pictures),
    // Whether a pixel is backing is told from those around it as well, in which grain is less.
    around = blur(out, AROUND, pictures),
    outside = Math.max(key.outside, DEVIATIONS * grainOf(around.data)),
    solid = pictures.takePlane(out.width, out.height),
    [o, s, r] = [out.data, solid.data, around.data],
    core = key.edge > 0.5 ? SOLID : key.core;
  for (let k = 0; k < s.length; k++) s[k] = o[k]! >= key.core ? 1 : 0;
  growMatte(solid, -key.edge, pictures);
  if (key.edge > 0.5) unmix(plate, behind, even, solid, around, outside, key.core, out);
  for (let k = 0; k < o.length; k++) {
    const v = o[k]!;
    if (s[k]! > 0.5 || v >= core) o[k] = 1;
    else {
      const begins = (r[k]! - outside) / outside;
      o[k] = v <= 0 || begins <= 0 ? 0 : Math.min(1, begins) * nearSolid(v, core);
    }
  }
  for (const one of [solid, around, behind]) pictures.give(one);
  return out;
}
/** Coverage by how much of the backing's excess is left: below 0 is grain of the backing, as is what lies as much above it. The caller gives it back. */
function byExcess({ width, height, data: p }: Picture, behind: Picture, strongest: 0 | 1 | 2, pictures: Pictures): Plane {
  const [a, b] = [0, 1, 2].filter((c) => c !== strongest) as [number, number],
    back = behind.data,
    whole = new Float32Array(back.length / 4),
    out = pictures.takePlane(width, height),
    o = out.data,
    /** A backing of one colour is one pixel. */
    coarse = whole.length > 1 ? 2 : 31;
  for (let q = 0; q < whole.length; q++) whole[q] = back[4 * q + strongest]! - Math.max(back[4 * q + a]!, back[4 * q + b]!);
  for (let y = 0, k = 0; y < height; y++) {
    const row = (y >> coarse) * behind.width;
    for (let x = 0; x < width; x++, k++) {
      const i = 4 * k,
        most = whole[row + (x >> coarse)]!,
        r = p[i + a]!,
        l = p[i + b]!,
        v = most > LEAST ? 1 - (p[i + strongest]! - (r > l ? r : l)) / most : 1;
      o[k] = v > 1 ? 1 : v < -0.5 ? -0.5 : v;
    }
  }
  return out;
}
/** One colour everywhere, as a picture of one pixel. */
function onePixel(colour: readonly [number, number, number], pictures: Pictures): Picture {
  const out = pictures.takePicture(1, 1);
  out.data.set([...colour, 1]);
  return out;
}
/** The backing around each place, at a quarter of the size: it changes slowly. The caller gives it back. */
function backingAround(
  plate: Picture,
  backing: readonly [number, number, number],
  even: readonly [number, number, number],
  pictures: Pictures,
): Picture {
  const half = halfSize(plate, pictures),
    small = halfSize(half, pictures),
    rough = chromaMatte(small, backing, ROUGH, pictures),
    behind = backingBehind(small, rough, even, pictures);
  shadeBacking(behind, small, pictures);
  for (const one of [half, small, rough]) pictures.give(one);
  return behind;
}
/** The deviation of coverage that grain gives on the backing: from the middle one of the absolute values near 0. */
function grainOf(covered: Float32Array): number {
  const counts = new Uint32Array(STEPS);
  let n = 0;
  for (let k = 0; k < covered.length; k += 3) {
    const v = covered[k]!,
      at = Math.floor((Math.abs(v) / MOST_GRAIN) * STEPS);
    if (at < STEPS) {
      counts[at]!++;
      n++;
    }
  }
  let [below, at] = [0, 0];
  while (at < STEPS - 1 && below + counts[at]! < n / 2) below += counts[at++]!;
  // The middle one of absolute values is 0.6745 deviations.
  return n ? ((at + 0.5) / STEPS) * (MOST_GRAIN / 0.6745) : 0;
}
/** Coverage that reaches 1 at `core`, by a short steeper end; below that nothing is bent. */
function nearSolid(v: number, core: number): number {
  const knee = 1 - 2 * (1 - core);
  return v > knee ? Math.min(1, knee + 2 * (v - knee)) : v;
}

/** Display colours of some solid pixels, spread over all of them: red, green and blue of one after another. */
function solidColours({ data: p }: Picture, { data: solid }: Plane): Float32Array {
  let inside = 0;
  for (let k = 0; k < solid.length; k++) if (solid[k]! > 0.5) inside++;
  const every = Math.max(1, Math.floor(inside / LEARNED)),
    learned = new Float32Array(3 * Math.ceil(inside / every));
  for (let k = 0, seen = 0, j = 0; k < solid.length; k++) {
    if (!(solid[k]! > 0.5) || seen++ % every) continue;
    for (let c = 0; c < 3; c++) learned[j++] = Math.sqrt(Math.max(0, p[4 * k + c]!));
  }
  return learned;
}
/** Coverage of what is neither solid nor backing, in place: the share of the way from the backing to the shade on whose way the pixel lies. */
function unmix(
  plate: Picture,
  behind: Picture,
  even: readonly number[],
  solid: Plane,
  around: Plane,
  outside: number,
  core: number,
  out: Plane,
): void {
  const p = plate.data,
    o = out.data,
    n = o.length,
    strongest = even.indexOf(Math.max(...even)),
    { width } = plate,
    from = behind.data,
    coarse = from.length > 4 ? 2 : 31;
  const excess = (v: ArrayLike<number>) => v[strongest]! - Math.max(...[0, 1, 2].filter((c) => c !== strongest).map((c) => v[c]!)),
    usual = excess(even),
    shades = paletteOf(solidColours(plate, solid), SHADES).map(({ colour, spread }) => {
      const light = colour.map((v) => v * v);
      return { colour, light, spread, solidity: Math.min(1, Math.max(0.5, 1 - excess(light) / usual)) };
    }),
    m = shades.length;
  if (!m) return;
  // Side by side, for the loop over all pixels and shades.
  const light = Float64Array.from(shades.flatMap((s) => s.light)),
    colour = Float64Array.from(shades.flatMap((s) => [...s.colour])),
    near = Float64Array.from(shades, ({ spread }) => (SLACK + spread) * (SLACK + spread)),
    strays = Float64Array.from(shades, ({ spread }) => Math.min(spread, STRAYS) * Math.min(spread, STRAYS)),
    solidity = Float64Array.from(shades, (s) => s.solidity);
  for (let k = 0; k < n; k++) {
    if (solid.data[k]! > 0.5 || around.data[k]! <= outside) continue;
    const i = 4 * k,
      x = k % width,
      at = 4 * ((((k - x) / width) >> coarse) * behind.width + (x >> coarse)),
      own = o[k]!,
      p0 = Math.max(0, p[i]!),
      p1 = Math.max(0, p[i + 1]!),
      p2 = Math.max(0, p[i + 2]!),
      b0 = from[at]!,
      b1 = from[at + 1]!,
      b2 = from[at + 2]!,
      // A deviation of the light is seen as one of the display by its slope there.
      w0 = 0.25 / Math.max(0.002, p0),
      w1 = 0.25 / Math.max(0.002, p1),
      w2 = 0.25 / Math.max(0.002, p2),
      r0 = Math.sqrt(p0),
      r1 = Math.sqrt(p1),
      r2 = Math.sqrt(p2);
    // What keeps no excess at all may be solid in a shade of its own.
    let least = own >= SOLID && around.data[k]! >= SOLID ? UNKNOWN : Infinity,
      cover = own,
      most = own;
    for (let j = 0; j < m; j++) {
      const c0 = r0 - colour[3 * j]!,
        c1 = r1 - colour[3 * j + 1]!,
        c2 = r2 - colour[3 * j + 2]!;
      // What has the colour of a shade, or nearly, is solid: light of the backing that lies on it makes it no thinner.
      if (own >= core && c0 * c0 + c1 * c1 + c2 * c2 < near[j]!) {
        cover = most = 1;
        break;
      }
      const v0 = light[3 * j]! - b0,
        v1 = light[3 * j + 1]! - b1,
        v2 = light[3 * j + 2]! - b2,
        along = w0 * (p0 - b0) * v0 + w1 * (p1 - b1) * v1 + w2 * (p2 - b2) * v2,
        length = w0 * v0 * v0 + w1 * v1 * v1 + w2 * v2 * v2,
        share = Math.min(1, Math.max(0, along / Math.max(1e-9, length))),
        d0 = p0 - b0 - share * v0,
        d1 = p1 - b1 - share * v1,
        d2 = p2 - b2 - share * v2,
        off = w0 * d0 * d0 + w1 * d1 * d1 + w2 * d2 * d2,
        cost = off / (GRAIN * GRAIN + share * share * strays[j]!) + THIN * (1 - share) * (1 - share);
      if (cost < least) {
        least = cost;
        cover = share;
        most = own / solidity[j]!;
      }
    }
    // It is never more than its excess allows, against that of the shade itself, on which light of the backing may lie.
    o[k] = Math.min(1, most, cover);
  }
}
