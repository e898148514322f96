import { exactMath, type Picture } from '@wraithos/core/image';
import { HEIGHT, WIDTH } from './measures';
import type { Drawn } from './figure/shutter';
import type { Lights } from './figure/view';
import { unit, type V3 } from './figure/vector';

const { exp, hypot } = exactMath;

export { HEIGHT, WIDTH };
export const SIZE = { width: WIDTH, height: HEIGHT };
/** Numbers about the wood at a pixel: wet, tone, gap, rough, near (0 off the planks). */
export const DECK = 5;

/** What never changes in the shot, for each pixel: light, share of the water, what lamplight needs to know of the planks, and what stands before everyone. */
export interface StillSet {
  light: Float32Array;
  water: Float32Array;
  deck: Float32Array;
  front: Float32Array;
}

/** One filmed frame: the picture through the lens, and the truth about her. */
export interface Take {
  picture: Picture;
  matte: Float32Array;
  parts: Float32Array;
}

export function layFront(picture: Picture, set: StillSet, ...mattes: Float32Array[]): void {
  for (let p = 0; p < WIDTH * HEIGHT; p++) {
    const a = set.front[p * 4 + 3]!;
    if (a <= 0) continue;
    for (let c = 0; c < 3; c++) picture.data[p * 4 + c] = picture.data[p * 4 + c]! * (1 - a) + set.front[p * 4 + c]!;
    for (const matte of mattes) {
      const channels = matte.length / (WIDTH * HEIGHT);
      for (let c = 0; c < channels; c++) matte[p * channels + c]! *= 1 - a;
    }
  }
}

/** Dusk over the harbour: the moon and the last of the sun stand behind her, the lantern is at her hand. */
export function duskLights(lamp: V3 | null, power = 0.75): Lights {
  return {
    sky: [0.19, 0.21, 0.31],
    ground: [0.07, 0.062, 0.055],
    behind: [0.62, 0.42, 0.32],
    before: [0.17, 0.155, 0.165],
    far: { towards: unit([0.318, 0.5, 0.91]), colour: [0.4, 0.45, 0.56] },
    lamps: lamp ? [{ at: lamp, colour: [1, 0.6, 0.28], power }] : [],
  };
}

/** Lays a drawn figure on a plate. */
export function layFigure(light: Float32Array<ArrayBufferLike>, drawn: Drawn, matte: Float32Array, parts: Float32Array): void {
  for (let y = 0; y < drawn.height; y++)
    for (let x = 0; x < drawn.width; x++) {
      const q = y * drawn.width + x,
        a = drawn.cover[q]!,
        p = (y + drawn.y0) * WIDTH + x + drawn.x0;
      if (a <= 0) continue;
      for (let c = 0; c < 3; c++) {
        light[p * 4 + c] = light[p * 4 + c]! * (1 - a) + drawn.colour[q * 3 + c]!;
        parts[p * 3 + c] = drawn.parts[q * 3 + c]!;
      }
      matte[p] = drawn.matte[q]!;
    }
}

/** The air around a flame that the lens sees. */
export function halo(light: Float32Array<ArrayBufferLike>, at: { x: number; y: number }, strength = 1): void {
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const d = hypot(x + 0.5 - at.x, y + 0.5 - at.y);
      if (d > 420) continue;
      const k = strength * (0.3 * exp(-d / 12) + 0.06 * exp(-d / 30) + 0.01 * exp(-d / 80)),
        i = (y * WIDTH + x) * 4;
      light[i]! += k;
      light[i + 1]! += k * 0.58;
      light[i + 2]! += k * 0.25;
    }
}
