import { hypot } from '../image/exactMath';
import { shapeAt, type OutlineKey } from './outlineKeys';
import { onCurve, type Vertex } from './vertex';

/** Outlines with keys made simpler, broken in two, and joined. */

/** Places along the two ways beside a vertex that must stay, and along the one that comes in their place. */
const STAYING = [0.25, 0.5, 0.75],
  SAMPLES = 16;

/** How long the first of two ways is, as a share of both. */
function shareOf(a: Vertex, v: Vertex, b: Vertex): number {
  const first = hypot(v.x - a.x, v.y - a.y),
    second = hypot(b.x - v.x, b.y - v.y);
  return first + second > 0 ? Math.min(0.9, Math.max(0.1, first / (first + second))) : 0.5;
}
/** The two ends of a way that goes on without the vertex between them: their handles as long as one curve that was split there has them. */
function without(a: Vertex, v: Vertex, b: Vertex): [Vertex, Vertex] {
  const t = shareOf(a, v, b);
  return [
    { ...a, out: [a.out[0] / t, a.out[1] / t] },
    { ...b, in: [b.in[0] / (1 - t), b.in[1] / (1 - t)] },
  ];
}
/** How far the line moves, pixels, where a vertex of a shape goes. */
function movedBy(shape: readonly Vertex[], i: number): number {
  const n = shape.length,
    [a, v, b] = [shape[(i + n - 1) % n]!, shape[i]!, shape[(i + 1) % n]!],
    [from, to] = without(a, v, b),
    line = Array.from({ length: SAMPLES + 1 }, (_, k) => onCurve(from, to, k / SAMPLES)),
    off = ([x, y]: readonly [number, number]) =>
      line.slice(1).reduce((least, [bx, by], k) => {
        const [ax, ay] = line[k]!,
          length = (bx - ax) * (bx - ax) + (by - ay) * (by - ay),
          t = length > 0 ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length)) : 0;
        return Math.min(least, hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay)));
      }, Infinity);
  return Math.max(off([v.x, v.y]), ...STAYING.flatMap((t) => [off(onCurve(a, v, t)), off(onCurve(v, b, t))]));
}

/** An outline with as few vertices as keep its line within `off` pixels on every key; three stay. */
export function simplifiedKeys(keys: readonly OutlineKey[], off: number): OutlineKey[] {
  let now = [...keys];
  while (now[0]!.vertices.length > 3) {
    const shapes = now.map((k) => shapeAt(now, k.frame)),
      n = now[0]!.vertices.length,
      worst = Array.from({ length: n }, (_, i) => Math.max(...shapes.map((shape) => movedBy(shape, i)))),
      least = worst.indexOf(Math.min(...worst));
    if (worst[least]! > off) break;
    const [before, after] = [(least + n - 1) % n, (least + 1) % n];
    now = now
      .map((k, at) => {
        const [a, b] = without(shapes[at]![before]!, shapes[at]![least]!, shapes[at]![after]!),
          vertices = k.vertices.map((v, i) => (v && i === before ? { ...v, out: a.out } : v && i === after ? { ...v, in: b.in } : v));
        return { ...k, vertices: vertices.filter((_, i) => i !== least), sure: k.sure && k.sure.filter((_, i) => i !== least) };
      })
      .filter((k) => k.vertices.some(Boolean));
  }
  return now;
}

/**
 * An outline broken in two along the line between two of its vertices, on every key; both halves have these two.
 * @returns null where a half would have fewer than three vertices.
 */
export function brokenKeys(keys: readonly OutlineKey[], first: number, second: number): [OutlineKey[], OutlineKey[]] | null {
  const n = keys[0]!.vertices.length,
    [i, j] = [Math.min(first, second), Math.max(first, second)],
    half = (from: number, to: number): OutlineKey[] => {
      const list = Array.from({ length: ((to - from + n) % n) + 1 }, (_, k) => (from + k) % n),
        last = list.length - 1;
      return keys
        .map((k) => ({
          ...k,
          // Along the break the line is straight.
          vertices: list.map((at, p): Vertex | null => {
            const v = k.vertices[at];
            return v ? { ...v, ...(p === 0 ? { in: [0, 0] } : {}), ...(p === last ? { out: [0, 0] } : {}) } : null;
          }),
          sure: k.sure && list.map((at) => k.sure![at]!),
        }))
        .filter((k) => k.vertices.some(Boolean));
    };
  return j - i < 2 || n - (j - i) < 2 ? null : [half(i, j), half(j, i)];
}

/** Twice the area that a shape surrounds by its vertices; its sign says which way round it runs. */
const turning = (shape: readonly Vertex[]): number =>
  shape.reduce((sum, v, i) => {
    const b = shape[(i + 1) % shape.length]!;
    return sum + v.x * b.y - b.x * v.y;
  }, 0);
const reversed = (shape: readonly Vertex[]): Vertex[] => [...shape].reverse().map((v) => ({ ...v, in: v.out, out: v.in }));

/** Two outlines as one, joined where they are nearest on the first key, by a line that is run along both ways; keyed wherever one of them was. */
export function joinedKeys(one: readonly OutlineKey[], other: readonly OutlineKey[]): OutlineKey[] {
  const frames = [...new Set([...one, ...other].map((k) => k.frame))].sort((a, b) => a - b),
    at = frames[0]!,
    turned = turning(shapeAt(one, at)) * turning(shapeAt(other, at)) < 0,
    shapes = (frame: number): [Vertex[], Vertex[]] => {
      const second = shapeAt(other, frame);
      return [shapeAt(one, frame), turned ? reversed(second) : second];
    },
    [a, b] = shapes(at);
  let [least, from, to] = [Infinity, 0, 0];
  a.forEach((v, i) =>
    b.forEach((w, j) => {
      const d = hypot(v.x - w.x, v.y - w.y);
      if (d < least) [least, from, to] = [d, i, j];
    }),
  );
  /** All around from a vertex on, and it once more; towards the other outline it is a corner. */
  const round = (shape: Vertex[], start: number): Vertex[] => {
    const all = [...shape.slice(start), ...shape.slice(0, start)],
      first = all[0]!;
    return [{ ...first, in: [0, 0] }, ...all.slice(1), { ...first, out: [0, 0] }];
  };
  return frames.map((frame) => {
    const [p, q] = shapes(frame),
      own = one.find((k) => k.frame === frame) ?? other.find((k) => k.frame === frame)!;
    return { frame, ease: own.ease, sure: null, vertices: [...round(p, from), ...round(q, to)] };
  });
}
