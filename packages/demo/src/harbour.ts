import { exactMath, fractal2, noise2, uniform } from '@wraithos/core/image';
export type Rgb = [number, number, number];

import { HEIGHT, WIDTH } from './film';

const { exp, hypot, smoothstep, clamp, mix, sin } = exactMath;
export const HORIZON = 392,
  VANISH_X = 660;

const lerp = (a: Rgb, b: Rgb, t: number): Rgb => [mix(a[0], b[0], t), mix(a[1], b[1], t), mix(a[2], b[2], t)];
const addTo = (a: Rgb, b: Rgb, k: number): Rgb => [a[0] + b[0] * k, a[1] + b[1] * k, a[2] + b[2] * k];
const gauss = (d: number, w: number) => exp(-(d / w) * (d / w));

export interface Light {
  x: number;
  y: number;
  power: number;
  colour: Rgb;
}
const shoreLights: Light[] = [
  { x: 212, y: 374, power: 1, colour: [1, 0.62, 0.28] },
  { x: 248, y: 378, power: 0.7, colour: [1, 0.75, 0.45] },
  { x: 300, y: 376, power: 0.8, colour: [1, 0.6, 0.3] },
  { x: 352, y: 380, power: 0.5, colour: [0.8, 0.85, 1] },
  { x: 415, y: 379, power: 0.9, colour: [1, 0.55, 0.25] },
  { x: 1160, y: 383, power: 0.8, colour: [1, 0.3, 0.2] },
  { x: 930, y: 385, power: 0.5, colour: [1, 0.8, 0.5] },
];

/** Dusk sky with layered cloud, moon and stars, linear light. */
export function sky(x: number, y: number, stars = true): Rgb {
  const t = clamp(y / HORIZON, 0, 1);
  let colour = lerp([0.018, 0.032, 0.075], [0.1, 0.13, 0.2], smoothstep(0, 0.75, t));
  colour = lerp(colour, [0.52, 0.3, 0.18], smoothstep(0.62, 1, t) * 0.75 * gauss(x - 760, 640));
  const cloud = fractal2(x / 260 + 3, y / 60 + 1, 6, 3),
    band = smoothstep(0.15, 0.6, t) * smoothstep(1.05, 0.55, t);
  const cover = smoothstep(0.47, 0.74, cloud) * band;
  colour = lerp(colour, [0.12, 0.1, 0.13], cover * 0.85);
  const edge = clamp(cloud - fractal2(x / 260 + 2.97, y / 60 + 1.06, 6, 3), 0, 1) * 6 * band * smoothstep(0.42, 0.55, cloud);
  colour = addTo(colour, [0.55, 0.27, 0.14], edge * gauss(x - 780, 600));
  const m = hypot(x - 1010, y - 118),
    disc = smoothstep(25, 22.5, m);
  if (disc > 0) {
    const k = 0.45 + 0.8 * fractal2(x / 14, y / 14, 4, 9);
    colour = lerp(colour, [0.62 * k, 0.6 * k, 0.54 * k], disc);
  }
  colour = addTo(colour, [0.8, 0.85, 1], exp(-m / 38) * 0.1 + exp(-m / 160) * 0.045);
  const sx = Math.floor(x / 24),
    sy = Math.floor(y / 24);
  if (stars && uniform(sx, sy, 77) > 0.955) {
    const d = hypot(x - (sx + 0.2 + 0.6 * uniform(sx, sy, 78)) * 24, y - (sy + 0.2 + 0.6 * uniform(sx, sy, 79)) * 24);
    colour = addTo(
      colour,
      [0.9, 0.95, 1],
      gauss(d, 0.9) * (0.2 + 0.6 * uniform(sx, sy, 80)) * smoothstep(0.62, 0.1, t) * (1 - cover) * (1 - disc),
    );
  }
  return colour;
}

/** Which part of the harbour a camera sees: where its horizon is, how far its view is moved along the shore (pixels), and what shines there. */
export interface Outlook {
  horizon: number;
  shift: number;
  lights: readonly Light[];
  /** Height of long swell, 0 in the harbour's shelter. */
  swell: number;
  /** Whether the moon's path lies on the water. */
  moon: boolean;
}
export const JETTY: Outlook = { horizon: HORIZON, shift: 0, lights: shoreLights, swell: 0, moon: true };

/** Sky, shore and water of an outlook. The shore is sampled once for each pixel above the horizon, so that water and wet wood can mirror it. */
export class Harbour {
  private readonly mirror: Float32Array;
  private readonly glitter: Light[];
  constructor(readonly outlook: Outlook = JETTY) {
    const { horizon, lights, moon } = outlook;
    this.mirror = new Float32Array(WIDTH * (horizon + 1) * 3);
    this.glitter = moon ? [...lights, { x: 1010, y: 300, power: 1.6, colour: [0.75, 0.75, 0.7] as Rgb }] : [...lights];
    for (let y = 0; y <= horizon; y++)
      for (let x = 0; x < WIDTH; x++) this.mirror.set(this.shore(x + 0.5, y + 0.5, false), (y * WIDTH + x) * 3);
  }

  /** Sky with the far shore and its lights. Water is never still enough to mirror stars. */
  shore(x: number, y: number, stars = true): Rgb {
    const { horizon, shift, lights } = this.outlook,
      far = x - shift,
      level = horizon === HORIZON ? y : (y / horizon) * HORIZON;
    let colour = sky(far, level, stars);
    const top = horizon - 10 - 26 * fractal2(far / 120, 0.3, 5, 21) * smoothstep(0, 320, far) * smoothstep(700, 120, Math.abs(far - 330));
    colour = lerp(colour, [0.032, 0.036, 0.05], smoothstep(top - 1, top + 1.2, y));
    for (const light of lights) {
      const d = hypot(x - light.x, y - light.y);
      if (d < 90) colour = addTo(colour, light.colour, light.power * (gauss(d, 1.5) * 2.2 + 0.05 * exp(-d / 14)));
    }
    return colour;
  }
  private reflect(x: number, y: number): Rgb {
    const fx = clamp(x - 0.5, 0, WIDTH - 1.001),
      fy = clamp(y - 0.5, 0, this.outlook.horizon - 0.001),
      xi = Math.floor(fx),
      yi = Math.floor(fy),
      m = this.mirror;
    const at = (yi * WIDTH + xi) * 3,
      tx = fx - xi,
      ty = fy - yi,
      row = WIDTH * 3;
    const one = (c: number) => mix(mix(m[at + c]!, m[at + 3 + c]!, tx), mix(m[at + row + c]!, m[at + row + 3 + c]!, tx), ty);
    return [one(0), one(1), one(2)];
  }

  /** The water at a time in frames: two sets of waves that run across each other. */
  sea(x: number, y: number, time = 0): Rgb {
    const { horizon, swell } = this.outlook,
      d = Math.max(y - horizon, 0.5),
      z = 1 / (d / (HEIGHT - horizon) + 0.012),
      u = (x - 640) * z * 0.012,
      v = z * 5;
    // Waves smaller than a pixel would only shimmer: they fade towards the horizon.
    const fine = smoothstep(6, 60, d);
    const s = time / 24,
      // Each field of waves lies askew, so that its lattice never runs along the picture's rows.
      a = 0.82 * u - 0.57 * v,
      b = 0.57 * u + 0.82 * v,
      c = 0.71 * u + 0.71 * v,
      e = 0.71 * v - 0.71 * u,
      long =
        0.5 *
        (fractal2(a * 1.5 + 2 + 0.1 * s, b * 1.5 - 0.16 * s, d < 20 ? 3 : 5, 31) +
          fractal2(c * 1.4 - 0.13 * s, e * 1.4 + 0.2 * s, d < 20 ? 3 : 4, 33)),
      short = fine > 0 ? mix(0.5, fractal2(a * 4 + 0.3 * s, b * 4 - 0.5 * s, 4, 37), fine) : 0.5;
    const rolling = swell
      ? swell * (sin(v * 0.62 - s * 1.5 + 2.2 * u) + 0.6 * sin(v * 1.05 - s * 1.9 - 1.3 * u + 1)) * smoothstep(2, 26, d)
      : 0;
    const slope = 1.35 * (long - 0.5) + 0.5 * (short - 0.5) + rolling;
    // Three facets a sample: a pixel holds many.
    const facet = (k: number) =>
      this.reflect(x + k * 70 * smoothstep(0, 200, d), horizon - d * 0.8 - k * 90 * smoothstep(0, 40, d) - k * 20);
    const mirrored = lerp(facet(slope), lerp(facet(slope - 0.07), facet(slope + 0.07), 0.5), 0.6);
    const fresnel = 0.28 + 0.55 * exp(-d / 90);
    let colour = lerp([0.01, 0.018, 0.026], mirrored, fresnel);
    for (const light of this.glitter) {
      const w =
        gauss(x - light.x - slope * 40, 6 + d * 0.16 + (light.x === 1010 ? 10 : 0)) * exp(-d / 150) * clamp(0.2 + slope * 3.2, 0, 2);
      colour = addTo(colour, light.colour, w * light.power * 0.55);
    }
    return colour;
  }

  /** The planks at a point: colour, and what lamplight and reflections need to know. Null off the deck. */
  deck(x: number, y: number): { colour: Rgb; wet: number; tone: number; gap: number; rough: number; near: number } | null {
    const near = (y - HORIZON) / (HEIGHT - HORIZON);
    if (near < 0.079 || Math.abs(x - VANISH_X) > near * 760) return null;
    const px = (x - VANISH_X) / near / 760,
      pz = 1 / near,
      plank = Math.floor(pz * 11),
      along = pz * 11 - plank;
    const tone = 0.55 + 0.5 * uniform(plank, 0, 5);
    const grain =
      fractal2(px * 5 + plank * 13.7, along * 1.6 + plank * 3.1, 5, 51) * 0.8 + 0.25 * noise2(px * 60 + plank * 7, along * 4, 55);
    const gap = smoothstep(0, 0.06, along) * smoothstep(1, 0.94, along),
      nail = Math.min(hypot((Math.abs(px) - 0.82) * 38, (along - 0.5) * 2.2), 9);
    const k = tone * (0.5 + grain) * (0.12 + 0.88 * gap) * (0.55 + 0.45 * smoothstep(0.1, 0.22, nail));
    const wet = (0.25 + 0.75 * smoothstep(0.4, 0.6, fractal2(px * 2.3 + 4, pz * 0.9, 4, 61))) * gap,
      rough = fractal2(px * 40, pz * 22, 3, 65) - 0.5;
    const mirrored = this.reflect(x + rough * 30 * near, clamp(2 * (HORIZON + 36) - y + rough * 46 * near + 6, 4, HORIZON));
    const gloss = (0.05 + wet * 0.75) * (0.1 + 0.5 * exp(-near * 2.4)),
      dry = 1 - 0.35 * wet;
    const wood: Rgb = [0.06 * k * dry, 0.05 * k * dry, 0.044 * k * dry];
    return {
      colour: lerp(addTo(wood, mirrored, gloss), [0.13, 0.115, 0.12], clamp(0.55 * exp(-near * 16), 0, 1)),
      wet,
      tone,
      gap,
      rough,
      near,
    };
  }

  /** One sample of the empty set without its water: linear light, and the share of the water that shows through. */
  sample(x: number, y: number): { colour: Rgb; water: number } {
    let colour: Rgb = y >= HORIZON ? [0, 0, 0] : this.shore(x, y),
      water = y >= HORIZON ? 1 : 0;
    const lay = (over: Rgb, cover: number) => {
      colour = lerp(colour, over, cover);
      water *= 1 - cover;
    };
    const fog = gauss(y - HORIZON - 6, 24);
    if (fog > 0.01) lay([0.17, 0.15, 0.16], clamp(fog * (0.35 + 0.5 * fractal2(x / 190 + 5, y / 30, 4, 41)) * 0.55, 0, 1));
    const deck = y > HORIZON + 26 ? this.deck(x, y) : null;
    if (deck) lay(deck.colour, 1);
    for (const at of [0.075, 0.115, 0.19, 0.36, 0.72])
      for (const side of [-1, 1]) {
        const cx = VANISH_X + side * at * 742,
          foot = HORIZON + at * (HEIGHT - HORIZON),
          w = at * 46,
          h = at * 250,
          a = Math.abs(x - cx);
        if (a > w + 1 || y < foot - h - 2 || y > foot + 4) continue;
        const cover =
          smoothstep(w + 0.7, w - 0.7, a) *
          smoothstep(foot - h - 1, foot - h + 1, y) *
          smoothstep(foot + 3, foot - 1, y + ((x - cx) * (x - cx)) / (w * 9));
        const n = clamp((x - cx) / w, -1, 1),
          texture = 0.6 + 0.7 * fractal2(((x - cx) / w) * 2, (y / 9 / at) * 0.06, 4, 71),
          lit = (0.35 + 0.65 * clamp(0.5 - n * 0.62, 0, 1)) * texture;
        const rim = clamp(-n - 0.55, 0, 1) * (side > 0 ? 1 : 0.3);
        const post: Rgb = [0.05 * lit + 0.16 * rim, 0.043 * lit + 0.1 * rim, 0.04 * lit + 0.06 * rim];
        lay(lerp(post, [0.13, 0.115, 0.12], 0.5 * exp(-at * 16)), cover);
      }
    return { colour, water };
  }
}

/** Coverage and colour of the mooring post and the slack rope that stand in front of everyone. */
export function foreground(x: number, y: number): { cover: number; colour: Rgb } {
  const cx = 688,
    w = 25,
    top = 494,
    n = clamp((x - cx) / w, -1, 1);
  const collar = Math.abs(y - 548) < 15 ? 3.5 : 0;
  const post =
    smoothstep(w + collar + 0.8, w + collar - 0.8, Math.abs(x - cx)) * smoothstep(top - 1 - 5 * (1 - n * n), top + 1 - 5 * (1 - n * n), y);
  const t = clamp((x + 30) / (cx + 20), 0, 1),
    sag = 4 * t * (1 - t),
    ry = mix(470, 548, t) + sag * 84,
    slope = (78 + 84 * (4 - 8 * t)) / (cx + 20);
  const across = (y - ry) / Math.sqrt(1 + slope * slope),
    rope = x < cx ? smoothstep(5.4, 4.0, Math.abs(across)) : 0;
  const cover = Math.max(post, rope);
  if (cover <= 0) return { cover: 0, colour: [0, 0, 0] };
  const wood = 0.5 + 0.9 * fractal2((x - cx) / 9 + 30, y / 60, 5, 401),
    shade = 0.3 + 0.7 * clamp(0.55 - n * 0.6, 0, 1),
    top3 = smoothstep(top + 9, top, y);
  const twist = 0.5 + 0.5 * exactMath.sin((x * 0.9 + across * 1.6) * 0.72),
    round = Math.sqrt(Math.max(0.05, 1 - (across / 5.4) * (across / 5.4)));
  const coil = collar && post > 0 ? 0.35 + 0.65 * Math.abs(exactMath.sin((y - 533 + n * 3) * 0.628)) : 0;
  const ropeLit = (0.25 + 0.75 * round) * (0.55 + 0.45 * twist) * (0.6 + 0.4 * clamp(0.5 - across / 9, 0, 1));
  if (rope >= post) return { cover, colour: [0.135 * ropeLit, 0.11 * ropeLit, 0.082 * ropeLit] };
  if (coil > 0) return { cover, colour: [0.12 * coil * shade, 0.098 * coil * shade, 0.073 * coil * shade] };
  const lit = wood * shade * (1 + top3 * 0.7);
  return { cover, colour: [0.046 * lit + 0.012 * top3, 0.041 * lit + 0.012 * top3, 0.04 * lit + 0.014 * top3] };
}
