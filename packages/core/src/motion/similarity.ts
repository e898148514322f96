import { atan2, hypot } from '../image/exactMath';
import { hash } from '../image/random';

/** A map that moves, turns (clockwise, radians) and scales: (x, y) goes to (a x - b y + x0, b x + a y + y0). */
export interface Similarity {
  a: number;
  b: number;
  x: number;
  y: number;
}
type Pair = readonly [from: readonly [number, number], to: readonly [number, number]];

export const moved = (m: Similarity, [x, y]: readonly [number, number]): [number, number] => [
  m.a * x - m.b * y + m.x,
  m.b * x + m.a * y + m.y,
];
/** The place that comes to lie at a point. */
export function movedBack(m: Similarity, [x, y]: readonly [number, number]): [number, number] {
  const k = m.a * m.a + m.b * m.b,
    u = x - m.x,
    v = y - m.y;
  return [(m.a * u + m.b * v) / k, (m.a * v - m.b * u) / k];
}
export const sizeOf = (m: Similarity): number => hypot(m.a, m.b);
export const turnOf = (m: Similarity): number => atan2(m.b, m.a);

/** The similarity of least squares through pairs of places, each with its weight (Umeyama 1991, in two dimensions); null where they are all at one place. */
export function similarityOf(pairs: readonly Pair[], weights?: readonly number[]): Similarity | null {
  let [n, fx, fy, tx, ty] = [0, 0, 0, 0, 0];
  pairs.forEach(([f, t], i) => {
    const w = weights?.[i] ?? 1;
    n += w;
    fx += w * f[0];
    fy += w * f[1];
    tx += w * t[0];
    ty += w * t[1];
  });
  if (!(n > 0)) return null;
  [fx, fy, tx, ty] = [fx / n, fy / n, tx / n, ty / n];
  let [squares, dot, cross] = [0, 0, 0];
  pairs.forEach(([f, t], i) => {
    const w = weights?.[i] ?? 1,
      u = f[0] - fx,
      v = f[1] - fy,
      p = t[0] - tx,
      q = t[1] - ty;
    squares += w * (u * u + v * v);
    dot += w * (u * p + v * q);
    cross += w * (u * q - v * p);
  });
  if (!(squares > 1e-6)) return null;
  const a = dot / squares,
    b = cross / squares;
  return { a, b, x: tx - a * fx + b * fy, y: ty - b * fx - a * fy };
}

/** Pairs that are tried out: enough for half of them to be wrong, many times over. */
const TRIALS = 64;
const squared = (v: number) => v * v;
/** What a size may be between two looks: others are chance. */
const SIZES = [0.6, 1.7] as const;

/**
 * The similarity that most pairs of places agree with, whatever the others do (Fischler and Bolles 1981), through all that agree, each by how well.
 * @param within pixels by which a pair may be off and still agrees. @param like a map that it is near to in size.
 */
export function agreedSimilarity(pairs: readonly Pair[], within: number, like: number): { map: Similarity; agrees: boolean[] } | null {
  const n = pairs.length;
  if (n < 2) return null;
  const off = (m: Similarity, [f, t]: Pair) => {
    const [x, y] = moved(m, f);
    return (x - t[0]) * (x - t[0]) + (y - t[1]) * (y - t[1]);
  };
  let best: Similarity | null = null,
    least = Infinity;
  for (let k = 0; k < TRIALS; k++) {
    const i = (hash(k, n, 11) >>> 0) % n,
      j = (i + 1 + ((hash(k, n, 12) >>> 0) % (n - 1))) % n,
      m = similarityOf([pairs[i]!, pairs[j]!]);
    if (!m || sizeOf(m) < SIZES[0] * like || sizeOf(m) > SIZES[1] * like) continue;
    let sum = 0;
    for (const pair of pairs) sum += Math.min(within * within, off(m, pair));
    if (sum < least) [best, least] = [m, sum];
  }
  if (!best) return null;
  let map: Similarity = best;
  // Tukey's weights: the nearer a pair is to what all say, the more it says itself.
  for (let round = 0; round < 6; round++) {
    const next = similarityOf(
      pairs,
      pairs.map((pair) => squared(Math.max(0, 1 - off(map, pair) / (within * within)))),
    );
    if (!next) break;
    map = next;
  }
  return { map, agrees: pairs.map((pair) => off(map, pair) <= within * within) };
}
