import { exactMath } from '@wraithos/core/image';
import { ilse } from './ilse';
import type { Stance } from './stance';
import type { Part, Stuff } from './solid';
import { approach, project, trace, type Camera, type Lights } from './view';
import { unit, type V3 } from './vector';

const { clamp } = exactMath;

/** Moments while the shutter is open, as parts of a frame about its middle, each with its own place within the pixel. */
export const MOMENTS = [-0.21, -0.125, -0.04, 0.04, 0.125, 0.21].map((time, i) => ({
  time,
  x: [0.25, 0.75, 0.5, 0.08, 0.92, 0.42][i]!,
  y: [0.17, 0.33, 0.83, 0.58, 0.67, 0.42][i]!,
}));

const BLOCK = 8;

/** Four of them, where there is much to draw. */
export const FOUR_MOMENTS: typeof MOMENTS = [
  { time: -0.19, x: 0.375, y: 0.125 },
  { time: -0.06, x: 0.875, y: 0.375 },
  { time: 0.06, x: 0.125, y: 0.625 },
  { time: 0.19, x: 0.625, y: 0.875 },
];

/** Three of them, where a long lens sees little move. */
export const THREE_MOMENTS: typeof MOMENTS = [
  { time: -0.16, x: 0.2, y: 0.25 },
  { time: 0, x: 0.55, y: 0.82 },
  { time: 0.16, x: 0.85, y: 0.4 },
];

/** Parts of her whose coverage is kept apart: 0 the lantern, 1 the scarf with its pin, 2 the head and hands. */
const partOf: Partial<Record<Stuff, number>> = {
  metal: 0,
  glass: 0,
  scarf: 1,
  pin: 1,
  iron: 1,
  skin: 2,
  lips: 2,
  eye: 2,
  hair: 2,
  cap: 2,
  'near skin': 2,
  'near lips': 2,
  lashes: 2,
  'near eye': 2,
  'near hair': 2,
  'near cap': 2,
};

export interface Drawn {
  x0: number;
  y0: number;
  width: number;
  height: number;
  /** Premultiplied linear light, three a pixel. */
  colour: Float32Array;
  /** Coverage of all that was drawn, and of Ilse with what she carries. */
  cover: Float32Array;
  matte: Float32Array;
  /** Coverage of the parts, three a pixel. */
  parts: Float32Array;
}

/**
 * Draws Ilse while the shutter is open: each moment traced once for every pixel, their mean taken.
 * @param moments how she stands at MOMENTS.
 * @param shift where the camera stands at MOMENTS, in pixels of the picture.
 * @param beside what else stands there at those moments.
 * @param times the moments, and where in the pixel each is seen.
 * @param figure makes the body that is drawn from how the warden stands: the whole figure, or head and shoulders.
 */
export function drawIlse(
  moments: Stance[],
  lightsAt: (s: Stance) => Lights,
  camera: Camera,
  size: { width: number; height: number },
  shift: { x: number; y: number }[] = [],
  beside: Part[][] = [],
  times = MOMENTS,
  figure = ilse,
): Drawn {
  const bodies = moments.map((m, i) => figure(m, beside[i])),
    boxes = bodies.map(({ whole: { bounds } }) => {
      const c = project(camera, bounds.middle),
        r = (camera.focal * bounds.radius) / (bounds.middle[2] - 0.3) + 8;
      return [c.x - r, c.y - r, c.x + r, c.y + r] as const;
    });
  const x0 = clamp(Math.floor(Math.min(...boxes.map((b) => b[0]))), 0, size.width - 1),
    y0 = clamp(Math.floor(Math.min(...boxes.map((b) => b[1]))), 0, size.height - 1),
    width = clamp(Math.ceil(Math.max(...boxes.map((b) => b[2]))), x0 + 1, size.width) - x0,
    height = clamp(Math.ceil(Math.max(...boxes.map((b) => b[3]))), y0 + 1, size.height) - y0;
  const out: Drawn = {
      x0,
      y0,
      width,
      height,
      colour: new Float32Array(width * height * 3),
      cover: new Float32Array(width * height),
      matte: new Float32Array(width * height),
      parts: new Float32Array(width * height * 3),
    },
    light = new Float64Array(3),
    share = 1 / moments.length;
  // Blocks of pixels that she does not come near to in the middle of the shutter are left out.
  const columns = Math.ceil(width / BLOCK) + 1,
    rows = Math.ceil(height / BLOCK) + 1,
    far = new Float32Array(columns * rows),
    middle = bodies[bodies.length >> 1]!.whole,
    mid = shift[bodies.length >> 1] ?? { x: 0, y: 0 };
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++)
      far[r * columns + c] = approach(
        middle,
        [0, camera.height, 0],
        unit([(x0 + c * BLOCK - mid.x - camera.centre[0]) / camera.focal, (camera.centre[1] - (y0 + r * BLOCK - mid.y)) / camera.focal, 1]),
      );
  // What stands still is lit once for each pixel, by the first moment that meets it.
  const lit: (Float64Array | undefined)[] = [],
    still = (stuff: Stuff): boolean => stuff === 'bell' || stuff === 'timber';
  const margin = 0.05 + (BLOCK * middle.bounds.middle[2]) / camera.focal,
    empty = (x: number, y: number) => {
      const at = Math.floor(y / BLOCK) * columns + Math.floor(x / BLOCK);
      return Math.min(far[at]!, far[at + 1]!, far[at + columns]!, far[at + columns + 1]!) > margin;
    };
  moments.forEach((stance, k) => {
    const { whole, body } = bodies[k]!,
      lights = lightsAt(stance),
      at = times[k]!,
      moved = shift[k] ?? { x: 0, y: 0 };
    const eye: V3 = [0, camera.height, 0],
      wayOf = (x: number, y: number) =>
        unit([(x0 + x - moved.x - camera.centre[0]) / camera.focal, (camera.centre[1] - (y0 + y - moved.y)) / camera.focal, 1]),
      wide = (BLOCK * whole.bounds.middle[2]) / camera.focal;
    let p = 0;
    const known = (stuff: Stuff): boolean => still(stuff) && lit[p * 2 + (stuff === 'bell' ? 1 : 0)] !== undefined;
    for (let top = 0; top < height; top += BLOCK)
      for (let left = 0; left < width; left += BLOCK) {
        if (empty(left, top)) continue;
        const met = whole.along(eye, wayOf(left + BLOCK / 2, top + BLOCK / 2), wide);
        if (!met) continue;
        for (let y = top; y < Math.min(height, top + BLOCK); y++)
          for (let x = left; x < Math.min(width, left + BLOCK); x++) {
            p = y * width + x;
            const stuff = trace(met, body, lights, eye, wayOf(x + at.x, y + at.y), light, false, beside.length ? known : undefined);
            if (!stuff) continue;
            const part = partOf[stuff];
            if (still(stuff)) {
              const slot = p * 2 + (stuff === 'bell' ? 1 : 0),
                before = lit[slot];
              if (before) light.set(before);
              else lit[slot] = Float64Array.from(light);
            }
            out.cover[p]! += share;
            if (stuff !== 'bell' && stuff !== 'timber') out.matte[p]! += share;
            for (let c = 0; c < 3; c++) out.colour[p * 3 + c]! += light[c]! * share;
            if (part !== undefined) out.parts[p * 3 + part]! += share;
          }
      }
  });
  return out;
}
