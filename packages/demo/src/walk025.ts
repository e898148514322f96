import { exactMath } from '@wraithos/core/image';
import type { Act } from './figure/act';

const { cos, smoothstep } = exactMath;

/** Where the warden stands, metres from the camera. */
export const NEAR_TO = 1.42;
/** Middles of the two blinks, frames. */
export const BLINKS = [13, 34] as const;
/** Shut within two frames, open again within four: as eyes do. */
const blinkAt = (t: number, at: number) => smoothstep(at - 2.2, at - 0.4, t) * smoothstep(at + 3.6, at + 0.6, t);
/** Degrees by which the head turns in the shot. */
export const TURNS = 20;

/** TW_025: the warden looks down at the light, hears the buoy, and looks up past the camera. */
export const warden025: Act = {
  frames: 48,
  carries: false,
  wind: [1.5, 0, 2],
  intend(t) {
    const up = smoothstep(12, 30, t),
      turn = (TURNS * 3.14159265) / 180;
    return {
      feet: [
        { at: [-0.07, 0, NEAR_TO], lift: 0, pitch: 0 },
        { at: [0.11, 0, NEAR_TO + 0.03], lift: 0, pitch: 0 },
      ],
      heading: 0.05,
      chestTurn: 0.02 + 0.03 * up,
      lean: 0.01,
      crouch: 0.01,
      headTurn: -0.12 + turn * up + 0.012 * cos(t * 0.21),
      headPitch: 0.2 - 0.2 * up,
      hands: [
        [-0.28, 0.88, 0.08],
        [0.28, 0.86, 0.08],
      ],
      blink: Math.max(...BLINKS.map((at) => blinkAt(t, at))),
    };
  },
};
