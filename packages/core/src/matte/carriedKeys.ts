import { hypot } from '../image/exactMath';
import type { CarriedShape } from './carryOn';
import type { OutlineKey } from './outlineKeys';
import type { Vertex } from './vertex';

/** Pixels by which a frame that is no key may be off where it was found. */
const OFF = 0.3;
/** How sure a vertex must be, 0..1, for its frame to be no doubt. */
export const SURE_ENOUGH = 0.35;
/** Pixels by which two ways may disagree before they make each other doubtful by half. */
const APART = 4;

const mix = (a: number, b: number, t: number): number => a + (b - a) * t;
const between = (a: Vertex, b: Vertex, t: number): Vertex => ({
  x: mix(a.x, b.x, t),
  y: mix(a.y, b.y, t),
  in: [mix(a.in[0], b.in[0], t), mix(a.in[1], b.in[1], t)],
  out: [mix(a.out[0], b.out[0], t), mix(a.out[1], b.out[1], t)],
  inner: mix(a.inner, b.inner, t),
  outer: mix(a.outer, b.outer, t),
});
/** How far two outlines are apart where they are furthest, pixels, with their handles. */
function apart(a: readonly Vertex[], b: readonly Vertex[]): number {
  let most = 0;
  a.forEach((v, i) => {
    const w = b[i]!;
    most = Math.max(
      most,
      hypot(v.x - w.x, v.y - w.y),
      hypot(v.in[0] - w.in[0], v.in[1] - w.in[1]),
      hypot(v.out[0] - w.out[0], v.out[1] - w.out[1]),
    );
  });
  return most;
}

/**
 * Joins what was carried forwards from one drawn frame and backwards from another: each counts as much as it is near to its own, and where they disagree
 * both are less sure.
 * @param there from the earlier frame on, in order of frames. @param back from the later one on, in falling order; both with their drawn frames.
 */
export function fromBothEnds(there: readonly CarriedShape[], back: readonly CarriedShape[]): CarriedShape[] {
  const first = there[0]!.frame,
    last = back[0]!.frame,
    other = new Map(back.map((s) => [s.frame, s]));
  return there.flatMap((a): CarriedShape[] => {
    const b = other.get(a.frame);
    if (!b) return a.frame < last ? [a] : [];
    const t = (a.frame - first) / (last - first),
      share = t * t * (3 - 2 * t);
    return [
      {
        frame: a.frame,
        vertices: a.vertices.map((v, i) => between(v, b.vertices[i]!, share)),
        sure: a.sure.map((s, i) => {
          const d = hypot(a.vertices[i]!.x - b.vertices[i]!.x, a.vertices[i]!.y - b.vertices[i]!.y) / APART;
          // At either end the one that begins there counts alone.
          const doubt = 4 * t * (1 - t) * d * d;
          return mix(s, b.sure[i]!, share) / (1 + doubt);
        }),
      },
    ];
  });
}

/** Which of the shapes are kept as keys, so that those between lie on the straight way from one to the next (Douglas and Peucker, over time). */
function kept(shapes: readonly CarriedShape[], first: number, last: number): number[] {
  let worst = -1,
    most = OFF;
  for (let i = first + 1; i < last; i++) {
    const t = (shapes[i]!.frame - shapes[first]!.frame) / (shapes[last]!.frame - shapes[first]!.frame),
      way = shapes[first]!.vertices.map((v, k) => between(v, shapes[last]!.vertices[k]!, t)),
      off = apart(way, shapes[i]!.vertices);
    if (off > most) [worst, most] = [i, off];
  }
  return worst < 0 ? [first] : [...kept(shapes, first, worst), ...kept(shapes, worst, last)];
}

/**
 * Keys of an outline with what was carried on in the place of what was there between: drawn keys stay. As few keys as keep every frame within a third of
 * a pixel; each says how sure its vertices are, and those of the frames up to the next one.
 * @param shapes in order of frames, from a drawn frame on.
 */
export function withCarried(keys: readonly OutlineKey[], shapes: readonly CarriedShape[]): OutlineKey[] {
  if (shapes.length < 2) return [...keys];
  const [first, last] = [shapes[0]!.frame, shapes.at(-1)!.frame],
    drawn = keys.filter((k) => !k.sure || k.frame < first || k.frame > last),
    taken = new Set(drawn.map((k) => k.frame)),
    indices = [...kept(shapes, 0, shapes.length - 1), shapes.length - 1],
    round = (v: number) => Math.round(v * 100) / 100,
    fresh = indices.flatMap((index, at): OutlineKey[] => {
      const { frame, vertices } = shapes[index]!;
      if (taken.has(frame)) return [];
      const from = indices[at - 1] ?? index,
        to = indices[at + 1] ?? index,
        near = shapes.slice(Math.ceil((from + index) / 2), Math.floor((index + to) / 2) + 1);
      return [
        {
          frame,
          ease: 'linear',
          vertices: vertices.map((v) => ({
            ...{ x: round(v.x), y: round(v.y), in: [round(v.in[0]), round(v.in[1])], out: [round(v.out[0]), round(v.out[1])] },
            ...{ inner: round(v.inner), outer: round(v.outer) },
          })),
          sure: vertices.map((_, i) => round(Math.min(...near.map((s) => s.sure[i]!)))),
        },
      ];
    });
  return [...drawn, ...fresh].sort((a, b) => a.frame - b.frame);
}

/** Keys without those that were carried, after or before a frame, as far as the next drawn one. */
export function withoutCarried(keys: readonly OutlineKey[], from: number, direction: 1 | -1): OutlineKey[] {
  const end = drawnBeyond(keys, from, direction);
  return keys.filter((k) => !k.sure || (k.frame - from) * direction <= 0 || (end !== null && (k.frame - end) * direction >= 0));
}
/** The next frame, in a direction of time, on which the outline is drawn by hand; null where there is none. */
export const drawnBeyond = (keys: readonly OutlineKey[], from: number, direction: 1 | -1): number | null =>
  (direction > 0 ? keys : [...keys].reverse()).find((k) => !k.sure && (k.frame - from) * direction > 0)?.frame ?? null;

/** Frames on which what was carried is doubtful, each with how sure its least sure vertex is. */
export const doubtfulKeys = (keys: readonly OutlineKey[]): { frame: number; sure: number }[] =>
  keys.flatMap((k) => {
    if (!k.sure) return [];
    const sure = Math.min(...k.sure);
    return sure < SURE_ENOUGH ? [{ frame: k.frame, sure }] : [];
  });

/** How sure each vertex is at a frame, 0..1, by the keys before and after it; null where both are drawn by hand. */
export function sureAt(keys: readonly OutlineKey[], frame: number): readonly number[] | null {
  const before = keys.findLast((k) => k.frame <= frame),
    after = before?.frame === frame ? before : keys.find((k) => k.frame > frame),
    [a, b] = [before?.sure ?? null, after?.sure ?? null];
  return a && b ? a.map((s, i) => Math.min(s, b[i]!)) : (a ?? b);
}
