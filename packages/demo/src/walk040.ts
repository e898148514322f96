import { exactMath } from '@wraithos/core/image';
import { stepping, type Act, type Step } from './figure/act';
import type { V3 } from './figure/vector';

const { exp, mix, sin, smoothstep } = exactMath;

/** Frame of the strike. */
export const STRIKE = 40;
export const STANDS: V3 = [-0.72, 0, 4.52];
const HEADING = 1.22;
const ahead: V3 = [sin(HEADING), 0, -Math.sqrt(1 - sin(HEADING) * sin(HEADING))],
  side: V3 = [-ahead[2], 0, ahead[0]];
const spot = (way: number, off: number): V3 => [STANDS[0] + ahead[0] * way + side[0] * off, 0, STANDS[2] + ahead[2] * way + side[2] * off];
const steps: Step[] = [
  { foot: 1, from: 24, to: 37, at: spot(0.3, 0.13) },
  { foot: 1, from: 58, to: 70, at: spot(0.08, 0.12) },
];
const blinkAt = (t: number, at: number) => smoothstep(at - 1.5, at, t) * smoothstep(at + 3, at + 0.8, t);
type Key = readonly [time: number, hand: V3, mallet: V3];
/** Hand and mallet: at rest, drawn back, the blow, its rebound, and down again. */
const keys: Key[] = [
  [0, [-0.2, 0.9, 0.3], [0.1, -0.34, 0.42]],
  [8, [-0.21, 0.92, 0.3], [0.1, -0.32, 0.44]],
  [28, [-0.3, 1.5, 0.02], [-0.08, 0.5, -0.22]],
  [33, [-0.31, 1.53, -0.02], [-0.1, 0.49, -0.25]],
  [STRIKE, [-0.1, 1.27, 0.45], [0.06, 0.1, 0.54]],
  [46, [-0.18, 1.33, 0.32], [0.02, 0.36, 0.4]],
  [66, [-0.22, 0.95, 0.3], [0.1, -0.28, 0.46]],
  [84, [-0.22, 0.92, 0.3], [0.1, -0.32, 0.43]],
];
function keyed(t: number): { hand: V3; mallet: V3 } {
  let k = 0;
  while (k < keys.length - 2 && t >= keys[k + 1]![0]) k++;
  const [from, h0, m0] = keys[k]!,
    [to, h1, m1] = keys[k + 1]!,
    s = Math.max(0, Math.min(1, (t - from) / (to - from))),
    // The blow gains speed to the end; all else eases in and out.
    e = to === STRIKE ? s * s * s : s * s * (3 - 2 * s),
    at = (a: V3, b: V3): V3 => [mix(a[0], b[0], e), mix(a[1], b[1], e), mix(a[2], b[2], e)];
  return { hand: at(h0, h1), mallet: at(m0, m1) };
}

/** Where the warden stands in the second take: before the right post, nearer than the bell. */
export const WAITS: V3 = [1.28, 0, 3.6];
const TURNED = -0.95;
const waitAhead: V3 = [sin(TURNED), 0, -Math.sqrt(1 - sin(TURNED) * sin(TURNED))],
  waitSide: V3 = [-waitAhead[2], 0, waitAhead[0]];
const waitSpot = (way: number, off: number): V3 => [
  WAITS[0] + waitAhead[0] * way + waitSide[0] * off,
  0,
  WAITS[2] + waitAhead[2] * way + waitSide[2] * off,
];
const waitSteps: Step[] = [
  { foot: 0, from: 4, to: 15, at: waitSpot(0.2, -0.11) },
  { foot: 1, from: 15, to: 25, at: waitSpot(0.16, 0.11) },
];
/** TW_040, take two: the warden comes a step nearer, lifts the lantern a little, and listens. */
export const waits040: Act = {
  frames: 48,
  carries: true,
  wind: [3, 0, 1],
  intend(t) {
    const up = smoothstep(14, 34, t);
    return {
      feet: stepping([waitSpot(-0.34, -0.1), waitSpot(-0.2, 0.11)], waitSteps, t),
      heading: TURNED,
      chestTurn: 0.1 * up,
      lean: 0.03 - 0.03 * up,
      crouch: 0.01,
      headTurn: mix(0.05, 0.28, up),
      headPitch: mix(0.08, -0.08, up),
      hands: [
        [-0.33, mix(0.84, 1.2, up), mix(0.14, 0.4, up)],
        [0.3, 0.84, 0.02],
      ],
      blink: blinkAt(t, 28),
    };
  },
};

/** TW_040: she draws the mallet back, steps in, and strikes the great bell. */
export const warden040: Act = {
  frames: 84,
  carries: false,
  wind: [3, 0, 1],
  intend(t) {
    const { hand, mallet } = keyed(t),
      back = smoothstep(10, 30, t) * smoothstep(STRIKE, 34, t),
      blow = smoothstep(34, STRIKE, t) * smoothstep(60, 44, t),
      shaken = t > STRIKE ? exp(-(t - STRIKE) / 7) * sin((t - STRIKE) * 1.4) : 0;
    return {
      feet: stepping([spot(-0.16, -0.13), spot(-0.02, 0.13)], steps, t),
      heading: HEADING - 0.2 * back + 0.12 * blow,
      chestTurn: -0.34 * back + 0.3 * blow,
      lean: 0.04 - 0.1 * back + 0.2 * blow + 0.02 * shaken,
      crouch: 0.03 * back + 0.04 * blow + 0.01,
      headTurn: 0.2 * back - 0.2 * blow,
      headPitch: 0.05 - 0.16 * smoothstep(52, 66, t) + 0.03 * shaken,
      hands: [
        [hand[0], hand[1] + 0.012 * shaken, hand[2]],
        [hand[0] + 0.1 - mallet[0] * 0.2, hand[1] - mallet[1] * 0.22 - 0.02, hand[2] - mallet[2] * 0.22 + 0.03],
      ],
      blink: Math.max(blinkAt(t, 5), blinkAt(t, STRIKE + 1), blinkAt(t, 74)),
      mallet,
    };
  },
};
