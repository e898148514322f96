import { exactMath } from '@wraithos/core/image';
import type { Point } from './field';

const { sin, cos, smoothstep, PI, exp } = exactMath;

/** Where the parts of the figure stand at one frame, in whole pixels of the picture. */
export interface Pose {
  /** Metres above the feet and to the right of them, to pixels. */
  at(right: number, up: number): Point;
  scale: number;
  feet: Point;
  lean: number;
  breath: number;
  turn: number;
  armUpper: Point;
  elbow: Point;
  hand: Point;
  lantern: Point;
  lanternSwing: number;
  ring: Point;
  pin: Point;
  scarfSway: number;
}

export const FRAMES = 96;
export const FEET: Point = { x: 560, y: 640 };
export const HEIGHT_METRES = 1.72,
  HEIGHT_PIXELS = 402;

/** How far the lantern is lifted, 0 to 1: an easy start, a little too high, then settled. */
function lift(frame: number): number {
  const t = smoothstep(10, 40, frame);
  const after = Math.max(0, frame - 36);
  return t + 0.035 * sin(after * 0.28) * exp(-after / 14) * smoothstep(34, 40, frame);
}

/** Ilse at frame 0 to 95: she breathes, lifts the lantern, turns her head to it and looks up. */
export function poseAt(frame: number): Pose {
  const scale = HEIGHT_PIXELS / HEIGHT_METRES,
    up = lift(frame);
  const breath = sin((2 * PI * frame) / 62),
    lean = -0.018 * up + 0.006 * sin((2 * PI * frame) / 88 + 0.7);
  const at = (right: number, height: number): Point => ({
    x: FEET.x + (right + lean * height) * scale,
    y: FEET.y - (height + (height > 0.8 ? 0.004 * breath * (height - 0.8) : 0)) * scale,
  });
  const upperAngle = -1.02 + up * 1.72,
    foreAngle = -1.28 + up * 2.02 + 0.05 * sin(frame * 0.11);
  const armUpper = at(-0.19, 1.36 + 0.01 * up);
  const elbow = { x: armUpper.x - cos(upperAngle) * 0.27 * scale, y: armUpper.y - sin(upperAngle) * 0.27 * scale };
  const hand = { x: elbow.x - cos(foreAngle) * 0.26 * scale, y: elbow.y - sin(foreAngle) * 0.26 * scale };
  // The lantern hangs from the hand and lags behind it, then swings out.
  const speed = lift(frame - 2) - lift(frame - 5);
  const lanternSwing =
    1.5 * speed +
    0.1 * exp(-Math.max(0, frame - 38) / 22) * sin((frame - 38) * 0.42) * smoothstep(30, 40, frame) +
    0.012 * sin(frame * 0.19);
  const ring = { x: hand.x - 4, y: hand.y + 7 };
  const lantern = { x: ring.x + sin(lanternSwing) * 29, y: ring.y + cos(lanternSwing) * 29 };
  const turn = smoothstep(18, 46, frame);
  return {
    at,
    scale,
    feet: FEET,
    lean,
    breath,
    turn,
    armUpper,
    elbow,
    hand,
    lantern,
    lanternSwing,
    ring,
    pin: at(-0.045, 1.425),
    scarfSway: 1.4 * speed + 0.05 * sin(frame * 0.16),
  };
}
