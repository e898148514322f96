import { exactMath, hash, uniform } from '@wraithos/core/image';
import { gauss, light, pixels, type Draw } from './paint';

const { atan2, clamp, cos, exp, hypot, sin, smoothstep } = exactMath;

export type Point = readonly [number, number];
/** A jagged way from a to b: halves are moved aside, less at each step. */
export function jagged(a: Point, b: Point, rough: number, seed: number, depth: number): Point[] {
  if (depth === 0) return [a, b];
  const dx = b[0] - a[0],
    dy = b[1] - a[1],
    off = (uniform(seed, depth, 1) - 0.5) * rough,
    at = 0.4 + 0.2 * uniform(seed, depth, 2),
    m: Point = [a[0] + dx * at - dy * off, a[1] + dy * at + dx * off];
  return [...jagged(a, m, rough, hash(seed, depth, 3), depth - 1).slice(0, -1), ...jagged(m, b, rough, hash(seed, depth, 4), depth - 1)];
}
/** A forked bolt, drawn anew in every frame; it strikes, flickers and fades. */
export function bolt(width: number, height: number, frames: number): Draw {
  // Measures below are those of a picture 512 px tall.
  const k0 = height / 512;
  return (frame) => {
    const strength = [1.2, 1, 0.55, 0.95, 0.75, 0.4, 0.85, 0.5, 0.3, 0.42, 0.2, 0.1][frame % frames]!,
      seed = hash(1013, frame),
      main = jagged([width * 0.5, 10], [width * (0.35 + 0.3 * uniform(seed, 5)), height - 12], 0.42, seed, 7),
      lines: { points: Point[]; w: number; power: number }[] = [{ points: main, w: 1.7 * k0, power: 1 }];
    for (let k = 0; k < 6; k++) {
      const from = main[12 + Math.floor(uniform(seed, k, 11) * (main.length - 32))]!,
        side = uniform(seed, k, 12) < 0.5 ? -1 : 1,
        long = k0 * (40 + 110 * uniform(seed, k, 13)),
        to: Point = [
          clamp(from[0] + side * long * (0.45 + 0.4 * uniform(seed, k, 14)), 8, width - 8),
          Math.min(height - 10, from[1] + long),
        ],
        branch = jagged(from, to, 0.5, hash(seed, k, 15), 5);
      lines.push({ points: branch, w: k0, power: 0.55 });
      const twig = branch[12 + Math.floor(uniform(seed, k, 16) * 12)]!;
      lines.push({
        points: jagged(
          twig,
          [clamp(twig[0] + side * long * 0.4, 6, width - 6), Math.min(height - 8, twig[1] + long * 0.3)],
          0.5,
          hash(seed, k, 17),
          4,
        ),
        w: 0.7 * k0,
        power: 0.3,
      });
    }
    const power = new Float32Array(width * height);
    for (const { points, w, power: p } of lines)
      points.slice(1).forEach((b, i) => {
        const a = points[i]!,
          dx = b[0] - a[0],
          dy = b[1] - a[1],
          l2 = dx * dx + dy * dy + 1e-6,
          taper = p < 1 ? 1 - 0.75 * (i / points.length) : 1 - 0.35 * (i / points.length);
        for (let y = Math.max(0, Math.floor(Math.min(a[1], b[1]) - 22 * k0)); y < Math.min(height, Math.max(a[1], b[1]) + 22 * k0); y++)
          for (let x = Math.max(0, Math.floor(Math.min(a[0], b[0]) - 22 * k0)); x < Math.min(width, Math.max(a[0], b[0]) + 22 * k0); x++) {
            const s = clamp(((x + 0.5 - a[0]) * dx + (y + 0.5 - a[1]) * dy) / l2, 0, 1),
              d = hypot(x + 0.5 - a[0] - s * dx, y + 0.5 - a[1] - s * dy),
              k = p * taper * (2.6 * gauss(d, w) + 0.24 * gauss(d, 5 * k0) + 0.07 * gauss(d, 13 * k0));
            // Lines that meet do not add up to knots.
            const at = y * width + x;
            if (k > power[at]!) power[at] = k;
          }
      });
    return pixels(width, height, (x, y) => light(power[Math.floor(y) * width + Math.floor(x)]! * strength, [0.46, 0.66, 1]));
  };
}

/** The flash of a blow: a hot middle, rays that shoot out, a ring that runs away, and sparks that fly. */
export function strike(size: number, frames: number): Draw {
  const rays = Array.from({ length: 34 }, (_, i) => ({
      angle: 6.283185307179586 * (i / 34 + 0.02 * (uniform(1021, i, 1) - 0.5)),
      long: 0.35 + 0.65 * uniform(1021, i, 2) * uniform(1021, i, 2),
      wide: 0.5 + uniform(1021, i, 3),
    })),
    sparks = Array.from({ length: 60 }, (_, i) => ({
      angle: 6.283185307179586 * uniform(1031, i, 1),
      speed: 0.25 + 0.75 * uniform(1031, i, 2),
      life: 0.45 + 0.55 * uniform(1031, i, 3),
    })),
    c = size / 2;
  return (frame) => {
    const t = frame / (frames - 1),
      burst = exp(-5.5 * t) * smoothstep(-0.05, 0.03, t),
      out = 1 - exp(-4.5 * t),
      ring = 0.08 + 0.84 * out,
      power = new Float32Array(size * size);
    const line = (a: Point, b: Point, w: number, p: number) => {
      const dx = b[0] - a[0],
        dy = b[1] - a[1],
        l2 = dx * dx + dy * dy + 1e-6,
        m = 4 * w + 2;
      for (let y = Math.max(0, Math.floor(Math.min(a[1], b[1]) - m)); y < Math.min(size, Math.max(a[1], b[1]) + m); y++)
        for (let x = Math.max(0, Math.floor(Math.min(a[0], b[0]) - m)); x < Math.min(size, Math.max(a[0], b[0]) + m); x++) {
          const s = clamp(((x + 0.5 - a[0]) * dx + (y + 0.5 - a[1]) * dy) / l2, 0, 1),
            d = hypot(x + 0.5 - a[0] - s * dx, y + 0.5 - a[1] - s * dy);
          power[y * size + x]! += p * (1 - 0.9 * s) * (gauss(d, w * (1 - 0.7 * s) + 0.5) + 0.12 * gauss(d, 3 * w + 1));
        }
    };
    for (const { angle, long, wide } of rays) {
      const from = 0.06 + 0.35 * out * long,
        to = (0.12 + 0.8 * long * out) * c,
        [ux, uy] = [cos(angle), sin(angle)];
      line([c + ux * from * c * 0.6, c + uy * from * c * 0.6], [c + ux * to, c + uy * to], (size / 260) * wide, 1.9 * exp(-4 * t));
    }
    for (const { angle, speed, life } of sparks) {
      const age = t / life;
      if (age >= 1) continue;
      const way = (a: number): Point => {
          const r = speed * (1 - exp(-2.6 * a)) * c * 0.96;
          return [c + cos(angle) * r, c + sin(angle) * r + 0.16 * size * a * a];
        },
        [head, tail] = [way(t), way(Math.max(0, t - 0.035))];
      line(head, tail, size / 520, 2.4 * (1 - age) * (1 - age));
    }
    return pixels(size, size, (x, y) => {
      const dx = x - c,
        dy = y - c,
        r = hypot(dx, dy) / c,
        uneven = 0.6 + 0.8 * uniform(Math.floor((atanTurn(dx, dy) + 1) * 24), 1041),
        edge = smoothstep(1, 0.86, r),
        heart = burst * (4.2 * gauss(r, 0.1 + 0.14 * out) + 0.6 * gauss(r, 0.42)),
        wave = 0.55 * exp(-5 * t) * uneven * gauss(r - ring, 0.012 + 0.03 * t) + 0.3 * exp(-5 * t) * gauss(r - ring, 0.06);
      return light((power[Math.floor(y) * size + Math.floor(x)]! + heart + wave) * edge, [1, 0.7, 0.36]);
    });
  };
}
const atanTurn = (x: number, y: number): number => atan2(y, x) / 6.283185307179586;
