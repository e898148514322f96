import { halfSize, meanHalf, quarterPlane, quarterSize } from '../image/blur';
import { cos, radians, sin } from '../image/exactMath';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { partOf, type Region } from '../image/resize';
import type { Values } from '../params/describe';
import { about } from './body';
import { alongEdges, clothEdges } from './clothEdges';
import type { Canvas } from './describe';
import type { dissolveParams } from './dissolveParams';

type V = Values<typeof dissolveParams>;

/**
 * Moves the order by the folds and edges of the picture on the body, as births do.
 * @param within where the order is wanted, and @param standing where the matte has anything.
 */
export function eatAlongFolds(
  order: Plane,
  within: Region,
  standing: Region,
  matte: Plane,
  plate: Picture,
  amount: number,
  { pictures, width, height, scale }: Canvas,
): void {
  if (!standing.width) return;
  // Only about the body, whose surroundings have no say; what is smaller begins on whole cells.
  const part = about([standing.x, standing.y, standing.x + standing.width, standing.y + standing.height], 32 * scale, 32, width, height),
    [own, ownMatte] = [partOf(plate, part, pictures), partOf(matte, part, pictures)],
    // Down to the size that births are worked out at.
    [small, body] =
      scale >= 1
        ? [quarterSize(own, pictures), quarterPlane(ownMatte, pictures)]
        : scale > 0.25
          ? [meanHalf(own, pictures), halfSize(ownMatte, pictures)]
          : [own, ownMatte],
    edges = clothEdges(small, body, pictures);
  alongEdges(order, within, edges, part, amount, scale, pictures);
  if (small !== own) for (const working of [small, body]) pictures.give(working);
  for (const working of [own, ownMatte, edges]) pictures.give(working);
}

/** Places around a pixel that a body looks like the mean of: all around it, or along the wind. */
const PLACES = 24;
/** How far they reach, in widths of the front. */
const BLURRED = 0.35,
  SMEARED = 1.4;
function placesOf(v: Pick<V, 'gives' | 'givesWidth' | 'windDirection'>): [number, number][] {
  if (v.gives === 'thins') return [];
  const way = radians(v.windDirection);
  return Array.from({ length: PLACES }, (_, k) => {
    const far = (k + 0.5) / PLACES;
    // What lies against the wind is smeared along it.
    if (v.gives === 'smears') return [-far * SMEARED * v.givesWidth * cos(way), -far * SMEARED * v.givesWidth * sin(way)];
    const radius = BLURRED * v.givesWidth * Math.sqrt(far),
      turn = k * 2.399963229728653;
    return [radius * cos(turn), radius * sin(turn)];
  }).map(([x, y]) => [Math.round(x!), Math.round(y!)]);
}
/** The body just ahead of its front thins, blurs or smears: in `removal` and on `skin`, in place. */
export function giveWay(
  v: Pick<V, 'gives' | 'givesWidth' | 'windDirection'>,
  at: { order: Plane; matte: Plane; plate: Picture; removal: Plane; skin: Picture; reached: number; zone: number; edge: number },
  { pictures, width, height }: Canvas,
): void {
  const places = placesOf(v),
    offsets = pictures.takePlane(Math.max(4, 2 * places.length), 1),
    params = pictures.takePlane(8, 1);
  offsets.data.set(places.flat());
  params.data.set([
    at.reached,
    1 / at.zone,
    v.gives === 'thins' ? 0.85 : 1,
    at.edge,
    v.gives === 'smears' ? SMEARED : v.gives === 'blurs' ? BLURRED : 0,
  ]);
  withAddresses(pictures, [at.order, at.matte, at.plate, offsets, params, at.removal, at.skin], (o, m, p, places4, given, gone, to) =>
    pictures.run('softenFront', height, o!, m!, p!, places4!, places.length, given!, gone!, to!, width, height),
  );
  for (const working of [offsets, params]) pictures.give(working);
}
