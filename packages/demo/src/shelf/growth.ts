import { exactMath, fractal2, hash, uniform } from '@wraithos/core/image';
import { pixels, type Colour, type Draw } from './paint';

const { clamp, cos, hypot, mix, sin, smoothstep } = exactMath;

/** A piece of a branch: from one place to the next, its thickness at both ends, how far towards us it lies, and when it has grown to both ends. */
interface Piece {
  a: readonly [number, number];
  b: readonly [number, number];
  ra: number;
  rb: number;
  z: number;
  born: number;
  done: number;
  tip: boolean;
}
export interface Growth {
  size: number;
  frames: number;
  seed: number;
  /** Where it grows from (shares of the size), and which way: degrees, 0 is right, -90 up. */
  from: readonly (readonly [x: number, y: number, way: number])[];
  /** Length of a piece and thickness at the root, shares of the size; how far a piece turns aside (radians), and how it is drawn back (to up above 0, to down below). */
  piece: number;
  thick: number;
  bend: number;
  rise: number;
  /** Share of pieces at which it forks, how wide a fork opens (radians), how much thinner each piece and each fork is. */
  forks: number;
  open: number;
  thins: number;
  split: number;
  /** Thinnest that still grows on, share of the size. */
  least: number;
  /** Colour of the stem, of its tips, and how rough its skin is. */
  stem: Colour;
  tips: Colour;
  rough: number;
}

/** No branch comes nearer to the picture's edge, px. */
const EDGE = 30;
function grow(g: Growth): Piece[] {
  const out: Piece[] = [];
  interface End {
    x: number;
    y: number;
    way: number;
    r: number;
    z: number;
    time: number;
    key: number;
  }
  // Roots may stand at the edge; what grows from them keeps away from it.
  let ends: End[] = g.from.map(([x, y, way], i) => ({
    ...{ x: x * g.size, y: y * g.size, way: (way * 3.141592653589793) / 180, r: g.thick * g.size },
    ...{ z: 0, time: 0, key: hash(g.seed, i) },
  }));
  while (ends.length && out.length < 4000) {
    const next: End[] = [];
    for (const e of ends) {
      const u = (c: number) => uniform(e.key, c, g.seed),
        long = g.piece * g.size * (0.7 + 0.6 * u(1)),
        turned = e.way + g.bend * (2 * u(2) - 1),
        // It is drawn to the light, or downwards.
        way = turned + g.rise * cos(turned) * -1,
        x = e.x + cos(way) * long,
        y = e.y + sin(way) * long,
        r = e.r * g.thins,
        time = e.time + long,
        ends2 = r < g.least * g.size || (e.time > 3 * g.piece * g.size && (x < EDGE || y < EDGE || x > g.size - EDGE || y > g.size - EDGE));
      out.push({ a: [e.x, e.y], b: [x, y], ra: e.r, rb: ends2 ? r * 0.5 : r, z: e.z, born: e.time, done: time, tip: ends2 });
      if (ends2) continue;
      const fork = u(3) < g.forks,
        go = (turn: number, thin: number, c: number) =>
          next.push({ x, y, way: way + turn, r: r * thin, z: e.z + (u(c) - 0.5) * r * 1.6, time, key: hash(e.key, c) });
      if (fork) {
        const side = u(4) < 0.5 ? -1 : 1;
        go(side * g.open * (0.5 + u(5)), g.split * (0.85 + 0.3 * u(6)), 7);
        go(-side * g.open * (0.25 + 0.5 * u(8)), Math.min(1, g.split + 0.12), 9);
      } else go(0, 1, 11);
    }
    ends = next;
  }
  const whole = Math.max(...out.map((p) => p.done));
  return out.map((p) => ({ ...p, born: p.born / whole, done: p.done / whole }));
}

/** Branches that grow from their roots: round, lit from the upper left, with shadows on those behind. It grows for three quarters of its time, then stands. */
export function growth(g: Growth): Draw {
  const pieces = grow(g),
    { size } = g;
  return (frame) => {
    const t = clamp((frame + 1) / (0.8 * g.frames), 0, 1),
      reached = t * (2 - t),
      high = new Float32Array(size * size).fill(-1e9),
      cover = new Float32Array(size * size),
      pale = new Float32Array(size * size),
      along = new Float32Array(size * size);
    for (const p of pieces) {
      if (p.born >= reached) continue;
      const part = clamp((reached - p.born) / Math.max(1e-6, p.done - p.born), 0, 1),
        // What is young is thin yet.
        swell = smoothstep(0, 0.16, reached - p.born) * 0.75 + 0.25,
        bx = mix(p.a[0], p.b[0], part),
        by = mix(p.a[1], p.b[1], part),
        ra = p.ra * swell,
        rb = mix(p.ra, p.rb, part) * (part < 1 ? 0.6 : smoothstep(0, 0.16, reached - p.done) * 0.5 + 0.5),
        dx = bx - p.a[0],
        dy = by - p.a[1],
        l2 = dx * dx + dy * dy + 1e-6,
        m = Math.max(ra, rb) + 2;
      for (let y = Math.max(0, Math.floor(Math.min(p.a[1], by) - m)); y < Math.min(size, Math.max(p.a[1], by) + m); y++)
        for (let x = Math.max(0, Math.floor(Math.min(p.a[0], bx) - m)); x < Math.min(size, Math.max(p.a[0], bx) + m); x++) {
          const s = clamp(((x + 0.5 - p.a[0]) * dx + (y + 0.5 - p.a[1]) * dy) / l2, 0, 1),
            ox = x + 0.5 - p.a[0] - s * dx,
            oy = y + 0.5 - p.a[1] - s * dy,
            r = mix(ra, rb, s) * (1 + g.rough * (fractal2((x + p.z) / 7, y / 7, 3, g.seed) - 0.5)),
            d = hypot(ox, oy),
            i = y * size + x;
          if (d > r + 0.7) continue;
          cover[i] = Math.max(cover[i]!, smoothstep(r + 0.7, r - 0.7, d));
          const h = p.z + Math.sqrt(Math.max(0, r * r - d * d));
          if (h <= high[i]!) continue;
          high[i] = h;
          pale[i] = clamp(
            smoothstep(0.16, 0, reached - mix(p.born, p.done, s)) + (p.tip ? 0.6 * s : 0) + 0.8 * (1 - r / (g.thick * size)) - 0.5,
            0,
            1,
          );
          along[i] = mix(p.born, p.done, s);
        }
    }
    return pixels(size, size, (px, py) => {
      const x = Math.floor(px),
        y = Math.floor(py),
        i = y * size + x,
        a = cover[i]!;
      if (a <= 0) return [...g.stem, 0];
      const at = (qx: number, qy: number) => {
          const h = high[clamp(qy, 0, size - 1) * size + clamp(qx, 0, size - 1)]!;
          return h < -1e8 ? high[i]! - 3 : h;
        },
        grain = fractal2(px / 5 + 40 * along[i]!, py / 5, 4, g.seed + 9) - 0.5,
        gx =
          clamp((at(x + 1, y) - at(x - 1, y)) / 2, -3, 3) +
          g.rough * 2.2 * (fractal2((px + 1) / 4, py / 4, 3, g.seed + 5) - fractal2(px / 4, py / 4, 3, g.seed + 5)) * 4,
        gy =
          clamp((at(x, y + 1) - at(x, y - 1)) / 2, -3, 3) +
          g.rough * 2.2 * (fractal2(px / 4, (py + 1) / 4, 3, g.seed + 5) - fractal2(px / 4, py / 4, 3, g.seed + 5)) * 4,
        n = 1 / Math.sqrt(gx * gx + gy * gy + 1),
        facing = (0.52 * gx + 0.62 * gy) * -n + 0.6 * n;
      // What stands nearer throws its shadow down to the right.
      let shadow = 0;
      for (let q = 2; q <= 14; q += 3) shadow = Math.max(shadow, smoothstep(2, 9, at(x - q, y - q) - high[i]! - q * 0.4));
      const lit = (0.26 + 0.86 * clamp(facing + 0.25, 0, 1.3)) * (1 - 0.5 * shadow) * (1 + 0.5 * grain),
        shine = 0.35 * clamp((facing - 0.78) / 0.3, 0, 1);
      const colour = [0, 1, 2].map((c) => clamp(mix(g.stem[c]!, g.tips[c]!, pale[i]!) * lit + shine * (1 - shadow), 0, 1)) as [
        number,
        number,
        number,
      ];
      return [...colour, a];
    });
  };
}
