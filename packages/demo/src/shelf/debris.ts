import { exactMath, uniform } from '@wraithos/core/image';
import type { Colour, Draw } from './paint';

const { clamp, cos, exp, sin, smoothstep } = exactMath;

/** Chips that fly among dust: each turns, falls, and comes to rest. */
export interface Debris {
  width: number;
  height: number;
  frames: number;
  count: number;
  seed: number;
  tint: Colour;
}
/** Lays chips over a burst: small ones by far the most, each a splinter with a lit and a dark side that streaks while it is fast. */
export function withDebris({ width, height, frames, count, seed, tint }: Debris, burst: Draw): Draw {
  const chips = Array.from({ length: count }, (_, i) => {
      const u = (c: number) => uniform(seed, i, c),
        angle = -3.141592653589793 * (0.08 + 0.84 * u(1)),
        speed = height * (0.9 + 1.7 * u(2) * u(2));
      return {
        vx: cos(angle) * speed * 1.25,
        vy: sin(angle) * speed,
        x: width * (0.5 + 0.05 * (u(3) - 0.5)),
        r: height * (0.003 + 0.013 * u(4) * u(4) * u(4)),
        flat: 0.35 + 0.5 * u(5),
        spin: 16 * (u(6) - 0.5),
        tone: 0.6 + 0.9 * u(7),
      };
    }),
    floor = height * 0.9,
    gravity = height * 3.4;
  return (frame) => {
    const out = burst(frame),
      t = (frame + 0.5) / 24,
      gone = smoothstep(frames - 1, frames - 9, frame);
    for (const { vx, vy, x, r, flat, spin, tone } of chips) {
      const drag = 1.1,
        place = (a: number): readonly [number, number] => {
          const way = (1 - exp(-drag * a)) / drag,
            y = floor - 4 + vy * way + 0.5 * gravity * a * a;
          return [x + vx * way, Math.min(floor, y)];
        },
        [px, py] = place(t),
        [qx, qy] = place(t - 0.02),
        rests = py >= floor,
        turn = rests ? 0 : spin * t,
        [c, s] = [cos(turn), sin(turn)],
        long = Math.min(4 * r, Math.sqrt((px - qx) * (px - qx) + (py - qy) * (py - qy)) / 2),
        way = Math.sqrt((px - qx) * (px - qx) + (py - qy) * (py - qy)) + 1e-6,
        [ux, uy] = [(px - qx) / way, (py - qy) / way],
        m = r + long + 2;
      for (let y = Math.max(0, Math.floor(py - m)); y < Math.min(height, py + m); y++)
        for (let xx = Math.max(0, Math.floor(px - m)); xx < Math.min(width, px + m); xx++) {
          let dx = xx + 0.5 - px,
            dy = y + 0.5 - py;
          const on = clamp(dx * ux + dy * uy, -long, long);
          dx -= on * ux;
          dy -= on * uy;
          const a = (dx * c + dy * s) / r,
            b = (-dx * s + dy * c) / (r * flat),
            d = Math.abs(a) + Math.abs(b) - 0.25 * a * b,
            soft = 0.8 / r,
            cover = smoothstep(1 + soft, 1 - soft, d) * (r / (r + long)) * gone;
          if (cover <= 0.004) continue;
          const side = tone * (b < 0 ? 1.7 : 0.7),
            i = (y * width + xx) * 4,
            under = out[i + 3]! / 255,
            all = cover + under * (1 - cover);
          for (let k = 0; k < 3; k++)
            out[i + k] = Math.round((255 * clamp(tint[k]! * side, 0, 1) * cover + out[i + k]! * under * (1 - cover)) / all);
          out[i + 3] = Math.round(255 * all);
        }
    }
    return out;
  };
}
