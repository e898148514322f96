import { exactMath, fractal2, noise2, uniform } from '@wraithos/core/image';
import type { Drawing } from './drawing';
import { HEIGHT, WIDTH } from './measures';

const { abs, clamp, exp, hypot, mix, sin, smoothstep } = { ...exactMath, abs: Math.abs };
type Rgb = [number, number, number];
const over = (a: Rgb, b: Rgb, k: number): Rgb => [mix(a[0], b[0], k), mix(a[1], b[1], k), mix(a[2], b[2], k)];

/** Ridges from far to near: height of the line, how it swings, its colour at the line and below. Display values, as a brush lays them. */
const RIDGES: readonly { y: number; swing: number; long: number; seed: number; top: Rgb; low: Rgb }[] = [
  { y: 372, swing: 70, long: 420, seed: 11, top: [0.42, 0.4, 0.56], low: [0.63, 0.52, 0.6] },
  { y: 430, swing: 90, long: 300, seed: 12, top: [0.3, 0.31, 0.49], low: [0.5, 0.43, 0.55] },
  { y: 500, swing: 64, long: 240, seed: 13, top: [0.2, 0.24, 0.4], low: [0.34, 0.33, 0.46] },
  { y: 568, swing: 22, long: 520, seed: 14, top: [0.15, 0.19, 0.28], low: [0.1, 0.13, 0.2] },
];
const MOON = { x: 965, y: 190, r: 58 };
const lineOf = (r: (typeof RIDGES)[number], x: number): number =>
  r.y + r.swing * (1.6 * (fractal2(x / r.long, 3.1, 4, r.seed * 31) - 0.5)) + 1.6 * (noise2(x / 5, 1, r.seed) - 0.5);
const STARS = Array.from({ length: 90 }, (_, i) => ({
  x: WIDTH * uniform(i, 713, 1),
  y: 300 * uniform(i, 713, 2) * uniform(i, 713, 3),
  r: 0.7 + 1.3 * uniform(i, 713, 4) * uniform(i, 713, 5),
}));
/** Firs on the third ridge. */
const FIRS = Array.from({ length: 46 }, (_, i) => {
  const x = (i + 0.2 + 0.7 * uniform(i, 731, 1)) * (WIDTH / 46);
  return { x, foot: lineOf(RIDGES[2]!, x) + 6, tall: 26 + 50 * uniform(i, 731, 2) * uniform(i, 731, 3) };
});
/** Where each ridge's line is in a column, and how it leans. */
const columnOf = (x: number): { line: number; lean: number }[] =>
  RIDGES.map((ridge) => {
    const line = lineOf(ridge, x);
    return { line, lean: lineOf(ridge, x + 6) - line };
  });

function paint(x: number, y: number, column: ReturnType<typeof columnOf>): Rgb {
  // Paper, and pigment that gathers in its grain.
  const grain = fractal2(x / 3.2, y / 3.2, 3, 701) - 0.5,
    wash = fractal2(x / 140, y / 90, 4, 703) - 0.5,
    d = hypot(x - MOON.x, y - MOON.y);
  let c: Rgb = over(
    over([0.16, 0.17, 0.36], [0.44, 0.34, 0.52], smoothstep(60, 330, y)),
    [0.93, 0.67, 0.56],
    smoothstep(250, 430, y) * 0.85,
  );
  c = [c[0] + 0.09 * wash, c[1] + 0.08 * wash, c[2] + 0.06 * wash];
  // Long strokes of the sky's brush.
  const stroke = noise2(x / 260 + y / 60, y / 7, 705) - 0.5;
  c = over(c, [0.98, 0.82, 0.7], clamp(0.16 * stroke + 0.1 * (fractal2(x / 210, y / 26, 4, 707) - 0.52) * smoothstep(90, 260, y), 0, 0.3));
  c = over(c, [1, 0.93, 0.8], 0.5 * exp(-d / 120) + 0.14 * exp(-d / 320));
  if (d < MOON.r + 2) {
    const face = 0.06 * (fractal2(x / 22, y / 22, 3, 709) - 0.5);
    c = over(c, [0.99 + face, 0.95 + face, 0.84 + face], smoothstep(MOON.r + 1, MOON.r - 1, d + 2.5 * (noise2(x / 9, y / 9, 711) - 0.5)));
  }
  for (const { x: sx, y: sy, r } of STARS)
    if (abs(x - sx) < 3 && abs(y - sy) < 3) c = over(c, [1, 0.96, 0.86], 0.8 * smoothstep(r + 0.6, r - 0.4, hypot(x - sx, y - sy)));
  RIDGES.forEach((ridge, k) => {
    const { line, lean } = column[k]!,
      below = y - line;
    if (below < -1.5) return;
    const wet = fractal2(x / 60 + 9 * k, y / 30, 4, 721 + k) - 0.5,
      t = clamp(below / (k === 3 ? 150 : 90), 0, 1);
    let r = over(ridge.top, ridge.low, t);
    // Pigment dries darker along the edge of a wash.
    const edge = exp(-(below * below) / 7);
    r = [r[0] + 0.1 * wet - 0.06 * edge, r[1] + 0.1 * wet - 0.06 * edge, r[2] + 0.09 * wet - 0.05 * edge];
    // Moonlight on what looks to it.
    if (k < 3) r = over(r, [1, 0.86, 0.72], clamp(0.03 * lean, 0, 0.18) * exp(-below / 26));
    c = over(c, r, smoothstep(-1, 1, below));
  });
  FIRS.forEach(({ x: fx, foot, tall }, i) => {
    const up = foot - y;
    if (up < 0 || up > tall) return;
    const wide = (1 - up / tall) * tall * 0.24 * (0.7 + 0.3 * abs(sin(up * 0.42 + i)));
    if (abs(x - fx) < wide + 1) c = over(c, [0.13, 0.17, 0.3], 0.9 * smoothstep(wide + 0.8, wide - 0.8, abs(x - fx)));
  });
  // The grass that the fox runs on.
  const grass = y - 584;
  if (grass > -22) {
    for (let k = -2; k <= 2; k++) {
      const blade = Math.floor(x / 7) + k,
        bx = (blade + uniform(blade, 741, 1)) * 7,
        tall = 6 + 18 * uniform(blade, 741, 2),
        up = -grass,
        lean = bx + 0.35 * up * (uniform(blade, 741, 3) - 0.35);
      if (up > -6 && up < tall) c = over(c, [0.2, 0.26, 0.3], 0.75 * smoothstep(2.1 * (1 - up / (tall + 8)), 0.4, abs(x - lean)));
    }
    const path = smoothstep(30, 60, grass) * 0.35 * (fractal2(x / 190, y / 22, 4, 743) + 0.2);
    c = over(c, [0.46, 0.4, 0.46], clamp(path * smoothstep(0, 12, grass), 0, 0.5));
  }
  return [c[0] + 0.05 * grain, c[1] + 0.05 * grain, c[2] + 0.045 * grain];
}

/** TW_030: the painted ground that the paper fox can run before. */
export const ground030: Drawing = {
  name: 'TW_030/ground',
  width: WIDTH,
  height: HEIGHT,
  frames: 1,
  first: 1,
  opaque: true,
  draw() {
    const out = new Uint8Array(WIDTH * HEIGHT * 4),
      columns = Array.from({ length: WIDTH * 2 }, (_, k) => columnOf(0.25 + 0.5 * k));
    for (let y = 0, i = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++, i += 4) {
        let [r, g, b] = [0, 0, 0];
        for (let k = 0; k < 4; k++) {
          const c = paint(x + 0.25 + 0.5 * (k & 1), y + 0.25 + 0.5 * (k >> 1), columns[2 * x + (k & 1)]!);
          [r, g, b] = [r + c[0] / 4, g + c[1] / 4, b + c[2] / 4];
        }
        [r, g, b, 1].forEach((v, k) => (out[i + k] = Math.round(255 * clamp(v, 0, 1))));
      }
    return out;
  },
};
