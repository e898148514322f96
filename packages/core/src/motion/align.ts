import { cos as cosine, sin as sine } from '../image/exactMath';
import type { Plane } from '../image/picture';
import { samplePatch, type Patch } from './ncc';

/** Where a pattern lies: its centre in pixels, its turn in radians (clockwise as seen) and its size against the pattern's frame. */
export interface Placement {
  x: number;
  y: number;
  angle: number;
  scale: number;
}
/** A placement with what speaks for it. */
export interface Alignment extends Placement {
  /** Correlation of pattern and picture, of what shows of it, with the grain of both taken out: -1..1. */
  likeness: number;
  /** How much they differ against what grain and a small shift explain: 1 is as expected. */
  misfit: number;
  /** Share of the pattern that does not fit, because something covers it; of all of it, and of the worst of its nine parts. */
  covered: number;
  worstCovered: number;
  /** What is left of what shows of it, by its deviation, 0..1. */
  residual: number;
  /** Contrast against the pattern's. */
  gain: number;
  /** How sure the place is: its deviation, pixels; endless where there is nothing to hold on to. */
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
/** Rounds before what does not fit is left out: until then the placement itself may be what is wrong, unless most of it fits at once. */
const SETTLING = 3,
  SETTLED = 1.5;
/** A shift, pixels, and a share of the pattern's contrast that count as fitting: edges are never read quite right, and light changes on a surface. */
const SHIFT = 0.15,
  CONTRAST = 0.04;
/** A pixel is left out when it differs by this many times what is usual for the pattern now. */
const BEYOND = 4;
/** The median of a normal distribution's distances from its middle. */
const MEDIAN = 0.6745;
/** Contrast may be so many times what is usual, and so much less: whatever has a harder edge is not the same thing in other light. */
const TIMES = 2;
/** Parts of the pattern to each side, in which cover is counted. */
const PARTS = 3;

let weights = new Float32Array(0),
  expected = new Float32Array(0),
  slopes = new Float32Array(0),
  sampled = new Float32Array(0);

/** Brightness and contrast of the picture against the pattern, where the weights are. */
function lightOf(
  t: Float32Array,
  v: Float32Array,
  w: Float32Array,
  count: number,
  usual: number,
): { gain: number; offset: number; variance: number } {
  let n = 0,
    st = 0,
    sv = 0,
    stt = 0,
    stv = 0;
  for (let p = 0; p < count; p++) {
    const k = w[p]!;
    n += k;
    st += k * t[p]!;
    sv += k * v[p]!;
    stt += k * t[p]! * t[p]!;
    stv += k * t[p]! * v[p]!;
  }
  const variance = stt - (st * st) / n,
    gain = variance < 1e-9 * n ? usual : Math.min(TIMES * usual, Math.max(usual / TIMES, (stv - (st * sv) / n) / variance));
  return { gain, offset: (sv - gain * st) / n, variance: variance / n };
}

/**
 * Moves, turns and scales a placement until the picture there equals the pattern, up to brightness and contrast: Gauss-Newton on
 * squared differences (Lucas and Kanade 1981, with a similarity in place of a shift). Differences beyond what grain and a small shift
 * explain are left out once the placement has settled, so that something that crosses the pattern neither pulls it along nor hides that the rest
 * fits. A weak pull towards the starting turn and size keeps patterns that say nothing of them (a round pin) from spinning.
 * @param grain deviations of the grain in the pattern and in the picture, 0..1 as the grey values.
 * @param usual contrast of the picture against the pattern, as it was before.
 */
export function align(plane: Plane, pattern: Patch, start: Placement, grain: readonly [number, number] = [0, 0], usual = 1): Alignment {
  const n = pattern.size,
    half = (n - 1) / 2,
    t = pattern.data,
    count = n * n;
  if (weights.length < count) {
    [weights, expected, sampled] = [new Float32Array(count), new Float32Array(count), new Float32Array(count)];
    slopes = new Float32Array(2 * count);
  }
  // Slopes are not known at the rim.
  weights.fill(0, 0, count);
  for (let j = 1; j < n - 1; j++) {
    weights.fill(1, j * n + 1, (j + 1) * n - 1);
    for (let p = j * n + 1; p < (j + 1) * n - 1; p++) {
      slopes[2 * p] = (t[p + 1]! - t[p - 1]!) / 2;
      slopes[2 * p + 1] = (t[p + n]! - t[p - n]!) / 2;
    }
  }
  let { x, y, angle, scale } = start,
    spread = Infinity,
    misfit = Infinity,
    residual = Infinity,
    light = usual,
    seen: Float32Array | null = null;
  const cover = new Uint16Array(PARTS * PARTS);
  let covered = 0;
  for (let round = 0; round <= ROUNDS; round++) {
    const last = round === ROUNDS,
      c = cosine(angle),
      s = sine(angle),
      v = samplePatch(plane, x, y, n, { cos: c, sin: s, scale }).data,
      { gain, offset, variance } = lightOf(t, v, weights, count, usual);
    light = gain;
    seen = v;
    if (variance < 1e-9) break;
    const floor = grain[1] * grain[1] + gain * gain * grain[0] * grain[0] + CONTRAST * CONTRAST * gain * gain * variance + 1e-7;
    // How far each pixel may be off, and how far they are off as a rule.
    const slack = SHIFT * SHIFT * gain * gain;
    let some = 0;
    for (let j = 1; j < n - 1; j++)
      for (let i = 1; i < n - 1; i++) {
        const p = j * n + i,
          tu = slopes[2 * p]!,
          tv = slopes[2 * p + 1]!;
        expected[p] = Math.sqrt(floor + slack * (tu * tu + tv * tv));
        if (((i + 3 * j) & 3) === 0) sampled[some++] = Math.abs(v[p]! - gain * t[p]! - offset) / expected[p]!;
      }
    const usualOff = sampled.subarray(0, some).sort()[some >> 1]! / MEDIAN,
      limit = BEYOND * Math.max(1, usualOff),
      h = [
        [0, 0, 0, 0],
        [0, 0, 0, 0],
        [0, 0, 0, 0],
        [0, 0, 0, 0],
      ],
      b = [0, 0, 0, 0];
    let squares = 0,
      off2 = 0,
      used = 0,
      sx = 0,
      sy = 0,
      sxy = 0;
    covered = 0;
    cover.fill(0);
    for (let j = 1; j < n - 1; j++)
      for (let i = 1; i < n - 1; i++) {
        const p = j * n + i,
          r = v[p]! - gain * t[p]! - offset,
          off = Math.abs(r) / expected[p]!,
          beyond = off > limit;
        if (beyond) {
          covered++;
          cover[Math.floor((j * PARTS) / n) * PARTS + Math.floor((i * PARTS) / n)]!++;
        }
        const w = beyond ? (round < SETTLING && usualOff > SETTLED ? limit / off : 0) : 1;
        weights[p] = w;
        if (w === 0) continue;
        const gu = (v[p + 1]! - v[p - 1]!) / 2,
          gv = (v[p + n]! - v[p - n]!) / 2,
          u = i - half,
          q = j - half,
          turn = -gu * q + gv * u,
          grow = gu * u + gv * q;
        // Derivatives by shift along the patch's own axes, by turn, and by the logarithm of the size.
        b[0]! -= w * gu * r;
        b[1]! -= w * gv * r;
        b[2]! -= w * turn * r;
        b[3]! -= w * grow * r;
        h[0]![0]! += w * gu * gu;
        h[0]![1]! += w * gu * gv;
        h[0]![2]! += w * gu * turn;
        h[0]![3]! += w * gu * grow;
        h[1]![1]! += w * gv * gv;
        h[1]![2]! += w * gv * turn;
        h[1]![3]! += w * gv * grow;
        h[2]![2]! += w * turn * turn;
        h[2]![3]! += w * turn * grow;
        h[3]![3]! += w * grow * grow;
        squares += w * r * r;
        off2 += w * off * off;
        used += w;
        // Slopes of the pattern times those of the picture: grain makes slopes in both, but not the same ones.
        const tu = slopes[2 * p]!,
          tv = slopes[2 * p + 1]!;
        sx += w * gu * tu;
        sy += w * gv * tv;
        sxy += 0.5 * w * (gu * tv + gv * tu);
      }
    misfit = Math.sqrt(off2 / Math.max(1, used));
    residual = Math.sqrt(squares / Math.max(1, used));
    const determinant = sx * sy - sxy * sxy;
    spread = sx > 0 && sy > 0 && determinant > 0 ? Math.sqrt((squares / Math.max(1, used)) * ((sx + sy) / (gain * determinant))) : Infinity;
    if (last) break;
    const pull = 0.02 * (h[0]![0]! + h[1]![1]!) * 0.5 * half * half * 0.33;
    h[2]![2]! += pull;
    h[3]![3]! += pull;
    let turned = start.angle - angle;
    b[2]! += pull * turned;
    b[3]! += pull * ((start.scale - scale) / scale);
    for (let a = 0; a < 4; a++) for (let k = 0; k < a; k++) h[a]![k] = h[k]![a]!;
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
    // Once it stands, one more round says what covers it there.
    if (du * du + dv * dv < 1e-6 && Math.abs(turned) < 1e-5) round = Math.max(round < SETTLING ? SETTLING - 1 : ROUNDS - 1, round);
  }
  const inner = (n - 2) * (n - 2),
    part = inner / (PARTS * PARTS);
  return {
    x,
    y,
    angle,
    scale,
    spread,
    gain: light,
    misfit,
    residual,
    covered: covered / inner,
    worstCovered: cover.reduce((most, k) => Math.max(most, k), 0) / part,
    likeness: seen ? likenessOf(t, seen, count, grain) : 0,
  };
}

/** Correlation where the weights are, with the power of the grain taken out of both; 0 where nothing but grain is left. */
function likenessOf(t: Float32Array, v: Float32Array, count: number, grain: readonly [number, number]): number {
  let n = 0,
    st = 0,
    sv = 0,
    stt = 0,
    svv = 0,
    stv = 0;
  for (let p = 0; p < count; p++) {
    const k = weights[p]!;
    n += k;
    st += k * t[p]!;
    sv += k * v[p]!;
    stt += k * t[p]! * t[p]!;
    svv += k * v[p]! * v[p]!;
    stv += k * t[p]! * v[p]!;
  }
  if (n < 1) return 0;
  const vt = (stt - (st * st) / n) / n - grain[0] * grain[0],
    vv = (svv - (sv * sv) / n) / n - 0.5 * grain[1] * grain[1];
  return vt > 1e-7 && vv > 1e-7 ? Math.min(1, (stv - (st * sv) / n) / n / Math.sqrt(vt * vv)) : 0;
}
