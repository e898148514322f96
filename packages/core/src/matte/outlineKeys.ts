import { bendOf, easeAt, easings } from '../time/curve';
import { keyedValue } from '../motion/keyed';
import { splitCurve, type Vertex } from './vertex';

/** How an outline goes from a key to the next: along a smooth way through the keys around, or eased between these two alone. */
export const keyEasings = ['flows', ...easings.filter((e): e is Exclude<(typeof easings)[number], 'bend'> => e !== 'bend')] as const;
export type KeyEasing = (typeof keyEasings)[number];

/**
 * An outline as it was drawn on one frame of its clip. A vertex that is null was not set there: it goes from its key before to its key after. All keys of
 * an outline have the same number of vertices, and each vertex is set on one of them at the least.
 */
export interface OutlineKey {
  frame: number;
  ease: KeyEasing;
  vertices: (Vertex | null)[];
  /** Where it was carried here: how sure each vertex is, 0..1. Null where it was drawn by hand. */
  sure: number[] | null;
}

type Numbers = readonly number[];
const numbersOf = (v: Vertex): Numbers => [v.x, v.y, v.in[0], v.in[1], v.out[0], v.out[1], v.inner, v.outer];
const vertexOf = ([x, y, ax, ay, bx, by, inner, outer]: Numbers): Vertex => ({
  ...{ x: x!, y: y!, in: [ax!, ay!], out: [bx!, by!] },
  // A smooth way may reach below nothing.
  ...{ inner: Math.max(0, inner!), outer: Math.max(0, outer!) },
});

/** One vertex at a frame, from the keys that set it. */
function vertexAt(keys: readonly { frame: number; ease: KeyEasing; vertex: Vertex }[], frame: number): Vertex {
  const after = keys.findIndex((k) => k.frame > frame),
    a = keys[after < 0 ? keys.length - 1 : after - 1],
    b = keys[after];
  if (!a) return keys[0]!.vertex;
  if (!b || a.frame === frame || a.ease === 'hold') return a.vertex;
  const from = numbersOf(a.vertex),
    to = numbersOf(b.vertex);
  if (a.ease === 'flows') {
    const all = keys.map((k) => numbersOf(k.vertex));
    return vertexOf(
      from.map((_, i) =>
        keyedValue(
          keys.map((k, at) => ({ frame: k.frame, value: all[at]![i]! })),
          frame,
        ),
      ),
    );
  }
  const t = (frame - a.frame) / (b.frame - a.frame),
    rise = a.ease === 'linear' ? t : easeAt(bendOf({ frame: a.frame, value: 0, ease: a.ease })!, t);
  return vertexOf(from.map((v, i) => v + (to[i]! - v) * rise));
}

/**
 * An outline as it stands at a frame of its clip (fractions allowed); before its first key and after its last it stays.
 * @param keys in order of frames.
 */
export function shapeAt(keys: readonly OutlineKey[], frame: number): Vertex[] {
  const [only] = keys;
  if (keys.length === 1) return only!.vertices as Vertex[];
  return only!.vertices.map((_, i) =>
    vertexAt(
      keys.flatMap((k) => (k.vertices[i] ? [{ frame: k.frame, ease: k.ease, vertex: k.vertices[i] }] : [])),
      frame,
    ),
  );
}

/**
 * Keys with an outline set at a frame: all of it, or the named vertices alone. A new key goes on as the one before it does.
 * @param vertices the whole outline as it stands there.
 */
export function withKey(
  keys: readonly OutlineKey[],
  frame: number,
  vertices: readonly Vertex[],
  only: ReadonlySet<number> | null = null,
): OutlineKey[] {
  const there = keys.find((k) => k.frame === frame),
    set = vertices.map((v, i) => (!only || only.has(i) ? v : (there?.vertices[i] ?? null)));
  if (there) return keys.map((k) => (k === there ? { ...k, vertices: set, sure: null } : k));
  const ease = keys.findLast((k) => k.frame < frame)?.ease ?? keys[0]?.ease ?? 'flows';
  return [...keys, { frame, ease, vertices: set, sure: null }].sort((a, b) => a.frame - b.frame);
}

/** Keys without the one at a frame; what was set there alone stays as it was, on the nearest key that is left. The last key stays. */
export function withoutKey(keys: readonly OutlineKey[], frame: number): OutlineKey[] {
  const gone = keys.find((k) => k.frame === frame),
    left = keys.filter((k) => k !== gone);
  if (!gone || !left.length) return [...keys];
  const nearest = left.reduce((a, b) => (Math.abs(b.frame - frame) < Math.abs(a.frame - frame) ? b : a));
  return left.map((k) =>
    k === nearest
      ? { ...k, vertices: k.vertices.map((v, i) => v ?? (left.some((other) => other.vertices[i]) ? null : gone.vertices[i]!)) }
      : k,
  );
}

/** Keys with one of them at another frame; one that stands there already goes. */
export function withKeyAt(keys: readonly OutlineKey[], from: number, to: number): OutlineKey[] {
  const moved = keys.find((k) => k.frame === from);
  if (!moved || from === to) return [...keys];
  const cleared = keys.some((k) => k.frame === to) ? withoutKey(keys, to) : keys;
  return cleared.map((k) => (k.frame === from ? { ...k, frame: to } : k)).sort((a, b) => a.frame - b.frame);
}

/**
 * Keys of an outline that has one vertex more, at a share of the way from a vertex to the next: on every key that sets one of the two, where the line
 * runs there, so that no key changes its shape.
 */
export function withVertex(keys: readonly OutlineKey[], after: number, share: number): OutlineKey[] {
  const next = (after + 1) % keys[0]!.vertices.length;
  return keys.map((k) => {
    const vertices = [...k.vertices],
      set = vertices[after] || vertices[next],
      shape = set ? shapeAt(keys, k.frame) : null;
    const sure = k.sure && [...k.sure.slice(0, after + 1), Math.min(k.sure[after]!, k.sure[next]!), ...k.sure.slice(after + 1)];
    if (!shape) return { ...k, vertices: [...vertices.slice(0, after + 1), null, ...vertices.slice(after + 1)], sure };
    const [a, between, b] = splitCurve(shape[after]!, shape[next]!, share);
    if (vertices[after]) vertices[after] = a;
    if (vertices[next]) vertices[next] = b;
    vertices.splice(after + 1, 0, between);
    return { ...k, vertices, sure };
  });
}
/** Keys of an outline without some of its vertices; what is left sets nothing is no key any more. Three vertices stay. */
export function withoutVertices(keys: readonly OutlineKey[], gone: ReadonlySet<number>): OutlineKey[] {
  if (keys[0]!.vertices.length - gone.size < 3) return [...keys];
  const left = keys.map((k) => ({
    ...k,
    vertices: k.vertices.filter((_, i) => !gone.has(i)),
    sure: k.sure && k.sure.filter((_, i) => !gone.has(i)),
  }));
  return left.filter((k) => k.vertices.some(Boolean));
}

/** Keys with the outline at each of them put through a map of the picture; handles follow, feather stays. */
export function mappedKeys(keys: readonly OutlineKey[], map: (p: readonly [number, number]) => readonly [number, number]): OutlineKey[] {
  return keys.map((k) => ({ ...k, vertices: k.vertices.map((v) => v && mappedVertex(v, map)) }));
}
/** A vertex put through a map of the picture, with its handles. */
export function mappedVertex(v: Vertex, map: (p: readonly [number, number]) => readonly [number, number]): Vertex {
  const [x, y] = map([v.x, v.y]),
    handle = ([dx, dy]: readonly [number, number]): [number, number] => {
      if (dx === 0 && dy === 0) return [0, 0];
      const [ex, ey] = map([v.x + dx, v.y + dy]);
      return [ex - x, ey - y];
    };
  return { ...v, x, y, in: handle(v.in), out: handle(v.out) };
}
/** An outline mirrored left to right about a line, on every key; its vertices run the same way round as before. */
export function mirroredKeys(keys: readonly OutlineKey[], about: number): OutlineKey[] {
  return mappedKeys(keys, ([x, y]) => [2 * about - x, y]).map((k) => ({
    ...k,
    vertices: k.vertices.map((v) => v && { ...v, in: v.out, out: v.in }).reverse(),
    sure: k.sure && [...k.sure].reverse(),
  }));
}
