import { exactMath } from '@wraithos/core/image';
import { stepping, type Act, type Step } from './figure/act';
import type { V3 } from './figure/vector';

const { PI, sin, smoothstep } = exactMath;

/** The warden's time runs in frames of a 24th of a second; the camera takes 60 a second. */
export const SLOWER = 24 / 60;
/** Where the way begins, and how far each foot stands beside it; metres. */
const START: V3 = [0.42, 0, 6.3],
  HEADING = -0.1;
const ahead: V3 = [sin(HEADING), 0, -Math.sqrt(1 - sin(HEADING) * sin(HEADING))],
  side: V3 = [-ahead[2], 0, ahead[0]];
const spot = (way: number, off: number): V3 => [START[0] + ahead[0] * way + side[0] * off, 0, START[2] + ahead[2] * way + side[2] * off];
const STRIDE = 0.66,
  PACE = 11.5;
const steps: Step[] = Array.from({ length: 5 }, (_, i) => ({
  foot: (i % 2) as 0 | 1,
  from: -6 + i * PACE,
  to: -6 + i * PACE + PACE * 0.94,
  at: spot(STRIDE * (i + 0.5), i % 2 ? 0.09 : -0.09),
}));
const blinkAt = (t: number, at: number) => smoothstep(at - 1.5, at, t) * smoothstep(at + 3, at + 0.8, t);

/** TW_050: the warden strides towards the camera, the lantern swinging at the right hand. */
export const warden050: Act = {
  frames: 48,
  carries: true,
  wind: [2, 0, 3],
  intend(t) {
    const stride = sin((PI * (t + 6)) / PACE);
    return {
      feet: stepping([spot(0, -0.09), spot(0.2, 0.09)], steps, t),
      heading: HEADING,
      chestTurn: 0.12 * stride,
      lean: 0.06,
      crouch: 0.012,
      headTurn: -0.09 * stride + 0.06 * sin(t * 0.09),
      headPitch: 0.05 - 0.12 * smoothstep(26, 40, t),
      hands: [
        [-0.31, 0.86 + 0.02 * stride, 0.1 + 0.1 * stride],
        [0.3, 0.85 - 0.02 * stride, 0.06 - 0.26 * stride],
      ],
      blink: Math.max(blinkAt(t, 9), blinkAt(t, 31)),
    };
  },
};
