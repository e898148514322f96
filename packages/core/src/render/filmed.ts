import type { Layers } from '../effects';
import { grainDeviation, withGrain } from '../effects/grainOn';
import { softnessOf } from '../effects/sharpness';
import type { Arena } from '../image/arena';
import { soften } from '../image/blur';
import type { Picture } from '../image/picture';
import { hash } from '../image/random';
import { valuesAt, type Values } from '../params';
import { matchParams } from '../placing';
import { clipWithRole } from '../shot/clips';
import type { DrawnRow } from '../shot/drawn';
import type { Shot } from '../shot/schema';
import { combine } from './combine';
import type { Step } from './evaluate';
import { keyOf } from './key';
import { sizeOf } from './factor';
import { plateStep } from './plateSteps';
import type { Scene } from './scene';

/** A blur of less than this cannot be seen, pixels. */
const LEAST = 0.35;

const matchOf = (shot: Shot) => valuesAt(matchParams, shot.base.match, {}, 0, 1) as unknown as Values<typeof matchParams>;

/** How grainy and how soft what was filmed is: deviation of its grain, and the standard deviation (pixels of the draft) of the blur that a drawn edge needs. */
interface Filmed {
  grain: number;
  softness: number;
}
/** Measured once, on the performance (or else the first take) at the shot's first frame, so that neither changes from frame to frame. Null where nothing was filmed. */
function filmedStep({ shot, factor, sources }: Scene): Step<Filmed> | null {
  const clip = clipWithRole(shot, 'performance') ?? shot.clips[shot.base.takes[0]?.clip ?? ''];
  if (!clip) return null;
  const plate = plateStep(shot, clip, shot.first, factor, sources);
  return {
    key: keyOf('filmed', plate.key),
    inputs: [plate],
    keep: 'for frames',
    run([picture]: Picture[]) {
      const grain = grainDeviation(picture!);
      return { grain, softness: softnessOf(picture!, grain) };
    },
  };
}

/** Pictures of a row whose edges are softened; what is of half the size is soft as it comes. */
const SOFTENED = ['layer', 'light', 'front', 'behind'] as const;
/** What a row gives, with drawn edges as soft as those of the plate where the shot wants that. */
export function softened(scene: Scene, row: DrawnRow, layers: Step<Layers>): Step<Layers> {
  if (!row.effect!.sharp || matchOf(scene.shot).edges !== 'as soft as the plate') return layers;
  const { width } = sizeOf(scene.shot, scene.factor),
    filmed = filmedStep(scene);
  if (!filmed) return layers;
  return combine(
    'softened',
    [layers, filmed],
    ([given, { softness }]: [Layers, Filmed], arena: Arena) => {
      if (softness < LEAST) return given;
      const out: Layers = { ...given };
      for (const name of SOFTENED) if (given[name]?.width === width) out[name] = soften(given[name]!, softness, arena);
      return out;
    },
    row.row,
  ) as Step<Layers>;
}

/** A picture in which what effects drew has the grain of the plate where the shot wants that. */
export function grained(scene: Scene, picture: Step<Picture>, plate: Step<Picture>): Step<Picture> {
  const amount = matchOf(scene.shot).grain,
    filmed = amount > 0 && picture.key !== plate.key ? filmedStep(scene) : null;
  if (!filmed) return picture;
  return combine(
    `grained ${amount} ${scene.frame}`,
    [picture, plate, filmed],
    ([below, bare, { grain }]: [Picture, Picture, Filmed], arena: Arena, owned) =>
      withGrain(
        below,
        bare,
        { amount, deviation: grain },
        'what effects drew',
        hash(scene.frame, 72),
        arena,
        owned(0) ? below : undefined,
      ) ?? below,
  ) as Step<Picture>;
}
