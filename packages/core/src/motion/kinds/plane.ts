import { seenAt, toCorners } from '../../image/homography';
import type { Plane } from '../../image/picture';
import { param, type StoredOf } from '../../params/describe';
import { quadToQuad, type Quad } from '../fitHomography';
import { AffineFrame, type Point } from '../frame';
import { layerParams, placeAt } from '../layers';
import { measureParams } from '../measured';
import { PlaneTracker } from '../planeTracker';
import { SeenFrame, type FlatFrame } from '../seen';
import { trackKind, type Begin, type Follower, type Measured } from './describe';
import { pointFrame } from './point';

const corner = (title: string, x: number, y: number) =>
  param.point({ default: [x, y], title, group: 'Corners', rare: true, curve: false, help: 'Counted from the place of the track, px.' });
/** Corners of a flat part of the picture, clockwise, as pixels from the place of its track. */
export const cornerParams = {
  topLeft: corner('Upper left', -80, -60),
  topRight: corner('Upper right', 80, -60),
  bottomRight: corner('Lower right', 80, 60),
  bottomLeft: corner('Lower left', -80, 60),
};
export const cornerNames = ['topLeft', 'topRight', 'bottomRight', 'bottomLeft'] as const;
type Corners = StoredOf<typeof cornerParams>;
/** Corners as they were drawn about a place, pixels. */
export const drawnCorners = (v: Corners, [x, y]: Point): Quad =>
  cornerNames.map((name) => [x + v[name][0], y + v[name][1]]) as unknown as Quad;

const params = {
  ...cornerParams,
  lies: param.choice({
    default: 'flat on it',
    of: ['flat on it', 'as it was drawn'],
    title: 'Effects lie',
    help: 'Effects lie flat on the plane, in its perspective, or stand upright as on the first frame and take its changes only.',
  }),
  proportion: param.number({
    default: 0,
    title: 'Width to height',
    unit: ': 1',
    range: [0, 50],
    step: 0.01,
    curve: false,
    when: { param: 'lies', is: ['flat on it'] },
    help: 'Proportion of the four corners on the real thing. 0 takes it from how they were drawn.',
  }),
  ...measureParams,
  ...layerParams,
};

const length = ([a, b]: Point, [c, d]: Point) => Math.sqrt((c - a) * (c - a) + (d - b) * (d - b));
/** Size of the rectangle that four corners are seen of, pixels: as wide as they are on the mean. */
export function rectangleOf(corners: Quad, proportion: number): { width: number; height: number } {
  const [a, b, c, d] = corners,
    width = (length(a, b) + length(d, c)) / 2,
    height = (length(a, d) + length(b, c)) / 2;
  return { width, height: proportion > 0 ? width / proportion : height };
}

/** The frame of what lies on four corners that are followed; before they are, it stands as it was drawn. */
export function planeFrame(
  { samples, reference, values, at }: Measured<Corners & { lies: (typeof params.lies.of)[number]; proportion: number }>,
  clipFrame: number,
): FlatFrame | null {
  const now = placeAt(samples, clipFrame),
    then = placeAt(samples, reference),
    [x, y] = then ? [then.x, then.y] : at,
    first = then?.corners ?? drawnCorners(values, [x, y]),
    // One that was set by hand alone keeps the shape that it was drawn with.
    corners = now?.corners ?? (first.map(([u, v]) => [u + (now?.x ?? x) - x, v + (now?.y ?? y) - y]) as unknown as Quad),
    standing = pointFrame(samples, clipFrame) ?? { certain: true, lost: false, hung: true };
  if (values.lies === 'as it was drawn') {
    const map = quadToQuad(first, corners);
    return map && new SeenFrame(new AffineFrame(x, y, undefined, standing), map);
  }
  const { width, height } = rectangleOf(drawnCorners(values, at), values.proportion),
    map = toCorners(width, height, corners),
    undone = quadToQuad(first, [
      [0, 0],
      [width, 0],
      [width, height],
      [0, height],
    ]);
  if (!map || !undone) return null;
  const [u, v] = seenAt(undone, [x, y]).at;
  return new SeenFrame(new AffineFrame(u, v, undefined, standing), map);
}

/** Follows the four corners of anything flat. */
export const followCorners = (v: Corners, luma: Plane, clipFrame: number, from: Begin): Follower =>
  new PlaneTracker(luma, clipFrame, [from.x, from.y], { corners: from.corners ?? drawnCorners(v, [from.x, from.y]) });

/** A flat part of the picture, in perspective. */
export const plane = trackKind({
  kind: 'plane',
  title: 'Plane',
  summary: 'Follows a flat part of the picture in perspective: a wall, a sign, a floor. Drag its four corners onto it.',
  click: 'the middle of the plane',
  params,
  boxes: [],
  corners: cornerNames,
  follow: followCorners,
  frame: planeFrame,
});
