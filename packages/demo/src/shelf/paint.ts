import { exactMath } from '@wraithos/core/image';

const { clamp, exp, mix, smoothstep } = exactMath;
export const gauss = (d: number, w: number): number => exp(-(d / w) * (d / w));
export type Colour = readonly [number, number, number];
/** Draws a frame: straight alpha, eight bits, four a pixel. */
export type Draw = (frame: number) => Uint8Array;

/** Draws pixel by pixel: straight colour (display-encoded, 0..1) and alpha. Colour goes on where alpha ends, so that no dark fringe is left. */
export function pixels(width: number, height: number, at: (x: number, y: number) => readonly [number, number, number, number]): Uint8Array {
  const out = new Uint8Array(width * height * 4);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      const c = at(x + 0.5, y + 0.5);
      for (let k = 0; k < 4; k++) out[i + k] = Math.round(255 * clamp(c[k]!, 0, 1));
    }
  return out;
}
/** Light: how strong decides alpha, and how white the colour is. Black is never mixed in. */
export const light = (power: number, tint: Colour): [number, number, number, number] => {
  const white = smoothstep(0.7, 1.6, power);
  return [mix(tint[0], 1, white), mix(tint[1], 1, white), mix(tint[2], 1, white), 1 - exp(-power * 1.4)];
};
