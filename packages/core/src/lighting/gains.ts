import { twiceRows } from '../image/blur';
import type { Pictures } from '../image/arena';
import type { Box } from '../image/extent';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { partOf, type Region } from '../image/resize';
import { surfaceOf } from './roundness';
import type { Thrown } from './thrown';

/** A subject at a quarter of the picture's size: its coverage, and the box of what is above 0; null where nothing is. */
export interface Body {
  matte: Plane;
  extent: Box | null;
}
/** What a light does to what is about it: shares, and how far before the subject it hangs (below 0: behind), pixels of the picture. */
export interface Thrower {
  /** By how much it darkens a bright ground under and about it. */
  surround: number;
  onSubject: number;
  onGround: number;
  inAir: number;
  away: number;
}
/** A body of mean brightness gives back this much of what falls on it; darker cloth less, lighter more, up to so many times. */
const GIVES_BACK = 0.3,
  MOST = 12,
  DARKEST = 0.004;
/** Light that grazes a surface still gets round its edge a little, as it does on cloth and skin; from behind it shines through hair and the nap of cloth too. */
const ROUND = 0.2,
  THROUGH = 0.55;
/** Ground darker than the first needs no darker surround; from the second on it takes all of it. Linear light. */
const DUSK = 0.04,
  DAY = 0.4;
/** Share of the darkening that the light's own colour is spared. */
const RICH = 0.5;

/** Brightness of a pixel, Rec.709. */
const brightness = (d: Float32Array<ArrayBufferLike>, i: number): number => 0.2126 * d[i]! + 0.7152 * d[i + 1]! + 0.0722 * d[i + 2]!;
/** A box that grows with what it is to hold, in quarter pixels. */
export class Touched {
  x0 = Infinity;
  y0 = Infinity;
  x1 = 0;
  y1 = 0;
  get any(): boolean {
    return this.x1 > this.x0 && this.y1 > this.y0;
  }
  hold(x0: number, y0: number, x1: number, y1: number): void {
    if (x0 < this.x0) this.x0 = x0;
    if (y0 < this.y0) this.y0 = y0;
    if (x1 > this.x1) this.x1 = x1;
    if (y1 > this.y1) this.y1 = y1;
  }
}
/** A box with one more on each side, within a picture. */
function roomier([x0, y0, x1, y1]: Box, { width, height }: Picture): Region {
  const x = Math.max(0, x0 - 1),
    y = Math.max(0, y0 - 1);
  return { x, y, width: Math.min(width, x1 + 1) - x, height: Math.min(height, y1 + 1) - y };
}
/** The rows of a light that a body is lit by: a slope is taken over one more on each side of its surface, which is one roomier than itself. */
export function litRows({ extent }: Body, height: number): readonly [from: number, to: number] {
  return extent ? [Math.max(0, extent[1] - 2), Math.min(height, extent[3] + 2)] : [0, 0];
}
/** A picture of ones: what nothing falls on. */
function ones(like: Picture, pictures: Pictures): Picture {
  const out = pictures.takePicture(like.width, like.height);
  out.data.fill(1);
  return out;
}
/** By how much what is lit is multiplied for each light that falls on it, where its mean brightness is so much; never so much that noise is lit. */
const givesBack = (sum: number, all: number): number => Math.min(MOST, GIVES_BACK / Math.max(DARKEST, all > 0 ? sum / all : GIVES_BACK));

/**
 * What each pixel of the subject is multiplied by; 1 where no light falls.
 * @param small the picture at a quarter of its size, as the result is.
 * @param thrown what the light throws: `facing` of that size (only its `litRows` are read), `potential` of half of it.
 * @param touched grows to hold what changes.
 */
export function onSubject(small: Picture, subject: Body, thrown: Thrown | null, v: Thrower, touched: Touched, pictures: Pictures): Picture {
  const out = ones(small, pictures),
    { matte, extent } = subject;
  if (!thrown || !extent) return out;
  const region = roomier(extent, small),
    { x, y, width, height } = region,
    phi = twiceRows(thrown.potential, small.width, small.height, ...litRows(subject, small.height), pictures),
    body = partOf(matte, region, pictures),
    folds = partOf(small, region, pictures),
    surface = surfaceOf(body, folds, pictures),
    side = v.away < 0 ? -1 : 1,
    round = v.away < 0 ? THROUGH : ROUND;
  let sum = 0,
    all = 0;
  for (let p = 0, i = 0; p < body.data.length; p++, i += 4) {
    sum += body.data[p]! * Math.max(0, brightness(folds.data, i));
    all += body.data[p]!;
  }
  const k = v.onSubject * givesBack(sum, all);
  touched.hold(x, y, x + width, y + height);
  withAddresses(pictures, [surface, phi, thrown.facing, out], (looks, potential, facing, to) =>
    pictures.run('litSurface', height, looks!, potential!, facing!, k, round, side, to!, x, y, width, small.width, small.height),
  );
  for (const working of [phi, body, folds, surface]) pictures.give(working);
  return out;
}

/** What each pixel beside the subject is multiplied by. */
export function onGround(
  small: Picture,
  matte: Plane | null,
  ground: Picture | null,
  strength: number,
  touched: Touched,
  pictures: Pictures,
): Picture {
  if (!ground) return ones(small, pictures);
  const { width, height } = small,
    out = pictures.takePicture(width, height),
    rows = pictures.takePlane(2 * height, 1);
  withAddresses(pictures, [small, matte!, ground, rows], (from, m, light, sums) =>
    pictures.run('fallsOn', height, from!, m!, light!, sums!, width),
  );
  let sum = 0,
    all = 0,
    first = height;
  for (let y = height - 1; y >= 0; y--) {
    sum += rows.data[2 * y]!;
    all += rows.data[2 * y + 1]!;
    // The sky is not lit, and lies above.
    if (rows.data[2 * y + 1]! > 0) first = y;
  }
  touched.hold(0, first, width, height);
  const k = strength * givesBack(sum, all);
  withAddresses(pictures, [ground, out], (light, to) => pictures.run('gainsOf', height, light!, k, to!, width));
  pictures.give(rows);
  return out;
}

/** Light that is added: a share of a picture, without alpha. */
export function scaled(picture: Picture, share: number, pictures: Pictures): Picture {
  const out = pictures.takePicture(picture.width, picture.height),
    [o, d] = [out.data, picture.data];
  for (let i = 0; i < o.length; i += 4) {
    for (let c = 0; c < 3; c++) o[i + c] = share * d[i + c]!;
    o[i + 3] = 0;
  }
  return out;
}

/** Darkens gains where light is near and the ground bright. Its own colour is darkened least, so that the surround is rich and not grey. */
export function darken(
  gains: Picture,
  others: Picture | null,
  ground: Picture,
  near: Picture,
  share: number,
  touched: Touched,
  pictures: Pictures,
): void {
  const { width, height } = near,
    params = pictures.takePlane(4, 1),
    spans = pictures.takePlane(2 * height, 1);
  params.data.set([share, DUSK, 1 / (DAY - DUSK), RICH]);
  withAddresses(pictures, [gains, ground, near, params, spans, ...(others ? [others] : [])], (to, behind, light, given, found, more = 0) =>
    pictures.run('darkenNear', height, to!, more, behind!, light!, given!, found!, width),
  );
  const found = new Int32Array(spans.data.buffer, spans.data.byteOffset, 2 * height);
  for (let y = 0; y < height; y++) if (found[2 * y + 1]) touched.hold(found[2 * y]!, y, found[2 * y + 1]!, y + 1);
  for (const working of [params, spans]) pictures.give(working);
}
