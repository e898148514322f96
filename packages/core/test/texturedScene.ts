import { exactMath, fractal2, newPlane, normal, type Plane } from '../src/image';

const { cos, radians, sin } = exactMath;

/** A surface of real-looking texture (weave, stains, speckle) that moves in a known way before another one. */
export interface SceneMotion {
  at(frame: number): { x: number; y: number; degrees: number; scale: number };
}
export interface SceneOptions {
  width: number;
  height: number;
  grain?: number;
  flicker?: number;
  pole?: (frame: number) => [number, number] | null;
  seed?: number;
}

const cloth = (u: number, v: number, seed: number) =>
  0.25 + 0.5 * fractal2(u / 37, v / 37, 3, seed) + 0.25 * (fractal2(u / 6, v / 6, 3, seed + 5) - 0.5) + 0.06 * sin(u * 0.9) * sin(v * 0.8);

/** Draws one luma frame. The surface is a disc of radius 110 around the moving point. */
export function drawScene(motion: SceneMotion, frame: number, options: SceneOptions): Plane {
  const { width, height, grain = 0, flicker = 0, seed = 7 } = options,
    plane = newPlane(width, height),
    m = motion.at(frame);
  const a = radians(m.degrees),
    c = cos(a),
    s = sin(a),
    gain = 1 + flicker * sin(frame * 2.1),
    pole = options.pole?.(frame) ?? null;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (const [ox, oy] of [[0.5, 0.5]] as const) {
        const dx = x + ox - m.x,
          dy = y + oy - m.y,
          u = (dx * c + dy * s) / m.scale,
          v = (-dx * s + dy * c) / m.scale;
        if (pole && x + ox > pole[0] && x + ox < pole[1]) sum += 0.12 + 0.1 * fractal2((x + ox) / 5, (y + oy) / 40, 3, 501);
        else sum += u * u + v * v < 110 * 110 ? cloth(u, v, seed) : 0.2 + 0.35 * fractal2((x + ox) / 50, (y + oy) / 50, 4, 900);
      }
      plane.data[y * width + x] = Math.max(0, Math.min(1, sum * gain + (grain ? grain * normal(y * width + x, frame, 3) : 0)));
    }
  return plane;
}
