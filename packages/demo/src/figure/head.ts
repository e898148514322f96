import { exactMath } from '@wraithos/core/image';
import type { Stance } from './stance';
import { join, take, wave, type Near, type Part } from './solid';
import { dot, place, sub, times, type V3 } from './vector';

const { atan2 } = exactMath;
/** Her head against the measures below, which are those of a head 0.22 m high. */
export const HEAD_SIZE = 1.08;
/** A point in those measures, and a distance in them back in metres. */
export const inner = (p: V3): V3 => times(p, 1 / HEAD_SIZE);
export const ball = (x: number, y: number, z: number, r: number): number => Math.sqrt(x * x + y * y + z * z) - r;
/** A bound of the distance to an ellipsoid. */
export function egg(x: number, y: number, z: number, rx: number, ry: number, rz: number): number {
  const a = x / rx,
    b = y / ry,
    c = z / rz,
    k = Math.sqrt(a * a + b * b + c * c),
    l = Math.sqrt((a * a) / (rx * rx) + (b * b) / (ry * ry) + (c * c) / (rz * rz));
  return l > 1e-9 ? (k * (k - 1)) / l : -Math.min(rx, ry, rz);
}
export function rod(x: number, y: number, z: number, a: readonly number[], b: readonly number[], ra: number, rb: number): number {
  const dx = b[0]! - a[0]!,
    dy = b[1]! - a[1]!,
    dz = b[2]! - a[2]!,
    px = x - a[0]!,
    py = y - a[1]!,
    pz = z - a[2]!,
    t = Math.max(0, Math.min(1, (px * dx + py * dy + pz * dz) / (dx * dx + dy * dy + dz * dz)));
  return ball(px - dx * t, py - dy * t, pz - dz * t, ra + (rb - ra) * t);
}

/** Her face and neck. Places from the middle of the head: to her left, up, ahead; the two sides are alike. */
export function head(s: Stance): Part {
  const f = s.head;
  return {
    middle: place(f, 0, -0.04, 0),
    radius: 0.19 * HEAD_SIZE,
    look(px, py, pz, near: Near) {
      const p = inner(sub([px, py, pz], f.at)),
        side = dot(p, f.side),
        y = dot(p, f.up),
        z = dot(p, f.ahead),
        x = Math.abs(side);
      let d = egg(x, y - 0.012, z + 0.004, 0.075, 0.108, 0.093);
      d = join(d, egg(x, y + 0.052, z - 0.02, 0.056, 0.066, 0.066), 0.04);
      d = join(d, ball(x, y + 0.1, z - 0.06, 0.021), 0.035);
      d = join(d, rod(x, y, z, [0, -0.07, -0.02], [0, -0.2, -0.035], 0.052, 0.056), 0.03);
      d = join(d, ball(x - 0.041, y + 0.022, z - 0.056, 0.028), 0.03);
      d = join(d, rod(x, y, z, [0, 0.03, 0.089], [0.045, 0.03, 0.068], 0.01, 0.008), 0.018);
      const socket = ball(x - 0.031, y - 0.005, z - 0.105, 0.019);
      d = -join(-d, socket, 0.016);
      d = join(d, rod(x, y, z, [0, 0.016, 0.086], [0, -0.021, 0.109], 0.0085, 0.0108), 0.014);
      d = join(d, ball(x - 0.012, y + 0.025, z - 0.097, 0.0068), 0.01);
      const upper = rod(x, y, z, [0, -0.0535, 0.0885], [0.025, -0.056, 0.076], 0.005, 0.0028),
        lower = rod(x, y, z, [0, -0.063, 0.0865], [0.021, -0.0605, 0.077], 0.0058, 0.003),
        lips = Math.min(upper, lower);
      take(near, join(d, lips, 0.006) * HEAD_SIZE, lips < d + 0.0015 ? 'lips' : 'skin', side, y, z);
      const ex = x - 0.031,
        ey = y - 0.004,
        ez = z - 0.081,
        open = 0.0062 * (1 - s.blink) - 0.0022 * s.blink;
      // Lids are a little larger than the eyeball and leave it free between two lines.
      take(near, ball(ex, ey, ez, 0.0128) * HEAD_SIZE, 'eye', side, y, z);
      const lids = ball(ex, ey, ez, 0.0146);
      take(near, Math.max(lids, open - ey - ez * 0.05) * HEAD_SIZE, 'skin', side, y, z);
      take(near, Math.max(lids, ey + 0.0048) * HEAD_SIZE, 'skin', side, y, z);
    },
  };
}

/** A knitted cap with a rolled brim, and the hair below it, gathered at the nape. */
export function headwear(s: Stance): Part {
  const f = s.head;
  return {
    middle: place(f, 0, 0.02, -0.02),
    radius: 0.19 * HEAD_SIZE,
    look(px, py, pz, near: Near) {
      const p = inner(sub([px, py, pz], f.at)),
        x = dot(p, f.side),
        y = dot(p, f.up),
        z = dot(p, f.ahead);
      const angle = atan2(z + 0.012, x),
        edge = 0.052 + 0.12 * (z + 0.01),
        rib = 0.0022 * wave(46 * angle);
      let cap = Math.max(egg(x, y - 0.05, z + 0.012, 0.086, 0.09, 0.104), edge - y);
      const q = Math.sqrt((x / 0.083) * (x / 0.083) + ((z + 0.011) / 0.102) * ((z + 0.011) / 0.102)),
        roll = Math.sqrt((q - 1) * (q - 1) * 0.0081 + (y - edge - 0.008) * (y - edge - 0.008) * 0.55) - 0.015;
      cap = join(cap, roll, 0.006) - rib;
      take(near, cap * 0.85 * HEAD_SIZE, 'cap', angle, y, 0);
      let hair = Math.max(egg(x, y + 0.004, z + 0.022, 0.083, 0.112, 0.093), z - 0.028 + 0.25 * Math.max(0, -y));
      hair = join(hair, egg(x, y + 0.075, z + 0.092, 0.045, 0.045, 0.036), 0.03);
      // A strand that came loose before each ear.
      hair = Math.min(hair, rod(Math.abs(x), y, z, [0.072, 0.05, 0.03], [0.068, -0.06, 0.032], 0.011, 0.006));
      take(near, (hair - 0.0025 * wave(120 * angle + 40 * y)) * HEAD_SIZE, 'hair', angle, y, 0);
    },
  };
}
