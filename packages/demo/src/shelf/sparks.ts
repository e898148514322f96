import { exactMath, hash, uniform } from '@wraithos/core/image';
import { gauss, light, pixels, type Draw } from './paint';

const { clamp, cos, exp, hypot, PI, sin, smoothstep } = exactMath;

/** Embers that rise on crossing currents; each is born and goes out within the loop. */
export function embers(width: number, height: number, frames: number): Draw {
  // Measures below are those of a picture 320 px wide.
  const k0 = width / 320;
  return (frame) => {
    const power = new Float32Array(width * height),
      heat = new Float32Array(width * height);
    for (let i = 0; i < 110; i++) {
      const u = (k: number) => uniform(811, i, k),
        turns = 1 + (hash(i, 813) & 1),
        age = (frame / frames) * turns + u(1) - Math.floor((frame / frames) * turns + u(1)),
        life = smoothstep(0, 0.1, age) * smoothstep(1, 0.55, age),
        place = (a: number): [number, number] => [
          width * (0.12 + 0.76 * u(2)) + 26 * k0 * sin(2 * PI * (a * (0.7 + u(3)) + u(4))) + 40 * k0 * (u(5) - 0.35) * a,
          height * (0.98 - (0.5 + 0.45 * u(6)) * a) + 8 * k0 * sin(2 * PI * (1.7 * a + u(7))),
        ],
        [x, y] = place(age),
        [bx, by] = place(age - 0.014),
        r = k0 * (0.7 + 1.3 * u(8) * u(8) * u(8)),
        flicker = 0.6 + 0.4 * sin(2 * PI * (frame / frames) * (3 + (hash(i, 815) & 3)) + 6 * u(9));
      const dx = x - bx,
        dy = y - by,
        l2 = dx * dx + dy * dy + 1e-6;
      for (let py = Math.max(0, Math.floor(y - 16 * k0)); py < Math.min(height, y + 16 * k0); py++)
        for (let px = Math.max(0, Math.floor(x - 16 * k0)); px < Math.min(width, x + 16 * k0); px++) {
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

/** A splinter of light seen from thirty-six sides: its bright point goes once around a ring, ten degrees a frame. */
export function spark(size: number): Draw {
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
