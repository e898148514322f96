import { blurSum, halfSize, quarterSize, twiceSize } from '../image/blur';
import type { Pictures } from '../image/arena';
import { smoothstep } from '../image/exactMath';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { feetOf, groundLight } from './ground';
import { surfaceOf } from './roundness';
import { lampOf, thrownBy } from './thrown';

/** What a light does to what is about it: shares, and how far before the subject it hangs (below 0: behind), pixels of the picture. */
export interface Thrower {
  /** By how much it darkens a bright ground under and about it. */
  surround: number;
  onSubject: number;
  onGround: number;
  inAir: number;
  away: number;
}
/** Whom it may fall on. */
export interface Things {
  /** Coverage of the subject; null where there is none, or where it is to be left out. */
  subject: Plane | null;
  /** Height of the subject, pixels of the picture. */
  tall: number;
  /** Pixels of the picture for each whole-shot pixel. */
  scale: number;
}

/** A body of mean brightness gives back this much of what falls on it; darker cloth less, lighter more, up to so many times. */
const GIVES_BACK = 0.3,
  MOST = 12,
  DARKEST = 0.004;
/** Light that grazes a surface still gets round its edge a little, as it does on cloth and skin; from behind it shines through hair and the nap of cloth too. */
const ROUND = 0.2,
  THROUGH = 0.55;
/** Weights and standard deviations of what is called near a light, whole-shot pixels, for its darker surround. */
const NEAR: readonly (readonly [weight: number, sigma: number])[] = [
  [1, 7],
  [0.8, 20],
];
/** Ground darker than the first needs no darker surround; from the second on it takes all of it. Linear light. */
const DUSK = 0.04,
  DAY = 0.4;
/** Share of the darkening that the light's own colour is spared. */
const RICH = 0.5;

/**
 * A picture in the light that is about to be laid on it: what falls on the subject by the guessed shape of its surface, on the ground, and in the air,
 * and a darker surround where the ground is bright. What is lit gives back its own colours, relative to its mean brightness, so that a plate at dusk is lit
 * as one at noon.
 * @param into the picture itself where it may be written into.
 */
export function lightThings(
  picture: Picture,
  light: Picture,
  thrower: Thrower,
  things: Things,
  pictures: Pictures,
  into?: Picture,
): Picture {
  const { width, height } = picture,
    lamp = lampOf(light, width, pictures),
    small = quarterSize(picture, pictures),
    { width: w, height: h } = small,
    spread = (p: Picture): Picture => {
      const out = twiceSize(p, w, h, pictures);
      pictures.give(p);
      return out;
    },
    thrown = thrownBy(lamp, Math.abs(thrower.away) / 8, pictures),
    facing = spread(thrown.facing),
    half = things.subject && halfSize(things.subject, pictures),
    matte = half && halfSize(half, pictures),
    feet = matte && thrower.onGround > 0 ? feetOf(matte) : null,
    near =
      thrower.surround > 0
        ? spread(
            blurSum(
              lamp,
              NEAR.map(([k, sigma]) => ({ sigma: Math.max(0.3, (sigma * things.scale) / 8), weight: [k, k, k, k] as const })),
              pictures,
            ),
          )
        : null,
    ground = feet === null ? null : spread(groundLight(lamp, feet / 2, things.tall / 8, thrower.away / 8, pictures));
  const within = matte && onSubject(small, matte, thrown.potential, facing, thrower, pictures),
    outside = onGround(small, matte, ground, thrower.onGround, pictures),
    air = thrower.inAir > 0 ? scaled(facing, thrower.inAir, pictures) : null;
  if (near) for (const gain of [within, outside]) if (gain) darken(gain, small, near, thrower.surround);
  const out = into ?? pictures.takePicture(width, height),
    none = { address: 0 };
  const given = [picture, outside, ...(within ? [things.subject!, within] : []), ...(air ? [air] : [])];
  withAddresses(pictures, given, (from, outer, ...more) => {
    const [m, inner] = within ? [more[0]!, more[1]!] : [none.address, none.address],
      added = air ? more[more.length - 1]! : none.address;
    pictures.run('lightThings', height, from!, m, inner, outer!, added, w, h, out.address!, width);
  });
  for (const working of [lamp, small, thrown.potential, facing, half, matte, near, ground, within, outside, air])
    if (working) pictures.give(working);
  return out;
}

/** Brightness of a pixel, Rec.709. */
const brightness = (d: Float32Array<ArrayBufferLike>, i: number): number => 0.2126 * d[i]! + 0.7152 * d[i + 1]! + 0.0722 * d[i + 2]!;

/** Mean brightness of a picture where a weight says, never so dark that light on it becomes noise. */
function meanOf(picture: Picture, weight: (p: number) => number): number {
  let sum = 0,
    all = 0;
  for (let p = 0, i = 0; i < picture.data.length; p++, i += 4) {
    const k = weight(p);
    if (k <= 0) continue;
    sum += k * Math.max(0, brightness(picture.data, i));
    all += k;
  }
  return Math.max(DARKEST, all > 0 ? sum / all : GIVES_BACK);
}

/** What each pixel of the subject is multiplied by. */
function onSubject(small: Picture, matte: Plane, potential: Picture, facing: Picture, v: Thrower, pictures: Pictures): Picture {
  const out = pictures.takePicture(small.width, small.height),
    o = out.data;
  for (let i = 0; i < o.length; i++) o[i] = 1;
  if (v.onSubject <= 0) return out;
  const phi = twiceSize(potential, small.width, small.height, pictures),
    surface = surfaceOf(matte, small, pictures),
    mean = meanOf(small, (p) => matte.data[p]!),
    k = v.onSubject * Math.min(MOST, GIVES_BACK / mean),
    side = v.away < 0 ? -1 : 1,
    round = v.away < 0 ? THROUGH : ROUND,
    { width, height } = small,
    [n, f, e] = [surface.data, phi.data, facing.data];
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const i = p * 4;
      // A pixel further than the matte too, since gains are smooth between pixels.
      if (!(n[i + 3]! > 0)) continue;
      const left = x > 0 ? i - 4 : i,
        right = x < width - 1 ? i + 4 : i,
        above = y > 0 ? i - 4 * width : i,
        below = y < height - 1 ? i + 4 * width : i;
      for (let c = 0; c < 3; c++) {
        // Over two quarter pixels, which are one cell of an lamp.
        const gx = f[right + c]! - f[left + c]!,
          gy = f[below + c]! - f[above + c]!,
          gz = side * e[i + c]!,
          straight = n[i]! * gx + n[i + 1]! * gy + n[i + 2]! * gz,
          lit = (straight + round * Math.sqrt(gx * gx + gy * gy + gz * gz)) / (1 + round);
        if (lit > 0) o[i + c] = 1 + k * lit;
      }
    }
  for (const working of [phi, surface]) pictures.give(working);
  return out;
}

/** What each pixel beside the subject is multiplied by. */
function onGround(small: Picture, matte: Plane | null, ground: Picture | null, strength: number, pictures: Pictures): Picture {
  const out = pictures.takePicture(small.width, small.height),
    o = out.data;
  for (let i = 0; i < o.length; i++) o[i] = 1;
  if (!ground) return out;
  const g = ground.data,
    mean = meanOf(small, (p) => (1 - matte!.data[p]!) * brightness(g, 4 * p)),
    k = strength * Math.min(MOST, GIVES_BACK / mean);
  for (let i = 0; i < o.length; i += 4) for (let c = 0; c < 3; c++) o[i + c]! += k * g[i + c]!;
  return out;
}

/** Light that is added: a share of a picture, without alpha. */
function scaled(picture: Picture, share: number, pictures: Pictures): Picture {
  const out = pictures.takePicture(picture.width, picture.height),
    [o, d] = [out.data, picture.data];
  for (let i = 0; i < o.length; i += 4) {
    for (let c = 0; c < 3; c++) o[i + c] = share * d[i + c]!;
    o[i + 3] = 0;
  }
  return out;
}

/** Darkens a gain where light is near and the ground bright. Its own colour is darkened least, so that the surround is rich and not grey. */
function darken(gain: Picture, ground: Picture, near: Picture, share: number): void {
  const [g, b, l] = [gain.data, ground.data, near.data];
  for (let i = 0; i < g.length; i += 4) {
    const most = Math.max(l[i]!, l[i + 1]!, l[i + 2]!);
    if (most < 1 / 512) continue;
    const dark = share * (most / (most + 1)) * smoothstep(DUSK, DAY, brightness(b, i));
    if (dark <= 0) continue;
    for (let c = 0; c < 3; c++) g[i + c]! *= 1 - dark * (1 - (RICH * l[i + c]!) / most);
  }
}
