import { exactMath } from '@wraithos/core/image';
import { ilse } from './figure/ilse';
import type { Stance } from './figure/stance';
import { nothing, type Part, type Solid } from './figure/solid';
import { dot, unit, type V3 } from './figure/vector';
import { groundAt, passes, trace, type Camera, type Lights } from './figure/view';
import { DECK, HEIGHT, WIDTH } from './film';

const { clamp, exp, smoothstep } = exactMath;
/** How wood tints the light that it gives back. */
const WOOD = [1, 0.86, 0.7];

/**
 * Her shadow, the light of lamps and her mirror image on the planks, onto an open plate (linear RGBA).
 * @param top first row of the picture that can show planks.
 * @param beside what else stands there; `span` is how far to her sides, in metres, planks mirror.
 */
export function lightDeck(
  light: Float32Array<ArrayBufferLike>,
  deck: Float32Array,
  stance: Stance,
  camera: Camera,
  lights: Lights,
  top: number,
  beside: readonly Part[] = [],
  span = 0.9,
): void {
  const { whole, body } = ilse(stance, beside),
    { lamps } = lights,
    mirrored = new Float64Array(3);
  const feet = stance.pelvis.at,
    coarse = 2,
    columns = Math.ceil(WIDTH / coarse),
    stride = lamps.length + 1,
    lit = new Float32Array(columns * Math.ceil((HEIGHT - top) / coarse) * stride);
  const at = (x: number, y: number) => groundAt(camera, x, y);
  for (let y = top, q = 0; y < HEIGHT; y += coarse)
    for (let x = 0; x < WIDTH; x += coarse, q++) {
      lit[q * stride] = 1;
      if (deck[(y * WIDTH + x) * DECK + 4]! <= 0) continue;
      const p = at(x + coarse / 2, y + coarse / 2),
        dx = p[0] - feet[0],
        dz = p[2] - feet[2];
      for (let l = 0; l < lamps.length; l++) {
        const lamp = lamps[l]!,
          d: V3 = [lamp.at[0] - p[0], lamp.at[1], lamp.at[2] - p[2]],
          r2 = dot(d, d);
        if (r2 < 30)
          lit[q * stride + 1 + l] =
            (((lamp.power / (r2 + 0.03)) * d[1]) / Math.sqrt(r2)) * passes(body, [p[0], 0.01, p[2]], lamp.at, 0.05, lights.quick);
      }
      // She keeps the sky's light from the planks below and around her.
      if (dx * dx + dz * dz < 1.2) {
        let closed = 0;
        for (let i = 1, h = 0.06; i <= 4; i++, h *= 2) closed += Math.max(0, h - reach(body, p[0], h, p[2])) / h / (i + 0.7);
        lit[q * stride] = Math.max(0, 1 - 0.7 * closed);
      }
    }
  for (let y = top; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const i = y * WIDTH + x,
        near = deck[i * DECK + 4]!;
      if (near <= 0) continue;
      const wet = deck[i * DECK]!,
        tone = deck[i * DECK + 1]!,
        gap = deck[i * DECK + 2]!,
        rough = deck[i * DECK + 3]!,
        p = at(x + 0.5, y + 0.5);
      const fx = clamp((x - coarse / 2 + 0.5) / coarse, 0, columns - 1.001),
        fy = clamp((y - top - coarse / 2 + 0.5) / coarse, 0, (HEIGHT - top) / coarse - 1.001),
        xi = Math.floor(fx),
        yi = Math.floor(fy),
        soft = (c: number) => {
          const a = lit[(yi * columns + xi) * stride + c]!,
            b = lit[(yi * columns + xi + 1) * stride + c]!,
            d = lit[((yi + 1) * columns + xi) * stride + c]!,
            e = lit[((yi + 1) * columns + xi + 1) * stride + c]!,
            tx = fx - xi,
            ty = fy - yi;
          return (a * (1 - tx) + b * tx) * (1 - ty) + (d * (1 - tx) + e * tx) * ty;
        };
      const open = soft(0);
      const view = unit([p[0], -camera.height, p[2]]),
        wood = (0.1 + 0.25 * tone) * (0.25 + 0.75 * gap) * (1 - 0.3 * wet);
      for (let c = 0; c < 3; c++) light[i * 4 + c]! *= open;
      for (let l = 0; l < lamps.length; l++) {
        const lamp = lamps[l]!,
          lamplight = soft(1 + l),
          towards = unit([lamp.at[0] - p[0], lamp.at[1], lamp.at[2] - p[2]]),
          h = unit([towards[0] - view[0], towards[1] - view[1], towards[2] - view[2]]),
          sx = (h[0] / h[1] + rough * 0.05) / (0.035 + 0.03 * (1 - wet)),
          sz = (h[2] / h[1] + rough * 0.12) / 0.17,
          streak = exp(-sx * sx - sz * sz) * (0.12 + 0.88 * wet) * gap * lamp.power * 1.6;
        for (let c = 0; c < 3; c++) light[i * 4 + c]! += 2.6 * lamplight * lamp.colour[c]! * wood * WOOD[c]! + streak * lamp.colour[c]!;
      }
      // Her mirror image, broken by the roughness of the wood.
      if (Math.abs(p[0] - feet[0]) > span || p[2] > feet[2] + 0.6) continue;
      const tilt = rough * 0.09,
        up = -view[1],
        way = unit([view[0] + tilt * 0.7, up, view[2] + tilt]);
      if (trace(whole, body, lights, [p[0], 0.002, p[2]], way, mirrored, true)) {
        const k = clamp((0.1 + 0.7 * wet) * (0.25 + 0.75 * exp(-3.2 * up)) * gap * 1.3 * smoothstep(-1.8, -1, p[2] - feet[2]), 0, 1);
        for (let c = 0; c < 3; c++) light[i * 4 + c] = light[i * 4 + c]! * (1 - k) + Math.min(1.6, mirrored[c]!) * k;
      }
    }
}
const answer = nothing(false);
/** How far a place is from a body; infinity where it is out of its bounds. */
function reach(solid: Solid, x: number, y: number, z: number): number {
  solid.look(x, y, z, answer);
  return answer.rough ? Infinity : answer.distance;
}
