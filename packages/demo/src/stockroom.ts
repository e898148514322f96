import type { Drawing } from './drawing';
import { bolt, strike } from './shelf/bolt';
import { fog } from './shelf/fog';
import { growth } from './shelf/growth';
import { compass, tideRing } from './shelf/rings';
import { smoke } from './shelf/smoke';
import { embers, spark } from './shelf/sparks';
import { drops, rain, splash } from './shelf/water';
import { withDebris } from './shelf/debris';
import { exactMath } from '@wraithos/core/image';

const { smoothstep } = exactMath;
type Shelf = NonNullable<Drawing['shelf']>;
/** An element of the stockroom: numbered pictures with alpha. */
const element = (id: string, shelf: Shelf, of: Pick<Drawing, 'width' | 'height' | 'frames' | 'draw'> & { loops?: boolean }): Drawing => ({
  name: `stockroom/${id}`,
  shelf,
  first: 1,
  ...of,
});

/** Ready-made moving elements, large enough to fill a picture of 1280 x 720 where they are shown at twice their size at the most. */
export const stockroom: Drawing[] = [
  element(
    'smoke-burst',
    { name: 'Smoke burst', about: 'Puffs that fly apart, rise and thin out.', light: false },
    {
      ...{ width: 640, height: 640, frames: 48 },
      draw: smoke({
        ...{ width: 640, height: 640, frames: 48, seed: 601, from: [0.5, 0.66], radius: 0.52, flat: 1, rise: 0.2, grounded: false },
        ...{ light: [0.82, 0.82, 0.82], shade: [0.1, 0.1, 0.1], thick: 1, thins: 0.3 },
      }),
    },
  ),
  element(
    'dust-puff',
    { name: 'Dust puff', about: 'Dust and chips thrown up from the ground.', light: false },
    {
      ...{ width: 800, height: 320, frames: 40 },
      draw: withDebris(
        { width: 800, height: 320, frames: 40, count: 90, seed: 671, tint: [0.2, 0.16, 0.12] },
        smoke({
          ...{ width: 800, height: 320, frames: 40, seed: 651, from: [0.5, 0.86], radius: 0.98, flat: 0.52, rise: 0.1, grounded: true },
          ...{ light: [0.72, 0.6, 0.44], shade: [0.13, 0.1, 0.07], thick: 0.75, thins: 0.2 },
        }),
      ),
    },
  ),
  element(
    'fog-bank',
    { name: 'Low fog', about: 'Fog that lies on the ground and drifts to the side.', light: false },
    {
      ...{ width: 960, height: 270, frames: 48, loops: true },
      draw: fog({
        ...{
          width: 960,
          height: 270,
          frames: 48,
          wide: 248,
          tall: 90,
          drift: 225,
          from: 0.22,
          full: 0.9,
          cover: 0.9,
          seed: 701,
          ends: true,
        },
        body: (y) => smoothstep(0.02, 0.62, y) * smoothstep(1, 0.86, y),
      }),
    },
  ),
  element(
    'drifting-fog',
    { name: 'Drifting fog', about: 'Veils of fog through the whole picture.', light: false },
    {
      ...{ width: 960, height: 540, frames: 36, loops: true },
      draw: fog({
        ...{
          width: 960,
          height: 540,
          frames: 36,
          wide: 420,
          tall: 158,
          drift: 315,
          from: 0.4,
          full: 0.98,
          cover: 0.75,
          seed: 751,
          ends: false,
        },
        body: () => 1,
      }),
    },
  ),
  element(
    'forked-bolt',
    { name: 'Forked bolt', about: 'A strike from above, drawn anew in every frame.', light: true },
    { width: 512, height: 1024, frames: 12, draw: bolt(512, 1024, 12) },
  ),
  element(
    'strike',
    { name: 'Strike', about: 'The flash of a blow: rays, a ring and flying sparks.', light: true },
    { width: 720, height: 720, frames: 20, draw: strike(720, 20) },
  ),
  element(
    'compass-ring',
    { name: 'Compass ring', about: 'Scale, rose and needle that turn; a ring to lie on the ground.', light: true },
    { width: 560, height: 560, frames: 36, loops: true, draw: compass(560, 36) },
  ),
  element(
    'tide-ring',
    { name: 'Tide ring', about: "Waves, the moon's phases and hands that turn; a ring to lie on the ground.", light: true },
    { width: 560, height: 560, frames: 36, loops: true, draw: tideRing(560, 36) },
  ),
  element(
    'ember-drift',
    { name: 'Ember drift', about: 'Embers that rise on crossing currents.', light: true },
    { width: 720, height: 720, frames: 48, loops: true, draw: embers(720, 720, 48) },
  ),
  element(
    'water-drops',
    { name: 'Water drops', about: 'Drops that fall and burst on a surface.', light: false },
    { width: 640, height: 640, frames: 32, loops: true, draw: drops(640, 640, 32) },
  ),
  element(
    'splash',
    { name: 'Splash', about: 'A crown of water that rises, breaks and falls back.', light: false },
    { width: 720, height: 540, frames: 32, draw: splash(720, 540) },
  ),
  element(
    'rain',
    { name: 'Rain', about: 'Rain through the whole picture, in three depths.', light: false },
    { width: 1280, height: 720, frames: 24, loops: true, draw: rain(1280, 720, 24) },
  ),
  element(
    'coral-branch',
    { name: 'Coral branch', about: 'Coral that grows and branches; it stays.', light: false },
    {
      ...{ width: 640, height: 640, frames: 32 },
      draw: growth({
        ...{
          size: 640,
          frames: 32,
          seed: 1101,
          from: [
            [0.5, 0.97, -92],
            [0.44, 0.985, -110],
            [0.57, 0.985, -70],
          ],
          piece: 0.034,
          thick: 0.03,
        },
        ...{ bend: 0.34, rise: 0.06, forks: 0.3, open: 0.6, thins: 0.962, split: 0.78, least: 0.0075 },
        ...{ stem: [0.72, 0.25, 0.2], tips: [1, 0.78, 0.66], rough: 0.26 },
      }),
    },
  ),
  element(
    'root-branch',
    { name: 'Root branch', about: 'Roots that creep down and out; they stay.', light: false },
    {
      ...{ width: 560, height: 560, frames: 24 },
      draw: growth({
        ...{
          size: 560,
          frames: 24,
          seed: 1151,
          from: [
            [0.5, 0.03, 92],
            [0.46, 0.02, 120],
            [0.55, 0.02, 64],
          ],
          piece: 0.036,
          thick: 0.026,
        },
        ...{ bend: 0.62, rise: -0.07, forks: 0.24, open: 0.75, thins: 0.965, split: 0.72, least: 0.0024 },
        ...{ stem: [0.3, 0.21, 0.14], tips: [0.52, 0.42, 0.3], rough: 0.34 },
      }),
    },
  ),
  element(
    'spark',
    { name: 'Spark', about: 'A splinter of light, seen from all sides.', light: true },
    { width: 192, height: 192, frames: 36, loops: true, draw: spark(192) },
  ),
];
