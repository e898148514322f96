import { cos as cosine, sin as sine } from '../image/exactMath';
import type { Plane } from '../image/picture';
import { correlate, samplePatch, type Patch } from './ncc';

/** Where a pattern lies: its centre in pixels, its turn in radians (clockwise as seen) and its size against the pattern's frame. */
export interface Placement {
  x: number;
  y: number;
  angle: number;
  scale: number;
}
export interface Alignment extends Placement {
  score: number;
  weakestQuarter: number;
  spread: number;
}

/** Solves a small symmetric positive system in place by elimination; null where it is singular. */
function solve(a: number[][], b: number[]): number[] | null {
  const n = b.length;
  for (let i = 0; i < n; i++) {
    const pivot = a[i]![i]!;
    if (!(Math.abs(pivot) > 1e-14)) return null;
    for (let r = i + 1; r < n; r++) {
      const k = a[r]![i]! / pivot;
      for (let c = i; c < n; c++) a[r]![c]! -= k * a[i]![c]!;
      b[r]! -= k * b[i]!;
    }
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let c = i + 1; c < n; c++) b[i]! -= a[i]![c]! * b[c]!;
    b[i]! /= a[i]![i]!;
  }
  return b;
}

const ROUNDS = 14;

/**
 * Moves, turns and scales a placement until the picture there equals the pattern, up to brightness and contrast: Gauss-Newton on
 * squared differences (Lucas and Kanade 1981, with a similarity in place of a shift), where differences beyond the usual ones
 * count less, so that a part that something hides pulls little. A weak pull towards the starting turn and size keeps patterns
 * that say nothing of them (a round pin) from spinning.
 */
export function align(plane: Plane, pattern: Patch, start: Placement): Alignment {
  const n = pattern.size,
    half = (n - 1) / 2,
    t = pattern.data,
    count = n * n;
  let { x, y, angle, scale } = start,
    spread = Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    const c = cosine(angle),
      s = sine(angle),
      seen = samplePatch(plane, x, y, n, { cos: c, sin: s, scale }),
      v = seen.data;
    let st = 0,
      sv = 0,
      stt = 0,
      stv = 0;
    for (let p = 0; p < count; p++) {
      st += t[p]!;
      sv += v[p]!;
      stt += t[p]! * t[p]!;
      stv += t[p]! * v[p]!;
    }
    const variance = stt - (st * st) / count;
    if (variance < 1e-9 * count) break;
    const gain = Math.max(0.2, (stv - (st * sv) / count) / variance),
      offset = (sv - gain * st) / count;
    let noise = 0;
    for (let p = 0; p < count; p++) noise += Math.abs(v[p]! - gain * t[p]! - offset);
    const limit = Math.max(1e-4, (2.5 * noise) / count);
    const h = [
        [0, 0, 0, 0],
        [0, 0, 0, 0],
        [0, 0, 0, 0],
        [0, 0, 0, 0],
      ],
      b = [0, 0, 0, 0];
    let squares = 0,
      weights = 0;
    for (let j = 1; j < n - 1; j++)
      for (let i = 1; i < n - 1; i++) {
        const p = j * n + i,
          gu = (v[p + 1]! - v[p - 1]!) / 2,
          gv = (v[p + n]! - v[p - n]!) / 2,
          r = v[p]! - gain * t[p]! - offset;
        const w = Math.abs(r) <= limit ? 1 : limit / Math.abs(r),
          u = i - half,
          q = j - half;
        // Derivatives by shift along the patch's own axes, by turn, and by the logarithm of the size.
        const g = [gu, gv, -gu * q + gv * u, gu * u + gv * q];
        for (let a = 0; a < 4; a++) {
          b[a]! -= w * g[a]! * r;
          for (let k = a; k < 4; k++) h[a]![k]! += w * g[a]! * g[k]!;
        }
        squares += w * r * r;
        weights += w;
      }
    const pull = 0.02 * (h[0]![0]! + h[1]![1]!) * 0.5 * half * half * 0.33;
    h[2]![2]! += pull;
    h[3]![3]! += pull;
    let turned = start.angle - angle;
    b[2]! += pull * turned;
    b[3]! += pull * ((start.scale - scale) / scale);
    for (let a = 0; a < 4; a++) for (let k = 0; k < a; k++) h[a]![k] = h[k]![a]!;
    const determinant = h[0]![0]! * h[1]![1]! - h[0]![1]! * h[0]![1]!;
    spread = determinant > 0 ? Math.sqrt((squares / weights) * ((h[0]![0]! + h[1]![1]!) / determinant)) : Infinity;
    const d = solve(h, b);
    if (!d || d.some((value) => value !== value)) break;
    const step = Math.min(1, 2 / Math.max(1e-9, Math.sqrt(d[0]! * d[0]! + d[1]! * d[1]!)));
    const du = d[0]! * scale * step,
      dv = d[1]! * scale * step;
    x += du * c - dv * s;
    y += du * s + dv * c;
    turned = Math.max(-0.1, Math.min(0.1, d[2]! * step));
    angle += turned;
    scale *= 1 + Math.max(-0.08, Math.min(0.08, d[3]! * step));
    if (du * du + dv * dv < 1e-7 && Math.abs(turned) < 1e-5) break;
  }
  const seen = samplePatch(plane, x, y, n, { cos: cosine(angle), sin: sine(angle), scale });
  const m = (n + 1) >> 1,
    k = n - m;
  const quarters = [
    [0, 0, m, m],
    [k, 0, n, m],
    [0, k, m, n],
    [k, k, n, n],
  ] as [number, number, number, number][];
  return {
    x,
    y,
    angle,
    scale,
    spread,
    score: correlate(seen, pattern),
    weakestQuarter: Math.min(...quarters.map((box) => correlate(seen, pattern, box))),
  };
}
