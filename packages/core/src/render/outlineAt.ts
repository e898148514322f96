import { carried, carriedGrowth, outlineParams, shapeAt, withKey, type Fill, type OutlineKey, type Vertex } from '../matte';
import type { Frame } from '../motion/frame';
import { valuesAt } from '../params';
import type { Outline } from '../shot/schema';
import type { Mounts } from './frames';

/** An outline where it stands at a frame of its clip, in the clip's pixels; its share is 0..1. */
export interface StandingOutline extends Fill {
  mode: Outline['mode'];
  vertices: Vertex[];
  opacity: number;
}

/** An outline at a frame of its clip: as its keys and curves say, carried by what it rides on since the frame for which it is stored. */
export function outlineAt(outline: Outline, clipFrame: number, mounts: Mounts): StandingOutline {
  const { mode, mount, mountFrame } = outline,
    { feather, grow, opacity } = valuesAt(outlineParams, outline.values, outline.curves, clipFrame, 1) as Record<
      'feather' | 'grow' | 'opacity',
      number
    >,
    vertices = shapeAt(outline.keys, clipFrame),
    now = mount ? mounts.onClip(mount, clipFrame) : null,
    then = mount ? mounts.onClip(mount, mountFrame) : null;
  if (!now || !then) return { mode, vertices, feather, grow, opacity };
  const growth = carriedGrowth(vertices, then, now);
  return { mode, vertices: carried(vertices, then, now), feather: feather * growth, grow: grow * growth, opacity };
}

type Point = readonly [number, number];
/**
 * Between the pixels of the clip at one of its frames and those for which an outline's keys are stored (its `mountFrame`): `store` a place that is seen,
 * `place` one that is stored. The same where it rides on nothing.
 */
export function storedPlaces(outline: Outline, clipFrame: number, mounts: Mounts): Record<'store' | 'place', (p: Point) => Point> {
  const { mount, mountFrame } = outline,
    now = mount ? mounts.onClip(mount, clipFrame) : null,
    then = mount ? mounts.onClip(mount, mountFrame) : null;
  return now && then
    ? { store: (p) => then.toPicture(now.toBody(p)), place: (p) => now.toPicture(then.toBody(p)) }
    : { store: (p) => p, place: (p) => p };
}

/**
 * The keys of an outline as they are stored once it rides on a track from a frame of its clip on, or (null) on nothing: on each of them it stands where it
 * stood.
 */
export function keysRiding(outline: Outline, track: string | null, frame: number, mounts: Mounts): OutlineKey[] {
  const one = outline.keys.length === 1;
  // What has no keys of its own goes with the track from here on.
  if (one) return withKey([], frame, outlineAt(outline, frame, mounts).vertices).map((k) => ({ ...k, ease: outline.keys[0]!.ease }));
  const { mount, mountFrame } = outline,
    put = (v: Vertex, from: Frame | null, to: Frame | null): Vertex => (from && to ? carried([v], from, to)[0]! : v),
    on = (at: number) => (mount ? mounts.onClip(mount, at) : null),
    onNew = (at: number) => (track ? mounts.ofTrack(track, at) : null);
  return outline.keys.map((key) => ({
    ...key,
    vertices: key.vertices.map((v) => v && put(put(v, on(mountFrame), on(key.frame)), onNew(key.frame), onNew(frame))),
  }));
}
