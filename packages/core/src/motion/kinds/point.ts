import { param, type StoredOf } from '../../params/describe';
import { AffineFrame } from '../frame';
import { patternPolicies, PointTracker, type TrackSample } from '../pointTracker';
import { layerParams, placeAt } from '../layers';
import { measureParams } from '../measured';
import type { Plane } from '../../image/picture';
import { trackKind, type Begin, type Follower } from './describe';

/** What can be set of anything that follows a pattern of the picture. */
export const patternParams = {
  pattern: param.number({
    default: 31,
    title: 'Pattern',
    unit: 'px',
    range: [7, 301],
    step: 2,
    curve: false,
    help: 'Side of the box that is looked for, px; an odd number.',
  }),
  search: param.number({
    default: 81,
    title: 'Search',
    unit: 'px',
    range: [11, 801],
    step: 2,
    curve: false,
    help: 'Side of the box that it is looked for in, px. Fast motion is looked for further out.',
  }),
  policy: param.choice({
    default: 'drift-corrected',
    of: patternPolicies,
    title: 'Pattern changes',
    help: 'Fixed keeps the first pattern; rolling takes each new one; drift-corrected takes new ones and aligns them to the first.',
  }),
  ...measureParams,
  ...layerParams,
};

/** Pixels by which the search box must be larger than the pattern at the least: room to move. */
const ROOM = 12;
/** An odd pattern, and a search box with room around it. */
export function fitBoxes<V extends StoredOf<typeof patternParams>>(v: V): V {
  const pattern = Math.min(301, Math.max(7, Math.round((v.pattern - 1) / 2) * 2 + 1));
  return { ...v, pattern, search: Math.min(801, Math.max(pattern + ROOM, Math.round(v.search))) };
}

/** What is measured of anything that follows a pattern. */
export const followPattern = {
  boxes: ['pattern', 'search'],
  follow: (v: StoredOf<typeof patternParams>, luma: Plane, clipFrame: number, { x, y }: Begin): Follower =>
    new PointTracker(luma, clipFrame, [x, y], v),
} as const;

/**
 * The frame that a point carries. A point says nothing reliable of turn and size, so these stay as they are.
 */
export function pointFrame(samples: readonly TrackSample[], clipFrame: number): AffineFrame | null {
  const place = placeAt(samples, clipFrame);
  return (
    place &&
    new AffineFrame(place.x, place.y, undefined, {
      certain: place.state !== 'lost' && place.state !== 'weak',
      lost: place.state === 'lost',
      hung: true,
    })
  );
}

/** One point of the picture. */
export const point = trackKind({
  kind: 'point',
  title: 'Point',
  summary: 'Follows one point: its place, without turn or growth.',
  click: 'the point to follow',
  params: patternParams,
  fit: fitBoxes,
  ...followPattern,
  frame: ({ samples }, clipFrame) => pointFrame(samples, clipFrame),
});
