import { exactMath } from '@wraithos/core/image';
import type { Act } from './figure/act';
import type { V3 } from './figure/vector';

const { exp, mix, sin, smoothstep } = exactMath;

/** Where she stands on the mole, and which way: past the camera, out to sea. */
export const STANDS: V3 = [-1.2, 0, 4.95];
const HEADING = 1.12;
const side: V3 = [Math.sqrt(1 - 0.81), 0, 0.9];
const foot = (off: number, ahead: number): V3 => [STANDS[0] + side[0] * off + 0.9 * ahead, 0, STANDS[2] + side[2] * off - side[0] * ahead];

function lift(t: number): number {
  const after = Math.max(0, t - 34);
  return smoothstep(10, 36, t) - 0.05 * smoothstep(4, 9, t) * smoothstep(16, 9, t) + 0.03 * sin(after * 0.27) * exp(-after / 13);
}
const blinkAt = (t: number, at: number) => smoothstep(at - 1.5, at, t) * smoothstep(at + 3, at + 0.8, t);

/** TW_020: she looks out for the buoy, lifts the lantern to it, and waits for the answer. */
export const warden020: Act = {
  frames: 72,
  carries: true,
  wind: [-7, 0, 2],
  intend(t) {
    const up = lift(t),
      lean = smoothstep(12, 40, t);
    return {
      feet: [
        { at: foot(-0.1, 0.1), lift: 0, pitch: 0 },
        { at: foot(0.1, -0.12), lift: 0, pitch: 0 },
      ],
      heading: HEADING + 0.05 * lean,
      chestTurn: 0.18 * lean,
      lean: 0.03 + 0.05 * lean - 0.02 * smoothstep(44, 60, t),
      crouch: 0.01,
      headTurn: mix(-0.18, 0.12, smoothstep(2, 14, t)) + 0.03 * sin(t * 0.09),
      headPitch: mix(0.08, -0.1, smoothstep(4, 20, t)),
      hands: [
        [mix(-0.32, -0.2, up), mix(0.82, 1.56, up), mix(0.12, 0.62, up)],
        [0.3 - 0.04 * lean, 0.84 + 0.02 * lean, 0.02 + 0.06 * lean],
      ],
      blink: Math.max(blinkAt(t, 7), blinkAt(t, 52)),
    };
  },
};
