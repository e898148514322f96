import type { Frame, V3 } from './vector';

export interface Leg {
  hip: V3;
  knee: V3;
  ankle: V3;
  toe: V3;
}
export interface Arm {
  shoulder: V3;
  elbow: V3;
  hand: V3;
}
/** How Ilse stands at one moment, in metres of the set. The first leg and arm are her right ones. */
export interface Stance {
  pelvis: Frame;
  chest: Frame;
  head: Frame;
  legs: [Leg, Leg];
  arms: [Arm, Arm];
  hem: V3;
  tail: V3[];
  /** Hangs from `at`; null where she carries none. */
  lantern: Frame | null;
  /** What she swings: from the hand to its head. */
  mallet: { hand: V3; head: V3 } | null;
  blink: number;
  breath: number;
}
