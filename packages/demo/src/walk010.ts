import { exactMath } from '@wraithos/core/image';
import { stepping, type Act, type Step } from './figure/act';
import { add, times, type V3 } from './figure/vector';

const { cos, exp, mix, PI, sin, smoothstep } = exactMath;

const FRAMES = 96;
const START: V3 = [0.1, 0, 5.62],
  HEADING = -0.36;
const along: V3 = [sin(HEADING), 0, -cos(HEADING)],
  side: V3 = [cos(HEADING), 0, sin(HEADING)];
const spot = (way: number, off: number): V3 => add(START, add(times(along, way), times(side, off)));
const steps: Step[] = [
  { foot: 0, from: 3, to: 15, at: spot(0.62, -0.09) },
  { foot: 1, from: 15.5, to: 28, at: spot(1.2, 0.1) },
  { foot: 0, from: 28.5, to: 38, at: spot(1.14, -0.11) },
];

/** How high the lantern is, 0 to 1: a dip before, then up, a little too far, and settled. */
function lift(t: number): number {
  const dip = -0.06 * smoothstep(33, 38, t) * smoothstep(44, 38, t),
    after = Math.max(0, t - 55);
  return dip + smoothstep(37, 58, t) + 0.02 * sin(after * 0.26) * exp(-after / 14);
}
const blinkAt = (t: number, at: number) => smoothstep(at - 1.5, at, t) * smoothstep(at + 3, at + 0.8, t);

/** TW_010: two steps along the jetty, a stop, the lantern lifted, a look up to it. */
export const warden010: Act = {
  frames: FRAMES,
  carries: true,
  wind: [5, 0, 1],
  intend(t) {
    const up = lift(t),
      walking = smoothstep(0, 6, t) * smoothstep(37, 29, t),
      stride = sin((2 * PI * (t - 3)) / 25),
      look = smoothstep(44, 60, t);
    return {
      feet: stepping([spot(0, -0.09), spot(-0.05, 0.1)], steps, t),
      heading: HEADING - 0.08 * smoothstep(26, 46, t),
      chestTurn: 0.1 * stride * walking - 0.1 * smoothstep(34, 52, t),
      lean: 0.045 * walking - 0.05 * up + 0.012,
      crouch: 0.012 * smoothstep(28, 34, t) * smoothstep(44, 38, t),
      headTurn: mix(0.1 * sin(t * 0.07), -0.22, look) - 0.1 * stride * walking,
      headPitch: mix(0.13, -0.2, look) - 0.03 * sin(t * 0.11),
      hands: [
        [
          mix(-0.33, -0.56, up),
          mix(0.82, 1.74, up),
          mix(0.16, 0.42, up) + 0.05 * stride * walking + 0.1 * sin(PI * Math.min(1, Math.max(0, up))),
        ],
        [0.29 - 0.02 * up, 0.83, 0.05 - 0.15 * stride * walking],
      ],
      blink: Math.max(blinkAt(t, 12), blinkAt(t, 45), blinkAt(t, 83)),
    };
  },
};
