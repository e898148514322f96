import { blurSum, halfSigma, meanHalf, twiceSize } from '../image/blur';
import { blendOver } from '../image/blend';
import { clamp, smoothstep } from '../image/exactMath';
import type { Picture } from '../image/picture';
import type { Canvas } from './describe';

type Rgb = readonly [number, number, number];

/** A line of light through points, which may thin out along its way. Widths and places in the picture's pixels. */
export interface Stroke {
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  /** Width at its beginning and at its end. */
  width: readonly [number, number];
  power: number;
}

/** Lays strokes into light without coverage; where they meet, the stronger one counts. A line thinner than a pixel keeps its light by being fainter. */
export function strokeLight(out: Picture, strokes: readonly Stroke[], colour: Rgb): void {
  const { data, width, height } = out;
  for (const { x, y, width: wide, power } of strokes) {
    const pieces = x.length - 1;
    for (let i = 0; i < pieces; i++) {
      const ax = x[i]!,
        ay = y[i]!,
        dx = x[i + 1]! - ax,
        dy = y[i + 1]! - ay,
        l2 = dx * dx + dy * dy,
        half0 = (wide[0] + ((wide[1] - wide[0]) * i) / pieces) / 2,
        half1 = (wide[0] + ((wide[1] - wide[0]) * (i + 1)) / pieces) / 2,
        far = Math.max(half0, half1, 0.5) + 1.5,
        x0 = Math.max(0, Math.floor(Math.min(ax, ax + dx) - far)),
        x1 = Math.min(width, Math.ceil(Math.max(ax, ax + dx) + far)),
        y0 = Math.max(0, Math.floor(Math.min(ay, ay + dy) - far)),
        y1 = Math.min(height, Math.ceil(Math.max(ay, ay + dy) + far));
      for (let py = y0; py < y1; py++)
        for (let px = x0; px < x1; px++) {
          const ex = px + 0.5 - ax,
            ey = py + 0.5 - ay,
            s = l2 > 0 ? clamp((ex * dx + ey * dy) / l2, 0, 1) : 0,
            ox = ex - dx * s,
            oy = ey - dy * s,
            d = Math.sqrt(ox * ox + oy * oy);
          if (d > far) continue;
          const half = half0 + (half1 - half0) * s,
            drawn = Math.max(0.5, half),
            a = power * (half / drawn) * smoothstep(drawn + 0.7, Math.max(0, drawn - 0.7), d),
            o = (py * width + px) * 4;
          for (let c = 0; c < 3; c++) if (a * colour[c]! > data[o + c]!) data[o + c] = a * colour[c]!;
        }
    }
  }
}

/** Adds a halo to light, in place: what it is, spread over `radius` (2 sigma) pixels in another colour. Done at half the size, since it is soft. */
export function addHalo(light: Picture, radius: number, strength: number, colour: Rgb, { pictures, scale }: Canvas): void {
  if (radius <= 1 || strength <= 0) return;
  const half = meanHalf(light, pictures),
    tint = (k: number): [number, number, number, number] => [k * colour[0], k * colour[1], k * colour[2], 0],
    // As much light as the line has, however far it is spread.
    gain = strength * Math.min(12, radius / scale / 3),
    soft = blurSum(
      half,
      [
        { sigma: halfSigma(radius / 2), weight: tint(gain) },
        { sigma: halfSigma(radius / 7), weight: tint(gain * 0.35) },
      ],
      pictures,
    ),
    whole = twiceSize(soft, light.width, light.height, pictures);
  blendOver(whole, light, 'add', 1, pictures, light);
  for (const p of [half, soft, whole]) pictures.give(p);
}
