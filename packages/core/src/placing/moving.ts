import type { Pictures } from '../image/arena';
import { weighedSum } from '../image/blur';
import { hypot } from '../image/exactMath';
import { cornersOf, toCorners } from '../image/homography';
import type { Picture } from '../image/picture';
import type { Homography } from '../image/warp';
import type { Point } from '../motion/frame';
import { param } from '../params/describe';
import { drawPlaced } from './draw';

/** The motion blur of what is placed. */
export const shutterParams = {
  shutter: param.angle({
    default: 180,
    title: 'Shutter angle',
    range: [0, 360],
    help: 'Motion blur of its moves in the shot: 360° is as long as its way in a frame, 0° is none.',
    group: 'Place',
    curve: false,
    rare: true,
  }),
} as const;

/** Where something that is placed stands a frame earlier and a frame later; and the part of a frame for which the shutter is open, 0..1. */
export interface Moving {
  before: Homography | null;
  after: Homography | null;
  open: number;
}

/** A picture is drawn as often as puts its copies this many pixels apart, but not more often than that. */
const APART = 2,
  MOST = 32;
/** A move that is this many times the one on the other side, and longer than this share of the picture, is a jump, over which no shutter was open. */
const JUMPS = 5,
  FAR = 0.12;
/** True where a move of a frame is a cut. @param way and @param other moves before and after the frame (or after and before), @param size the picture's longer side: all in pixels. */
export const isJump = (way: number, other: number, size: number): boolean => way > FAR * size && way > JUMPS * other;

type Corners = readonly [Point, Point, Point, Point];
const farthest = (a: Corners, b: Corners): number => Math.max(...a.map(([x, y], i) => hypot(x - b[i]![0], y - b[i]![1])));

/**
 * The maps of a picture at moments spread over the time that the shutter is open, half of it before the frame and half after: its corners go straight from frame to frame. One map, the frame's own, where
 * it moves less than half a pixel.
 * @param width of what is placed, @param size width and height of the result, pixels.
 */
export function shutterMaps(
  at: Homography,
  { before, after, open }: Moving,
  width: number,
  height: number,
  size: { width: number; height: number },
): Homography[] {
  const corners = (m: Homography | null) => m && cornersOf(m, width, height),
    now = corners(at);
  if (!(open > 0) || !now) return [at];
  let [from, to] = [corners(before) ?? now, corners(after) ?? now];
  const [come, go] = [farthest(from, now), farthest(to, now)],
    long = Math.max(size.width, size.height);
  if (isJump(come, go, long)) from = now;
  if (isJump(go, come, long)) to = now;
  const way = (0.5 * (farthest(from, now) + farthest(to, now)) * open) / APART;
  if (way * APART < 0.5) return [at];
  const n = Math.min(MOST, Math.max(2, Math.ceil(way))),
    maps: Homography[] = [];
  for (let k = 0; k < n; k++) {
    const t = ((k + 0.5) / n - 0.5) * open,
      other = t < 0 ? from : to,
      share = Math.abs(t),
      moved = now.map(([x, y], i) => [x + (other[i]![0] - x) * share, y + (other[i]![1] - y) * share] as const) as unknown as Corners,
      map = toCorners(width, height, moved);
    if (map) maps.push(map);
  }
  return maps.length ? maps : [at];
}

/** A picture seen through a map, blurred by its own move: the mean of what stands at moments while the shutter is open. The caller gives it back. */
export function drawMoving(source: Picture, at: Homography, moving: Moving, width: number, height: number, pictures: Pictures): Picture {
  const maps = shutterMaps(at, moving, source.width, source.height, { width, height }),
    out = drawPlaced(source, maps[0]!, width, height, pictures);
  for (let k = 1; k < maps.length; k++) {
    const next = drawPlaced(source, maps[k]!, width, height, pictures),
      [old, own] = [k / (k + 1), 1 / (k + 1)];
    weighedSum(out, [old, old, old, old], next, [own, own, own, own], pictures, out);
    pictures.give(next);
  }
  return out;
}
