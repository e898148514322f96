import { exactMath, fractal2, hash, uniform } from '@wraithos/core/image';
import type { Drawing } from './drawing';
import { smoke } from './smoke';

const { atan2, clamp, cos, exp, hypot, mix, PI, sin, smoothstep } = exactMath;
const gauss = (d: number, w: number) => exp(-(d / w) * (d / w));
type Colour = readonly [number, number, number];

/** Draws pixel by pixel: straight colour (display-encoded, 0..1) and alpha. Colour goes on where alpha ends, so that no dark fringe is left. */
function pixels(width: number, height: number, at: (x: number, y: number) => readonly [number, number, number, number]): Uint8Array {
  const out = new Uint8Array(width * height * 4);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      const c = at(x + 0.5, y + 0.5);
      for (let k = 0; k < 4; k++) out[i + k] = Math.round(255 * clamp(c[k]!, 0, 1));
    }
  return out;
}
/** Light: how strong decides alpha, and how white the colour is. Black is never mixed in. */
const light = (power: number, tint: Colour): [number, number, number, number] => {
  const white = smoothstep(0.7, 1.6, power);
  return [mix(tint[0], 1, white), mix(tint[1], 1, white), mix(tint[2], 1, white), 1 - exp(-power * 1.4)];
};

/** Fog that drifts to the side for ever: two fields cross over so that the last frame meets the first. */
function fog(width: number, height: number, frames: number): (frame: number) => Uint8Array {
  return (frame) => {
    const t = frame / frames,
      field = (x: number, y: number, shift: number) => {
        const u = (x + shift * 150) / 120,
          v = y / 52,
          w = fractal2(u * 0.8 + 5, v + shift * 0.7, 3, 703) - 0.5;
        return fractal2(u + 1.4 * w, v - shift * 0.35, 5, 701) - 0.5;
      },
      a = 1 - t,
      whole = Math.sqrt(a * a + t * t);
    return pixels(width, height, (x, y) => {
      const n = 0.5 + (a * field(x, y, t) + t * field(x, y, t - 1)) / whole,
        body =
          smoothstep(0, 0.5, y / height) *
          smoothstep(1, 0.82, y / height) *
          smoothstep(0, 0.16, x / width) *
          smoothstep(1, 0.84, x / width),
        cover = body * smoothstep(0.2, 0.95, n),
        tone = 0.72 + 0.16 * (n - 0.5);
      return [tone, tone, tone, cover * 0.85];
    });
  };
}

/** Embers that rise on crossing currents; each is born and goes out within the loop. */
function embers(width: number, height: number, frames: number): (frame: number) => Uint8Array {
  return (frame) => {
    const power = new Float32Array(width * height),
      heat = new Float32Array(width * height);
    for (let i = 0; i < 64; i++) {
      const u = (k: number) => uniform(811, i, k),
        turns = 1 + (hash(i, 813) & 1),
        age = (frame / frames) * turns + u(1) - Math.floor((frame / frames) * turns + u(1)),
        life = smoothstep(0, 0.1, age) * smoothstep(1, 0.55, age),
        place = (a: number): [number, number] => [
          width * (0.12 + 0.76 * u(2)) + 26 * sin(2 * PI * (a * (0.7 + u(3)) + u(4))) + 40 * (u(5) - 0.35) * a,
          height * (0.98 - (0.5 + 0.45 * u(6)) * a) + 8 * sin(2 * PI * (1.7 * a + u(7))),
        ],
        [x, y] = place(age),
        [bx, by] = place(age - 0.014),
        r = 0.9 + 1.5 * u(8) * u(8),
        flicker = 0.6 + 0.4 * sin(2 * PI * (frame / frames) * (3 + (hash(i, 815) & 3)) + 6 * u(9));
      const dx = x - bx,
        dy = y - by,
        l2 = dx * dx + dy * dy + 1e-6;
      for (let py = Math.max(0, Math.floor(y - 16)); py < Math.min(height, y + 16); py++)
        for (let px = Math.max(0, Math.floor(x - 16)); px < Math.min(width, x + 16); px++) {
          const s = clamp(((px + 0.5 - bx) * dx + (py + 0.5 - by) * dy) / l2, 0, 1),
            d = hypot(px + 0.5 - bx - s * dx, py + 0.5 - by - s * dy);
          const k = life * flicker * (1.9 * gauss(d, r) + 0.14 * gauss(d, r * 4));
          power[py * width + px]! += k;
          heat[py * width + px]! += k * (1 - age);
        }
    }
    return pixels(width, height, (px, py) => {
      const p = Math.floor(py) * width + Math.floor(px),
        h = power[p]! > 1e-5 ? heat[p]! / power[p]! : 0.5;
      return light(power[p]!, [1, 0.34 + 0.36 * h, 0.08 + 0.2 * h]);
    });
  };
}

/** Drops that fall and burst on a surface, each with its ring; they come again within the loop. */
function drops(width: number, height: number, frames: number): (frame: number) => Uint8Array {
  return (frame) => {
    const list = Array.from({ length: 11 }, (_, i) => {
      const u = (k: number) => uniform(911, i, k),
        age = frame / frames + u(1) - Math.floor(frame / frames + u(1));
      return { x: width * (0.12 + 0.76 * u(2)), floor: height * (0.62 + 0.3 * u(3)), size: 2.2 + 2.4 * u(4), age, i };
    });
    return pixels(width, height, (x, y) => {
      let cover = 0,
        shine = 0;
      for (const { x: dx, floor, size, age, i } of list) {
        const fall = age / 0.42;
        if (fall < 1) {
          // Long while it falls, round where it begins.
          const cy = floor - (1 - fall * fall) * height * 0.6,
            long = size * (1 + 2.2 * fall),
            d = hypot((x - dx) / size, (y - cy) / long),
            in1 = smoothstep(1.15, 0.75, d) * smoothstep(0, 0.15, fall);
          cover = Math.max(cover, in1 * (0.3 + 0.5 * smoothstep(0.5, 1, d)));
          shine += 0.9 * gauss(hypot(x - dx + size * 0.35, (y - cy + long * 0.35) * 0.7), size * 0.4) * in1;
        } else {
          const s = (age - 0.42) / 0.58,
            gone = (1 - s) * (1 - s),
            ring = hypot(x - dx, (y - floor) * 3.2),
            r = 3 + 26 * Math.sqrt(s);
          const line = gauss(ring - r, 1.2 + 1.6 * s) + 0.5 * gauss(ring - r * 0.62, 1.2 + 1.4 * s);
          cover = Math.max(cover, 0.55 * gone * line);
          shine += 0.5 * gone * gauss(ring - r, 1.1) * smoothstep(2, -4, y - floor);
          for (let k = 0; k < 6; k++) {
            // Beads thrown up by the burst.
            const v = uniform(917, i, k),
              bx = dx + (v - 0.5) * 46 * s,
              by = floor - 46 * (0.5 + uniform(919, i, k)) * s * (1.05 - s),
              d = hypot(x - bx, y - by);
            const bead = smoothstep(1.9, 0.9, d) * smoothstep(0.95, 0.6, s);
            cover = Math.max(cover, bead * 0.75);
            shine += 0.6 * gauss(hypot(x - bx + 0.5, y - by + 0.6), 0.8) * bead;
          }
        }
      }
      const white = clamp(shine, 0, 1);
      return [mix(0.62, 1, white), mix(0.76, 1, white), mix(0.86, 1, white), clamp(cover + white, 0, 1)];
    });
  };
}

type Point = readonly [number, number];
/** A jagged way from a to b: halves are moved aside, less at each step. */
function jagged(a: Point, b: Point, rough: number, seed: number, depth: number): Point[] {
  if (depth === 0) return [a, b];
  const dx = b[0] - a[0],
    dy = b[1] - a[1],
    off = (uniform(seed, depth, 1) - 0.5) * rough,
    at = 0.4 + 0.2 * uniform(seed, depth, 2),
    m: Point = [a[0] + dx * at - dy * off, a[1] + dy * at + dx * off];
  return [...jagged(a, m, rough, hash(seed, depth, 3), depth - 1).slice(0, -1), ...jagged(m, b, rough, hash(seed, depth, 4), depth - 1)];
}
/** A forked bolt, drawn anew in every frame; it strikes, flickers and fades. */
function bolt(width: number, height: number, frames: number): (frame: number) => Uint8Array {
  return (frame) => {
    const strength = [1.2, 1, 0.55, 0.95, 0.75, 0.4, 0.85, 0.5, 0.3, 0.42, 0.2, 0.1][frame % frames]!,
      seed = hash(1013, frame),
      main = jagged([width * 0.5, 10], [width * (0.35 + 0.3 * uniform(seed, 5)), height - 12], 0.42, seed, 6),
      lines: { points: Point[]; w: number; power: number }[] = [{ points: main, w: 1.7, power: 1 }];
    for (let k = 0; k < 6; k++) {
      const from = main[6 + Math.floor(uniform(seed, k, 11) * (main.length - 16))]!,
        side = uniform(seed, k, 12) < 0.5 ? -1 : 1,
        long = 40 + 110 * uniform(seed, k, 13),
        to: Point = [
          clamp(from[0] + side * long * (0.45 + 0.4 * uniform(seed, k, 14)), 8, width - 8),
          Math.min(height - 10, from[1] + long),
        ],
        branch = jagged(from, to, 0.5, hash(seed, k, 15), 5);
      lines.push({ points: branch, w: 1, power: 0.55 });
      const twig = branch[12 + Math.floor(uniform(seed, k, 16) * 12)]!;
      lines.push({
        points: jagged(
          twig,
          [clamp(twig[0] + side * long * 0.4, 6, width - 6), Math.min(height - 8, twig[1] + long * 0.3)],
          0.5,
          hash(seed, k, 17),
          4,
        ),
        w: 0.7,
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
        for (let y = Math.max(0, Math.floor(Math.min(a[1], b[1]) - 22)); y < Math.min(height, Math.max(a[1], b[1]) + 22); y++)
          for (let x = Math.max(0, Math.floor(Math.min(a[0], b[0]) - 22)); x < Math.min(width, Math.max(a[0], b[0]) + 22); x++) {
            const s = clamp(((x + 0.5 - a[0]) * dx + (y + 0.5 - a[1]) * dy) / l2, 0, 1),
              d = hypot(x + 0.5 - a[0] - s * dx, y + 0.5 - a[1] - s * dy),
              k = p * taper * (2.6 * gauss(d, w) + 0.24 * gauss(d, 5) + 0.07 * gauss(d, 13));
            // Lines that meet do not add up to knots.
            const at = y * width + x;
            if (k > power[at]!) power[at] = k;
          }
      });
    return pixels(width, height, (x, y) => light(power[Math.floor(y) * width + Math.floor(x)]! * strength, [0.46, 0.66, 1]));
  };
}

/** A ship's compass as a ring of light: the scale goes one way, the rose the other, the needle trembles; after the loop all stand where they began. */
function compass(size: number, frames: number): (frame: number) => Uint8Array {
  const tau = 2 * PI;
  return (frame) => {
    const t = frame / frames,
      scale = (tau / 8) * t,
      rose = (-tau / 4) * t,
      needle = 0.5 + 0.16 * sin(tau * t) + 0.07 * sin(tau * 3 * t);
    return pixels(size, size, (px, py) => {
      let sum = 0;
      for (let k = 0; k < 4; k++) {
        const x = (px - 0.25 + 0.5 * (k & 1) - size / 2) / (size / 2),
          y = (py - 0.25 + 0.5 * (k >> 1) - size / 2) / (size / 2),
          r = hypot(x, y),
          a = atan2(y, x);
        const line = (d: number, w: number) => smoothstep(w + 0.006, w - 0.004, Math.abs(d)),
          part = (angle: number, n: number) => {
            const q = ((angle / tau) * n) % 1;
            return ((q < 0 ? q + 1 : q) - 0.5) * (tau / n);
          };
        let p = line(r - 0.94, 0.008) + line(r - 0.81, 0.005) + 0.7 * line(r - 0.5, 0.004);
        // Ticks of the scale: sixty-four, every eighth long.
        const tick = part(a - scale + tau / 128, 64),
          long = part(a - scale + tau / 16, 8);
        if (r > 0.83 && r < 0.9) p += 0.8 * line(tick * r, 0.006);
        if (r > 0.72 && r < 0.92) p += line(long * r, 0.008);
        // The rose: eight points, every other one short.
        const b = part(a - rose + tau / 16, 8),
          which = Math.round(((a - rose) / tau) * 8) & 1,
          tip = which ? 0.46 : 0.68,
          broad = 0.3 * (1 - r / tip);
        if (r > 0.08 && r < tip) {
          p += 0.75 * line(Math.abs(b) - broad * 0.6, 0.012 / Math.max(0.2, r));
          if (b > 0 && b < broad * 0.6) p += 0.22;
        }
        p += line(r - 0.08, 0.006);
        const dn = a - needle * tau - Math.round((a - needle * tau) / tau) * tau;
        if (r > 0.1 && r < 0.76) p += 1.2 * smoothstep(0.03 * (1 - r / 0.8) + 0.008, 0, Math.abs(dn) * r);
        sum += p + 0.12 * gauss(r - 0.94, 0.05) + 0.07 * gauss(r - 0.5, 0.07);
      }
      return light(sum / 4, [1, 0.74, 0.36]);
    });
  };
}

/** A splinter of light seen from thirty-six sides: its bright point goes once around a ring, ten degrees a frame. */
function spark(size: number): (frame: number) => Uint8Array {
  return (frame) => {
    const angle = (frame / 36) * 2 * PI,
      c = cos(angle),
      s = sin(angle),
      wide = 0.75 + 0.35 * cos(2 * angle + 0.6);
    return pixels(size, size, (px, py) => {
      const x = px - size / 2,
        y = py - size / 2,
        u = x * c + y * s,
        v = y * c - x * s;
      const body = 1.9 * exp(-Math.abs(u) / (size * 0.1) - (v / (size * 0.018 * wide)) * (v / (size * 0.018 * wide))),
        cross = 0.8 * exp(-Math.abs(v) / (size * 0.05) - (u / (size * 0.014)) * (u / (size * 0.014))),
        tip = 1.4 * gauss(hypot(u - size * 0.16, v), size * 0.03 * wide),
        fade = smoothstep(size * 0.5, size * 0.36, hypot(x, y));
      return light((body + cross + tip + 0.25 * gauss(hypot(u, v), size * 0.12)) * fade, [1, 0.82, 0.5]);
    });
  };
}

export const stockroom: Drawing[] = [
  {
    name: 'stockroom/smoke-burst',
    shelf: { name: 'Smoke burst', about: 'Puffs that fly apart, rise and thin out.', light: false },
    width: 640,
    height: 640,
    frames: 48,
    first: 1,
    kind: 'grey',
    draw: smoke({
      ...{ width: 640, height: 640, frames: 48, seed: 601, from: [0.5, 0.66], radius: 0.52, flat: 1, rise: 0.2, grounded: false },
      ...{ light: [0.82, 0.82, 0.82], shade: [0.1, 0.1, 0.1], thick: 1, thins: 0.3 },
    }),
  },
  {
    name: 'stockroom/dust-puff',
    shelf: { name: 'Dust puff', about: 'Dust thrown up from the ground.', light: false },
    width: 800,
    height: 320,
    frames: 40,
    first: 1,
    draw: smoke({
      ...{ width: 800, height: 320, frames: 40, seed: 651, from: [0.5, 0.86], radius: 0.98, flat: 0.52, rise: 0.1, grounded: true },
      ...{ light: [0.72, 0.6, 0.44], shade: [0.13, 0.1, 0.07], thick: 0.75, thins: 0.2 },
    }),
  },
  {
    name: 'stockroom/forked-bolt',
    shelf: { name: 'Forked bolt', about: 'A strike from above, drawn anew in every frame.', light: true },
    width: 256,
    height: 512,
    frames: 12,
    first: 1,
    draw: bolt(256, 512, 12),
  },
  {
    name: 'stockroom/compass-ring',
    shelf: { name: 'Compass ring', about: 'Scale, rose and needle that turn; a ring to lie on the ground.', light: true },
    width: 384,
    height: 384,
    frames: 48,
    first: 1,
    kind: 'flat',
    loops: true,
    draw: compass(384, 48),
  },
  {
    name: 'stockroom/fog-bank',
    shelf: { name: 'Fog bank', about: 'Low fog that drifts to the side.', light: false },
    width: 512,
    height: 176,
    frames: 48,
    first: 1,
    kind: 'grey',
    loops: true,
    draw: fog(512, 176, 48),
  },
  {
    name: 'stockroom/ember-drift',
    shelf: { name: 'Ember drift', about: 'Embers that rise on crossing currents.', light: true },
    width: 320,
    height: 320,
    frames: 48,
    first: 1,
    loops: true,
    draw: embers(320, 320, 48),
  },
  {
    name: 'stockroom/water-drops',
    shelf: { name: 'Water drops', about: 'Drops that fall and burst on a surface.', light: false },
    width: 256,
    height: 256,
    frames: 32,
    first: 1,
    loops: true,
    draw: drops(256, 256, 32),
  },
  {
    name: 'stockroom/spark',
    shelf: { name: 'Spark', about: 'A splinter of light, seen from all sides.', light: true },
    width: 96,
    height: 96,
    frames: 36,
    first: 1,
    loops: true,
    draw: spark(96),
  },
];
