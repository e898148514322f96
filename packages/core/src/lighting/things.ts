import { blurSum, quarterPlane, quarterSize, twiceRows, twiceSize } from '../image/blur';
import type { Pictures } from '../image/arena';
import { extentOf } from '../image/extent';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { darken, litRows, onGround, onSubject, scaled, Touched, type Thrower } from './gains';
import { feetOf, groundLight } from './ground';
import { lampOf, thrownBy } from './thrown';

/** Whom it may fall on. */
export interface Things {
  /** Coverage of the subject; null where there is none, or where it is to be left out. */
  subject: Plane | null;
  /** Height of the subject, pixels of the picture. */
  tall: number;
  /** Pixels of the picture for each whole-shot pixel. */
  scale: number;
}

/** Weights and standard deviations of what is called near a light, whole-shot pixels, for its darker surround. */
const NEAR: readonly (readonly [weight: number, sigma: number])[] = [
  [1, 7],
  [0.8, 20],
];
/**
 * A picture in the light that is about to be laid on it: what falls on the subject by the guessed shape of its surface, on the ground, and in the air,
 * and a darker surround where the ground is bright. What is lit gives back its own colours, relative to its mean brightness, so that a plate at dusk is lit
 * as one at noon.
 * @param mine whether the picture may be written into.
 * @returns the picture itself where nothing of it changes.
 */
export function lightThings(picture: Picture, light: Picture, thrower: Thrower, things: Things, pictures: Pictures, mine = false): Picture {
  const { width, height } = picture,
    lamp = lampOf(light, width, pictures),
    small = quarterSize(picture, pictures),
    { width: w, height: h } = small,
    spread = (p: Picture, rows: readonly [from: number, to: number] | null = null): Picture => {
      const out = rows ? twiceRows(p, w, h, ...rows, pictures) : twiceSize(p, w, h, pictures);
      pictures.give(p);
      return out;
    },
    matte = things.subject && quarterPlane(things.subject, pictures),
    extent = matte && extentOf(matte, 0, 1, pictures),
    lit = matte && extent && thrower.onSubject > 0 ? { matte, extent } : null,
    thrown = lit || thrower.inAir > 0 ? thrownBy(lamp, Math.abs(thrower.away) / 8, pictures) : null,
    // In the air it is seen everywhere, on the body only there.
    facing = thrown && spread(thrown.facing, thrower.inAir > 0 ? null : litRows(lit!, h)),
    feet = matte && extent && thrower.onGround > 0 ? feetOf(matte, extent) : null,
    near = thrower.surround > 0 ? spread(nearnessOf(lamp, things.scale, pictures)) : null,
    ground = feet === null ? null : spread(groundLight(lamp, feet / 2, things.tall / 8, thrower.away / 8, pictures));
  const touched = new Touched(),
    falling = thrown && { ...thrown, facing: facing! },
    within = matte && onSubject(small, { matte, extent }, falling, thrower, touched, pictures),
    outside = onGround(small, matte, ground, thrower.onGround, touched, pictures),
    air = thrower.inAir > 0 ? scaled(facing!, thrower.inAir, pictures) : null;
  if (near) darken(outside, within, small, near, thrower.surround, touched, pictures);
  if (air) touched.hold(0, 0, w, h);
  let out = picture;
  if (touched.any) {
    out = mine && picture.address !== undefined ? picture : copied(picture, pictures);
    const { x0, y0, x1, y1 } = touched,
      top = Math.max(0, 4 * y0 - 2),
      bottom = Math.min(height, 4 * y1 + 2),
      left = Math.max(0, 4 * x0 - 2),
      right = Math.min(width, 4 * x1 + 2),
      given = [out, outside, ...(within ? [things.subject!, within] : []), ...(air ? [air] : [])];
    // Beside the box of the body its matte is not even read.
    const [bodyLeft, bodyTop, bodyRight, bodyBottom] = (extent ?? [0, 0, 0, 0]).map((side) => 4 * side) as [number, number, number, number];
    withAddresses(pictures, given, (at, outer, ...more) => {
      const [m, inner] = within ? [more[0]!, more[1]!] : [0, 0],
        added = air ? more[more.length - 1]! : 0;
      pictures.run(
        'lightThings',
        bottom - top,
        ...([at!, m, inner, outer!, added, w, h] as const),
        ...([bodyLeft, bodyTop, bodyRight, bodyBottom, left, right, top, width] as const),
      );
    });
  }
  for (const working of [lamp, small, matte, thrown?.potential, facing, near, ground, within, outside, air])
    if (working) pictures.give(working);
  return out;
}
function copied(picture: Picture, pictures: Pictures): Picture {
  const out = pictures.takePicture(picture.width, picture.height);
  if (picture.address === undefined) out.data.set(picture.data);
  else pictures.kernels.copy(picture.address, out.address!, out.data.byteLength);
  return out;
}
/** How near each place is to a light, for its darker surround. */
const nearnessOf = (lamp: Picture, scale: number, pictures: Pictures): Picture =>
  blurSum(
    lamp,
    NEAR.map(([k, sigma]) => ({ sigma: Math.max(0.3, (sigma * scale) / 8), weight: [k, k, k, k] as const })),
    pictures,
  );
