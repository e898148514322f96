import { exactMath, fractal2, noise2, uniform, type Arena, type Picture } from '@wraithos/core/image';
import { HEIGHT, WIDTH } from './measures';
import type { Rgb } from './harbour';

const { abs, atan2, clamp, cos, exp, hypot, mix, PI, sin, smoothstep } = { ...exactMath, abs: Math.abs };

/*
 * The chart room by day: tall windows, a panelled wall, and a varnished table with a sea chart. The camera looks straight ahead; places are in metres
 * right of it, above the floor and away from it.
 */
const FOCAL = 900,
  EYE = 1.3,
  MIDDLE = 640,
  HORIZON = 236,
  WALL = 5.2,
  TABLE = 0.78,
  /** Near and far edge of the table, and half its length. */
  NEAR = 0.7,
  FAR = 2.35,
  LONG = 2.3;
/** Windows: left and right edge. All reach from LOW to HIGH. */
const WINDOWS: readonly (readonly [number, number])[] = [
  [-3.3, -2.15],
  [-1.5, -0.35],
  [0.35, 1.5],
  [2.15, 3.3],
];
const LOW = 0.85,
  HIGH = 2.62;
const plus = (a: Rgb, b: Rgb, k: number): Rgb => [a[0] + b[0] * k, a[1] + b[1] * k, a[2] + b[2] * k];
const over = (a: Rgb, b: Rgb, k: number): Rgb => [mix(a[0], b[0], k), mix(a[1], b[1], k), mix(a[2], b[2], k)];

/** What is seen through the panes: hazy sky over a bright sea, far roofs. */
function outside(x: number, y: number): Rgb {
  const sky: Rgb = [1.05 + 0.25 * fractal2(x * 0.9, y * 1.6, 4, 611), 1.12 + 0.2 * fractal2(x * 0.9, y * 1.6, 4, 611), 1.22],
    sea = smoothstep(1.42, 1.4, y),
    roofs = 1.3 + 0.12 * Math.floor(4 * noise2(x * 2.3, 3, 613)) * 0.25;
  let c = over(sky, [0.62, 0.74, 0.8], sea);
  if (y < roofs) c = over(c, [0.4, 0.42, 0.47], 0.75);
  return c;
}

/** The wall with its windows at a place (right, above the floor). */
function wall(x: number, y: number): Rgb {
  let nearest = 9;
  for (const [from, to] of WINDOWS) {
    const inX = Math.min(x - from, to - x),
      inY = Math.min(y - LOW, HIGH - y),
      inside = Math.min(inX, inY);
    if (inside > 0.05) {
      const bars = Math.min(abs(x - (from + to) / 2), abs(y - 1.45), abs(y - 2.05)),
        bar = smoothstep(0.016, 0.022, bars);
      return over([0.2, 0.19, 0.18], outside(x, y), bar);
    }
    // The reveal, lit from outside, brightest at its inner edge.
    if (inside > -0.06)
      return [
        0.4 + 0.3 * smoothstep(0, 0.05, inside),
        0.39 + 0.29 * smoothstep(0, 0.05, inside),
        0.37 + 0.24 * smoothstep(0, 0.05, inside),
      ];
    const dx = Math.max(0, Math.max(from - x, x - to)),
      dy = Math.max(0, Math.max(LOW - y, y - HIGH));
    nearest = Math.min(nearest, hypot(dx, dy));
  }
  // Boards below, plaster above; both take light from the windows beside them.
  const glow = 0.55 + 0.5 * exp(-nearest / 0.25);
  if (y < LOW - 0.12) {
    const board = x / 0.19,
      n = Math.floor(board),
      part = board - n,
      k =
        (0.16 + 0.05 * uniform(n, 615, 1)) *
        (0.75 + 0.5 * fractal2(n * 3.7 + part * 0.5, y * 3 + n, 4, 617)) *
        (0.4 + 0.6 * smoothstep(0, 0.05, part) * smoothstep(1, 0.95, part)) *
        glow;
    return [k * 0.62, k * 0.78, k];
  }
  if (y < LOW - 0.06) return [0.5 * glow, 0.5 * glow, 0.47 * glow];
  const plaster = 0.3 * glow * (0.93 + 0.14 * fractal2(x * 2.2, y * 2.2, 5, 619));
  let c: Rgb = [plaster, plaster * 0.97, plaster * 0.9];
  // A framed profile of the coast hangs between the windows in the middle.
  const px = abs(x),
    py = y - 1.72;
  if (px < 0.25 && abs(py) < 0.36) {
    const edge = Math.min(0.25 - px, 0.36 - abs(py));
    if (edge < 0.035) c = over([0.11, 0.06, 0.03], [0.5, 0.36, 0.16], smoothstep(0.02, 0.03, edge) * 0.6);
    else {
      const hill = 0.05 * fractal2(x * 9, 3, 4, 621) - 0.02;
      c = py < hill - 0.06 ? [0.35, 0.4, 0.4] : py < hill ? [0.28, 0.24, 0.19] : [0.6, 0.56, 0.45];
    }
  }
  return c;
}

/** The coast on the chart: above 0 is land. */
const land = (u: number, v: number): number => fractal2(u * 2.1 + 3.1, v * 2.1 - 1.2, 6, 631) - 0.47 - 0.16 * (0.35 - v) + 0.1 * u * u;

/** The chart at a place of its own: u across -1..1, v from its near edge 0 to its far one 1. */
function chart(u: number, v: number): Rgb {
  const age = fractal2(u * 3, v * 3, 5, 633),
    paper: Rgb = [0.5 - 0.12 * age, 0.43 - 0.13 * age, 0.3 - 0.12 * age],
    ink: Rgb = [0.09, 0.07, 0.06];
  const edge = Math.min(1 - abs(u), v * 0.8, (1 - v) * 0.8);
  let c = paper;
  if (edge > 0.05) {
    const l = land(u, v),
      shore = exp(-(l / 0.012) * (l / 0.012));
    if (l > 0) {
      c = over(c, [0.4, 0.3, 0.15], 0.35 + 0.2 * exp(-l / 0.03));
      // Hills, hatched on the side that faces away from the light.
      const slope = land(u + 0.012, v + 0.012) - l,
        hatch = abs((u - v) * 90 - Math.round((u - v) * 90));
      c = over(c, ink, 0.55 * smoothstep(0.001, 0.006, slope) * smoothstep(0.35, 0.12, hatch));
    } else {
      c = over(c, [0.38, 0.47, 0.44], 0.4 * exp(l / 0.05) + 0.08);
      // Lines of equal depth.
      const depth = -l / 0.045,
        line = abs(depth - Math.round(depth));
      if (depth > 0.6) c = over(c, ink, 0.3 * smoothstep(0.07, 0.02, line));
    }
    c = over(c, ink, 0.8 * clamp(shore, 0, 1));
    // Bearings that leave the rose, and the rose.
    const rx = u - 0.42,
      ry = (v - 0.36) * 0.8,
      far = hypot(rx, ry),
      turn = atan2(ry, rx),
      sixteenth = (turn / (2 * PI)) * 16,
      off = abs(sixteenth - Math.round(sixteenth)) * ((2 * PI) / 16) * far;
    if (far > 0.16) c = over(c, ink, 0.32 * smoothstep(0.003, 0.0012, off));
    for (const [r, w] of [
      [0.16, 0.003],
      [0.145, 0.0015],
      [0.08, 0.002],
    ] as const)
      c = over(c, ink, 0.75 * smoothstep(w, w * 0.4, abs(far - r)));
    if (far < 0.145) {
      const eighth = (turn / (2 * PI)) * 8,
        k = abs(eighth - Math.round(eighth)) * 2,
        reach = 0.145 * (1 - 0.8 * k);
      if (far < reach) c = over(c, Math.floor(eighth * 2 + 64) % 2 ? ink : [0.42, 0.12, 0.08], 0.8);
    }
    const grid = Math.min(abs(u * 4 - Math.round(u * 4)) / 4, (abs(v * 3 - Math.round(v * 3)) / 3) * 0.8);
    c = over(c, ink, 0.28 * smoothstep(0.0022, 0.0008, grid));
  } else {
    // The scale along the border.
    const along = abs(u) > 1 - 0.05 ? v * 24 : u * 24,
      dark = Math.floor(along + 64) % 2;
    c = edge > 0.02 && edge < 0.035 ? over(c, ink, dark ? 0.8 : 0.05) : c;
    c = over(c, ink, 0.7 * smoothstep(0.0025, 0.001, Math.min(abs(edge - 0.02), abs(edge - 0.035), abs(edge - 0.05))));
  }
  return c;
}

/** Where the sun lies on the table: the windows' panes, slanting in from the left. */
function sunAt(x: number, z: number): number {
  let sun = 0;
  for (const [from, to] of WINDOWS) {
    const w = x - 0.62 * (FAR - z) + 0.55,
      soft = 0.05,
      pane = (a: number, b: number, q: number) => smoothstep(a - soft, a + soft, q) * smoothstep(b + soft, b - soft, q),
      half = (from + to) / 2;
    sun += (pane(from + 0.06, half - 0.02, w) + pane(half + 0.02, to - 0.06, w)) * pane(0.95, 2.02, z);
  }
  return clamp(sun, 0, 1);
}

/** Brass weights that hold the chart down: right, away, radius. */
const WEIGHTS: readonly (readonly [number, number, number])[] = [
  [-0.93, 1.92, 0.05],
  [0.99, 1.98, 0.05],
  [1.02, 1.0, 0.055],
];

function table(x: number, z: number, sx: number, sy: number): Rgb {
  const n = Math.floor(z / 0.23 + 8),
    part = z / 0.23 + 8 - n,
    grain = fractal2(x * 1.4 + n * 7, part * 7 + n * 13, 5, 641),
    k = (0.75 + 0.25 * uniform(n, 643, 2)) * (0.55 + 0.9 * grain) * (0.5 + 0.5 * smoothstep(0, 0.02, part) * smoothstep(1, 0.98, part));
  let c: Rgb = [0.17 * k, 0.075 * k, 0.035 * k],
    gloss = 0.16 + 0.5 * smoothstep(1, 2.4, z);
  // The chart lies a little askew.
  const a = 0.045,
    cx = x * cos(a) + (z - 1.45) * sin(a),
    cz = -x * sin(a) + (z - 1.45) * cos(a),
    u = (cx - 0.04) / 1.04,
    v = (cz + 0.52) / 1.04;
  const off = hypot(Math.max(0, abs(u) - 1) * 1.04, Math.max(0, -v, v - 1) * 1.04);
  if (off <= 0) {
    c = chart(u, v);
    // Its corners and folds stand up a little.
    const fold = Math.min(abs(u - 0.33), abs(u + 0.33), abs(u)),
      crease = (u - 0.33) * (u + 0.33) * u > 0 ? 1 : -1;
    const bend = 1 + 0.1 * crease * exp(-fold / 0.03) + 0.07 * (fractal2(u * 2, v * 2, 3, 645) - 0.5);
    c = [c[0] * bend, c[1] * bend, c[2] * bend];
    gloss *= 0.06;
  } else c = [c[0] * (1 - 0.55 * exp(-off / 0.018)), c[1] * (1 - 0.55 * exp(-off / 0.018)), c[2] * (1 - 0.55 * exp(-off / 0.018))];
  const sun = sunAt(x, z),
    day = 0.62 + 0.25 * smoothstep(0.8, 2.3, z);
  let lit: Rgb = [c[0] * (day + 1.05 * sun), c[1] * (day + 0.95 * sun), c[2] * (day * 1.08 + 0.76 * sun)];
  for (const [wx, wz, r] of WEIGHTS) {
    const d = hypot(x - wx + 0.05, (z - wz + 0.03) * 0.9);
    lit = over(lit, [lit[0] * 0.35, lit[1] * 0.35, lit[2] * 0.38], smoothstep(r * 1.5, r * 0.9, d));
  }
  // Windows and wall in the varnish, broken by its unevenness.
  const rough = fractal2(x * 6, z * 6, 3, 647) - 0.5,
    mirror = WALL * 1,
    shine = (k2: number) => {
      const yw = 2 * (HORIZON + (FOCAL * (EYE - TABLE)) / mirror) - sy + rough * 16 + k2;
      return wall(((sx + rough * 8 - MIDDLE) * WALL) / FOCAL, EYE - ((yw - HORIZON) * WALL) / FOCAL);
    };
  for (const step of [-14, -5, 5, 14]) lit = plus(lit, shine(step), (gloss * 0.42) / 4);
  return lit;
}

function weightAt(sx: number, sy: number): { cover: number; colour: Rgb } {
  for (const [wx, wz, r] of WEIGHTS) {
    const scale = FOCAL / wz,
      cx = MIDDLE + wx * scale,
      foot = HORIZON + (EYE - TABLE) * scale,
      rx = r * scale,
      ry = (rx * (EYE - TABLE)) / wz,
      tall = 0.055 * scale,
      q = (sx - cx) / rx;
    if (abs(q) > 1.05) continue;
    const bow = ry * Math.sqrt(Math.max(0, 1 - q * q)),
      lidY = foot - tall,
      onLid = abs(sy - lidY) < bow,
      onSide = sy >= lidY && sy < foot + bow;
    if (!onLid && !onSide) continue;
    const cover = smoothstep(1.02, 0.97, abs(q)),
      streak = onLid
        ? 0.6 + 0.5 * smoothstep(-1, 1, (lidY - sy) / ry)
        : 0.16 + 0.75 * exp(-((q + 0.42) / 0.16) * ((q + 0.42) / 0.16)) + 0.25 * exp(-((q - 0.6) / 0.2) * ((q - 0.6) / 0.2));
    return { cover, colour: [0.95 * streak, 0.68 * streak, 0.3 * streak] };
  }
  return { cover: 0, colour: [0, 0, 0] };
}

function sample(x: number, y: number): Rgb {
  const d = y - HORIZON,
    z = d > 1 ? (FOCAL * (EYE - TABLE)) / d : 99,
    wx = ((x - MIDDLE) * z) / FOCAL;
  let c: Rgb;
  if (z >= NEAR && z <= FAR && abs(wx) <= LONG) c = table(wx, z, x, y);
  else {
    const height = EYE - (d * WALL) / FOCAL;
    c = wall(((x - MIDDLE) * WALL) / FOCAL, height);
    // The table's far edge stands dark before the wall.
    if (z > FAR && z < FAR * 1.012 && abs(wx) < LONG) c = [0.1, 0.05, 0.03];
  }
  const weight = weightAt(x, y);
  if (weight.cover > 0) c = over(c, weight.colour, weight.cover);
  // Light hangs in the air below the windows.
  const slant = (x - MIDDLE) / WIDTH - (y - 120) / 1500,
    beam = 0.5 + 0.5 * cos(slant * 26);
  return plus(c, [0.05, 0.048, 0.04], 0.35 + 0.65 * beam * smoothstep(520, 120, y));
}

/** The chart room in linear light, before the lens. */
export function chartRoom(arena: Arena): Picture {
  const picture = arena.takePicture(WIDTH, HEIGHT);
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i += 4) {
      picture.data.fill(0, i, i + 3);
      for (let k = 0; k < 9; k++) {
        const c = sample(x + ((k % 3) + 0.5) / 3, y + (Math.floor(k / 3) + 0.5) / 3);
        for (let q = 0; q < 3; q++) picture.data[i + q]! += c[q]! / 9;
      }
      picture.data[i + 3] = 1;
    }
  return picture;
}
