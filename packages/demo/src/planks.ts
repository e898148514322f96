import { exactMath, fractal2, noise2, uniform } from '@wraithos/core/image';
import type { Rgb } from './harbour';

const { hypot, smoothstep } = exactMath;

export interface Plank {
  /** Share of light that comes back. */
  colour: Rgb;
  wet: number;
  tone: number;
  gap: number;
  rough: number;
}

/**
 * Weathered planks at a place, in metres: `across` counts over their breadth, `along` their length.
 * @param broad breadth of one.
 * @param fade 0 close by to 1 far off, where grain would only shimmer.
 */
export function plankAt(across: number, along: number, broad: number, fade: number, seed: number): Plank {
  const n = Math.floor(across / broad),
    part = across / broad - n,
    tone = 0.55 + 0.5 * uniform(n, seed, 5),
    board = Math.floor(along / 2.4 + uniform(n, seed, 6)),
    end = along / 2.4 + uniform(n, seed, 6) - board;
  const grain =
    (1 - fade) *
      (1.5 * (fractal2(part * 5 + n * 13.7, along * 1.3 + n * 3.1 + board * 7, 5, seed + 51) - 0.5) +
        0.5 * (noise2(part * 26 + n * 7, along * 3 + board, seed + 55) - 0.5)) +
    1;
  const edge = 0.06,
    gap = smoothstep(0, edge, part) * smoothstep(1, 1 - edge, part) * (0.35 + 0.65 * smoothstep(0, 0.006, end) * smoothstep(1, 0.994, end)),
    nail = Math.min(hypot((Math.abs(part - 0.5) - 0.28) * broad, (Math.abs(end - 0.5) - 0.47) * 2.4), 0.1),
    k = tone * (0.85 + 0.3 * uniform(n, board, seed)) * grain * (0.14 + 0.86 * gap) * (0.55 + 0.45 * smoothstep(0.006, 0.014, nail));
  const wet = (0.2 + 0.8 * smoothstep(0.42, 0.6, fractal2(across * 0.9 + 4, along * 0.5, 4, seed + 61))) * gap,
    rough = fractal2(across * 9, along * 9, 3, seed + 65) - 0.5,
    dry = 1 - 0.35 * wet;
  return { colour: [0.3 * k * dry, 0.25 * k * dry, 0.21 * k * dry], wet, tone, gap, rough };
}
