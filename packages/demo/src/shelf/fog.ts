import { exactMath, fractal2 } from '@wraithos/core/image';
import { pixels, type Draw } from './paint';

const { smoothstep } = exactMath;

/** How a body of fog lies in its picture. */
export interface Fog {
  width: number;
  height: number;
  frames: number;
  /** Pixels of its largest shapes across and down, and how far it goes to the side in a loop. */
  wide: number;
  tall: number;
  drift: number;
  /** Density from which something is seen, and at which it is full. */
  from: number;
  full: number;
  cover: number;
  seed: number;
  /** How much of it stands at a height (0 top, 1 bottom). */
  body(y: number): number;
  /** Whether its sides fade out, or the picture is full of it. */
  ends: boolean;
}

/** Fog that drifts to the side for ever: two fields cross over so that the last frame meets the first. It is lit from above, so its lower sides are darker. */
export function fog(f: Fog): Draw {
  const { width, height, frames, wide, tall, seed } = f;
  return (frame) => {
    const t = frame / frames,
      field = (x: number, y: number, shift: number) => {
        const u = (x + shift * f.drift) / wide,
          v = y / tall,
          w = fractal2(u * 0.8 + 5, v + shift * 0.5, 3, seed + 2) - 0.5,
          q = fractal2(u * 0.6 - 9, v * 0.9 - shift * 0.3, 3, seed + 4) - 0.5;
        return fractal2(u + 1.5 * w, v + 0.9 * q - shift * 0.25, 6, seed, 0.54) - 0.5;
      },
      a = 1 - t,
      whole = Math.sqrt(a * a + t * t),
      density = (x: number, y: number) => 0.5 + (a * field(x, y, t) + t * field(x, y, t - 1)) / whole;
    return pixels(width, height, (x, y) => {
      const body = f.body(y / height) * (f.ends ? smoothstep(0, 0.2, x / width) * smoothstep(1, 0.8, x / width) : 1);
      if (body <= 0) return [0.7, 0.7, 0.7, 0];
      const n = density(x, y),
        cover = body * smoothstep(f.from, f.full, n);
      if (cover <= 0.002) return [0.7, 0.7, 0.7, 0];
      // Thicker above it: less light comes down to here.
      const above = density(x - tall * 0.12, y - tall * 0.3),
        tone = 0.74 + 0.3 * (n - above) - 0.12 * smoothstep(0.4, 0.9, above);
      return [tone, tone, tone, cover * f.cover];
    });
  };
}
