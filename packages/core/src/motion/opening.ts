import { smoothstep } from '../image/exactMath';

/** How far something is open at an amount of 0..1: half at its threshold, and softly to either side of it (both per cent). */
export function opening({ threshold, softness }: { threshold: number; softness: number }, amount: number): number {
  const half = softness / 200,
    at = threshold / 100;
  return half > 0 ? smoothstep(at - half, at + half, amount) : amount >= at ? 1 : 0;
}
