import { exactMath } from '@wraithos/core/image';
import type { Draw } from './paint';

const { clamp, exp, smoothstep } = exactMath;

/** A number 0..1 of a point of a lattice. */
function at(x: number, y: number, z: number, seed: number): number {
  let h = Math.imul(x, 374761393) ^ Math.imul(y, 668265263) ^ Math.imul(z, 1440662683) ^ Math.imul(seed, 2246822519);
  h = Math.imul(h ^ (h >>> 15), 2246822519);
  h = Math.imul(h ^ (h >>> 13), 3266489917);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}
/** Smooth noise in space, 0..1. */
function noise3(x: number, y: number, z: number, seed: number): number {
  const xi = Math.floor(x),
    yi = Math.floor(y),
    zi = Math.floor(z),
    fx = x - xi,
    fy = y - yi,
    fz = z - zi,
    u = fx * fx * (3 - 2 * fx),
    v = fy * fy * (3 - 2 * fy),
    w = fz * fz * (3 - 2 * fz),
    line = (j: number, k: number) => {
      const a = at(xi, yi + j, zi + k, seed);
      return a + (at(xi + 1, yi + j, zi + k, seed) - a) * u;
    },
    plane = (k: number) => {
      const a = line(0, k);
      return a + (line(1, k) - a) * v;
    },
    near = plane(0);
  return near + (plane(1) - near) * w;
}
/**
 * Billows: octaves of noise folded at the middle, so that they bulge outwards as smoke does, 0..1. Each octave is turned against the one before, or the
 * lattice would be seen.
 */
function billows(x: number, y: number, z: number, octaves: number, seed: number): number {
  let sum = 0,
    weight = 0.5,
    all = 0;
  for (let o = 0; o < octaves; o++) {
    sum += weight * Math.abs(2 * noise3(x, y, z, seed + o * 17) - 1);
    all += weight;
    weight *= 0.55;
    [x, y, z] = [
      2.13 * (0.8 * y + 0.6 * z) + 3.7,
      2.13 * (-0.8 * x + 0.36 * y - 0.48 * z) + 1.9,
      2.13 * (-0.6 * x - 0.48 * y + 0.64 * z) + 5.3,
    ];
  }
  return sum / all;
}

export interface Smoke {
  width: number;
  height: number;
  frames: number;
  seed: number;
  /** Where it begins, shares of the width and height; radius at the end as a share of the height; height against its breadth. */
  from: readonly [number, number];
  radius: number;
  flat: number;
  /** How far it rises, as a share of the height, and how much of it is cut off below (1 stands on the ground). */
  rise: number;
  grounded: boolean;
  /** Linear tint at the light and in the shade. */
  light: readonly [number, number, number];
  shade: readonly [number, number, number];
  /** How thick it is at its thickest, and the share of its time at which it begins to thin. */
  thick: number;
  thins: number;
}

/** Balls that a burst is made of. */
const BALLS = 11;
/** Steps of a ray through the cloud, and towards the light. */
const STEPS = 26,
  LIGHT_STEPS = 3;

/**
 * A burst of smoke as a volume: a ball of billows that swells, rolls outwards and tears open, marched through from front to back and lit from the upper
 * left through itself. Straight colours (display-encoded) and alpha, eight bits.
 */
export function smoke(s: Smoke): Draw {
  return (frame) => {
    const { width, height } = s,
      out = new Uint8Array(width * height * 4),
      t = frame / (s.frames - 1),
      swell = 1 - exp(-3.4 * t),
      radius = s.radius * (0.1 + 0.9 * swell),
      aspect = width / height,
      cx = s.from[0] * aspect,
      cy = s.from[1] - s.rise * (0.35 * swell + 0.65 * t),
      // The air that it is torn by: finer and stronger as it grows.
      grain = 3.5 / Math.max(0.1, radius * s.flat),
      roll = 2.6 * swell,
      up = 1.3 * t,
      torn = 0.6 + 0.95 * t * t,
      thick = s.thick * smoothstep(0, 0.05, t + 0.02) * (1 - smoothstep(s.thins, 1, t)),
      lx = -0.46,
      ly = -0.72,
      lz = -0.52;
    // A few balls that fly apart and grow into each other: no burst is round.
    const balls = Array.from({ length: BALLS }, (_, k) => {
      const u = (c: number) => at(k, c, 7, s.seed) * 2 - 1,
        far = k === 0 ? 0 : radius * (0.34 + 0.22 * at(k, 9, 7, s.seed));
      return {
        x: cx + far * u(1),
        y: cy + far * s.flat * (0.8 * u(2) - 0.25),
        z: far * u(3),
        r: radius * (k === 0 ? 0.66 : 0.34 + 0.2 * at(k, 5, 7, s.seed)),
      };
    });
    const density = (x: number, y: number, z: number, octaves: number): number => {
      let near = 9;
      for (const ball of balls) {
        const dx = x - ball.x,
          dy = (y - ball.y) / s.flat,
          dz = z - ball.z,
          r = (Math.sqrt(dx * dx + dy * dy + dz * dz) - ball.r) / radius;
        if (r < near) near = r;
      }
      // How deep it lies in the nearest ball, as a share of the whole.
      if (near > 0.2) return 0;
      const dx = x - cx,
        dy = y - cy,
        // Noise that is carried outwards with the smoke and turns over on its way.
        n = billows(dx * grain + 11, dy * grain + up, z * grain + roll, octaves, s.seed),
        d = 0.1 - near - torn * (0.62 * n - 0.12);
      const below = s.grounded ? smoothstep(s.from[1] + 0.08, s.from[1] - 0.12, y) : 1;
      return d <= 0 ? 0 : smoothstep(0, 0.34, d) * below;
    };
    const depth = radius * 1.25,
      step = (2 * depth) / STEPS,
      reach = radius * 0.2;
    for (let py = 0, i = 0; py < height; py++)
      for (let px = 0; px < width; px++, i += 4) {
        const x = (px + 0.5) / height,
          y = (py + 0.5) / height,
          dx = x - cx,
          dy = (y - cy) / s.flat;
        if (dx * dx + dy * dy > depth * depth) continue;
        let left = 1,
          r = 0,
          g = 0,
          b = 0;
        // Each ray begins elsewhere within a step: no rings are seen.
        for (let q = at(px, py, frame, s.seed + 99); q < STEPS && left > 0.01; q++) {
          const z = -depth + q * step,
            d = density(x, y, z, 5);
          if (d <= 0.004) continue;
          let shadow = 0;
          for (let l = 1; l <= LIGHT_STEPS; l++) {
            const far = reach * (l + 0.35 * l * l);
            shadow += density(x + lx * far, y + ly * far, z + lz * far, 3) * (0.7 + 0.35 * l);
          }
          const lit = exp(-1.5 * Math.max(0.35, thick) * shadow),
            cover = 1 - exp(((-d * thick * step * 16) / Math.max(0.18, radius)) * 0.62),
            share = left * cover;
          r += share * (s.shade[0] + (s.light[0] - s.shade[0]) * lit);
          g += share * (s.shade[1] + (s.light[1] - s.shade[1]) * lit);
          b += share * (s.shade[2] + (s.light[2] - s.shade[2]) * lit);
          left *= 1 - cover;
        }
        const a = 1 - left;
        if (a <= 0.004) continue;
        const edge = Math.min(px, py, width - 1 - px, s.grounded ? 1e9 : height - 1 - py),
          alpha = a * smoothstep(0, 0.05 * height, edge);
        for (const [c, v] of [r, g, b].entries()) out[i + c] = Math.round(255 * clamp(Math.sqrt(clamp(v / a, 0, 1)), 0, 1));
        out[i + 3] = Math.round(255 * clamp(alpha, 0, 1));
      }
    return out;
  };
}
