import { exactMath } from '@wraithos/core/image';
import { stepping, type Act, type Step } from './figure/act';
import type { V3 } from './figure/vector';

const { exp, mix, PI, sin, smoothstep } = exactMath;

/** Where she stands on the mole, and which way: past the camera, out to sea. */
export const STANDS: V3 = [-1.2, 0, 4.95];
const HEADING = 1.12;
const side: V3 = [Math.sqrt(1 - 0.81), 0, 0.9];
const foot = (off: number, ahead: number): V3 => [STANDS[0] + side[0] * off + 0.9 * ahead, 0, STANDS[2] + side[2] * off - side[0] * ahead];

/** Frames that the camera ran before the shot: she comes along the mole, and what she hides later is seen before. */
export const RUN_IN = 48;
/** She comes from the left, a little nearer with every step. */
const COMES = 1.4,
  along: V3 = [sin(COMES), 0, -Math.sqrt(1 - sin(COMES) * sin(COMES))],
  across: V3 = [-along[2], 0, along[0]];
const onWay = (way: number, off: number): V3 => [
  STANDS[0] + along[0] * way + across[0] * off,
  0,
  STANDS[2] + along[2] * way + across[2] * off,
];
const STEP = 10.4,
  COMES_FROM = -2.75;
const steps: Step[] = [onWay(-2.07, -0.09), onWay(-1.38, 0.09), onWay(-0.69, -0.09), foot(0.1, -0.12), foot(-0.1, 0.1)].map((at, i) => ({
  foot: i % 2 ? 1 : 0,
  from: -55 + i * STEP,
  to: -55 + (i + 1) * STEP,
  at,
}));

function lift(t: number): number {
  const after = Math.max(0, t - 34);
  return smoothstep(10, 36, t) - 0.05 * smoothstep(4, 9, t) * smoothstep(16, 9, t) + 0.03 * sin(after * 0.27) * exp(-after / 13);
}
const blinkAt = (t: number, at: number) => smoothstep(at - 1.5, at, t) * smoothstep(at + 3, at + 0.8, t);

/** TW_020: she comes, looks out for the buoy, lifts the lantern to it, and waits for the answer. */
export const warden020: Act = {
  frames: 72,
  runIn: RUN_IN,
  carries: true,
  wind: [-7, 0, 2],
  intend(t) {
    const up = lift(t),
      lean = smoothstep(12, 40, t),
      walking = smoothstep(-2, -9, t),
      stride = walking * sin((2 * PI * (t + 55)) / (2 * STEP));
    return {
      feet: stepping([onWay(COMES_FROM, -0.09), onWay(COMES_FROM, 0.09)], steps, t),
      heading: mix(HEADING, COMES, smoothstep(-1, -16, t)) + 0.05 * lean,
      chestTurn: 0.18 * lean + 0.1 * stride,
      lean: 0.03 + 0.05 * lean - 0.02 * smoothstep(44, 60, t) + 0.03 * walking,
      crouch: 0.01,
      headTurn: mix(-0.18, 0.12, smoothstep(2, 14, t)) + 0.03 * sin(t * 0.09),
      headPitch: mix(0.08, -0.1, smoothstep(4, 20, t)),
      hands: [
        [mix(-0.32, -0.2, up), mix(0.82, 1.56, up), mix(0.12, 0.62, up) + 0.05 * stride],
        [0.3 - 0.04 * lean, 0.84 + 0.02 * lean, 0.02 + 0.06 * lean - 0.15 * stride],
      ],
      blink: Math.max(blinkAt(t, 7), blinkAt(t, 52)),
    };
  },
};
