import { exactMath, uniform } from '@wraithos/core/image';
import { gauss, pixels, type Draw } from './paint';

const { clamp, cos, exp, hypot, mix, sin, smoothstep } = exactMath;

/** Drops that fall and burst on a surface, each with its ring; they come again within the loop. */
export function drops(width: number, height: number, frames: number): Draw {
  // Measures below are those of a picture 256 px wide.
  const k0 = width / 256;
  return (frame) => {
    const list = Array.from({ length: 14 }, (_, i) => {
      const u = (k: number) => uniform(911, i, k),
        age = frame / frames + u(1) - Math.floor(frame / frames + u(1));
      return { x: width * (0.12 + 0.76 * u(2)), floor: height * (0.62 + 0.3 * u(3)), size: k0 * (1.7 + 1.9 * u(4) * u(4)), age, i };
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
            r = k0 * (3 + 26 * Math.sqrt(s));
          const line = gauss(ring - r, k0 * (0.9 + 1.3 * s)) + 0.5 * gauss(ring - r * 0.62, k0 * (0.9 + 1.2 * s));
          cover = Math.max(cover, 0.55 * gone * line);
          shine += 0.5 * gone * gauss(ring - r, k0) * smoothstep(2, -4, y - floor);
          for (let k = 0; k < 6; k++) {
            // Beads thrown up by the burst.
            const v = uniform(917, i, k),
              bx = dx + (v - 0.5) * 46 * k0 * s,
              by = floor - 46 * k0 * (0.5 + uniform(919, i, k)) * s * (1.05 - s),
              d = hypot(x - bx, y - by);
            const bead = smoothstep(1.9 * k0, 0.9 * k0, d) * smoothstep(0.95, 0.6, s);
            cover = Math.max(cover, bead * 0.75);
            shine += 0.6 * gauss(hypot(x - bx + 0.5 * k0, y - by + 0.6 * k0), 0.8 * k0) * bead;
          }
        }
      }
      const white = clamp(shine, 0, 1);
      return [mix(0.62, 1, white), mix(0.76, 1, white), mix(0.86, 1, white), clamp(cover + white, 0, 1)];
    });
  };
}

interface Bead {
  x: number;
  y: number;
  r: number;
  /** From where it was a moment ago, for its streak. */
  fx: number;
  fy: number;
  clear: number;
}
/** Round water: dark where it is thick and looks down, bright along its upper edge and where a lamp stands in it. */
function beads(
  width: number,
  height: number,
  list: readonly Bead[],
  more: (x: number, y: number) => readonly [cover: number, shine: number],
): Uint8Array {
  const cover = new Float32Array(width * height),
    shine = new Float32Array(width * height);
  for (const { x, y, r, fx, fy, clear } of list) {
    const dx = fx - x,
      dy = fy - y,
      l2 = dx * dx + dy * dy + 1e-6,
      m = r + 2;
    for (let py = Math.max(0, Math.floor(Math.min(y, fy) - m)); py < Math.min(height, Math.max(y, fy) + m); py++)
      for (let px = Math.max(0, Math.floor(Math.min(x, fx) - m)); px < Math.min(width, Math.max(x, fx) + m); px++) {
        const s = clamp(((px + 0.5 - x) * dx + (py + 0.5 - y) * dy) / l2, 0, 1),
          cx = px + 0.5 - x - s * dx,
          cy = py + 0.5 - y - s * dy,
          d = hypot(cx, cy) / r,
          body = smoothstep(1.12, 0.8, d) * (1 - 0.6 * s) * clear,
          i = py * width + px;
        cover[i] = Math.max(cover[i]!, body * (0.22 + 0.4 * smoothstep(0.35, 0.95, d)));
        shine[i] = Math.max(
          shine[i]!,
          body * (0.8 * gauss(hypot(cx + 0.32 * r, cy + 0.36 * r), 0.28 * r) + 0.4 * smoothstep(0.6, 1, d) * smoothstep(0.2, -0.8, cy / r)),
        );
      }
  }
  return pixels(width, height, (x, y) => {
    const i = Math.floor(y) * width + Math.floor(x),
      [c, w] = more(x, y),
      white = clamp(shine[i]! + w, 0, 1);
    return [mix(0.5, 1, white), mix(0.66, 1, white), mix(0.76, 1, white), clamp(Math.max(cover[i]!, c) + 0.8 * white, 0, 1)];
  });
}

/** A splash: a crown of water rises from where something fell in, breaks into beads, and falls back over rings that run out. */
export function splash(width: number, height: number): Draw {
  const cx = width / 2,
    floor = height * 0.86,
    k = height / 540,
    gravity = 900 * k,
    jets = Array.from({ length: 420 }, (_, i) => {
      const u = (c: number) => uniform(951, i, c),
        angle = 6.283185307179586 * u(1),
        crown = u(2) < 0.72;
      return {
        angle,
        born: crown ? 0.03 * u(3) : 0.02 + 0.14 * u(3),
        up: k * (crown ? 360 + 340 * u(4) : 150 + 420 * u(4) * u(5)),
        out: k * (crown ? 90 + 130 * u(5) : 40 + 220 * u(6)),
        r: k * (0.9 + 4.2 * u(7) * u(7) * u(7) * u(7)),
        crown,
      };
    });
  return (frame) => {
    const t = (frame + 1) / 24,
      list: Bead[] = [];
    for (const { angle, born, up, out, r, crown } of jets) {
      const age = t - born;
      if (age <= 0) continue;
      const place = (a: number): readonly [number, number] => {
          const far = k * 34 + out * a * exp(-0.5 * a);
          return [cx + cos(angle) * far, floor + sin(angle) * far * 0.3 - up * a + 0.5 * gravity * a * a];
        },
        [x, y] = place(age),
        [fx, fy] = place(Math.max(0, age - 0.022)),
        ground = floor + sin(angle) * (k * 34 + out * age) * 0.3;
      if (y > ground + 2) continue;
      list.push({ x, y, r: r * (crown ? smoothstep(0, 0.06, age) * (1 - 0.25 * age) : 1), fx, fy, clear: smoothstep(1.5, 1, age) });
      // The sheet between what has just left and the water.
      if (crown && age < 0.34)
        for (let q = 1; q < 9; q++) {
          const a = age * (1 - q / 9),
            [sx, sy] = place(a),
            [bx, by] = place(Math.max(0, a - age / 9));
          list.push({
            x: sx,
            y: sy,
            r: r * (0.6 + 0.12 * q) + k * 1.5,
            fx: bx,
            fy: by,
            clear: 0.75 * smoothstep(0.34, 0.1, age) * smoothstep(0, 0.05, age),
          });
        }
    }
    return beads(width, height, list, (x, y) => {
      const d = hypot(x - cx, (y - floor) * 3.3) / k,
        fade = smoothstep(1.45, 0.5, t) * smoothstep(0, 0.05, t) * smoothstep(width * 0.49, width * 0.36, Math.abs(x - cx));
      let line = 0;
      for (const [late, pace] of [
        [0, 250],
        [0.1, 215],
        [0.22, 180],
      ] as const) {
        const r = 30 + pace * Math.sqrt(Math.max(0, t - late));
        if (t > late) line += gauss(d - r, 5 + 9 * t) * (1 - 0.25 * pace * 0.004);
      }
      return [0.42 * fade * line, 0.3 * fade * line * smoothstep(6, -8, (y - floor) / k)];
    });
  };
}

/** Rain over the whole picture in three depths, leaning with the wind. It loops. */
export function rain(width: number, height: number, frames: number): Draw {
  const layers = [
    { count: 520, long: 26, wide: 0.55, power: 0.2, falls: 2, seed: 961 },
    { count: 260, long: 52, wide: 0.9, power: 0.3, falls: 3, seed: 971 },
    { count: 70, long: 110, wide: 1.7, power: 0.34, falls: 4, seed: 981 },
  ];
  return (frame) => {
    const power = new Float32Array(width * height);
    for (const { count, long, wide, power: p, falls, seed } of layers)
      for (let i = 0; i < count; i++) {
        const u = (c: number) => uniform(seed, i, c),
          span = height + long + 40,
          turn = (frame / frames) * falls + u(1),
          way = turn - Math.floor(turn),
          y = way * span - long,
          lean = 0.16 + 0.03 * (u(2) - 0.5),
          // Each time it falls it comes down elsewhere: only after the loop it is the same again.
          x0 = ((u(3) + 0.37 * (Math.floor(turn) % falls)) % 1) * (width + 0.3 * height) - 0.25 * height,
          strong = p * (0.5 + 0.7 * u(4));
        for (let py = Math.max(0, Math.floor(y)); py < Math.min(height, y + long); py++) {
          const s = (py - y) / long,
            x = x0 + lean * (py + 0.5),
            k = strong * smoothstep(0, 0.5, s) * smoothstep(1, 0.86, s);
          for (let px = Math.max(0, Math.floor(x - 3 * wide)); px < Math.min(width, x + 3 * wide + 1); px++) {
            const at = py * width + px;
            power[at] = Math.max(power[at]!, k * gauss(px + 0.5 - x, wide));
          }
        }
      }
    return pixels(width, height, (x, y) => {
      const p = power[Math.floor(y) * width + Math.floor(x)]!;
      return [0.78, 0.84, 0.9, clamp(p * 1.5, 0, 1)];
    });
  };
}
