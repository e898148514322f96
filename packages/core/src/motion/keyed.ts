import type { Placed } from './samples';

/**
 * A number between keys: along a smooth way through them (cubic, with the speed at each key from its neighbours, none where they lie to the same
 * side, so that nothing swings over; Fritsch and Carlson 1980), held before the first and after the last.
 * @param keys in order of frames, one at the least.
 */
export function keyedValue(keys: readonly { frame: number; value: number }[], frame: number): number {
  const after = keys.findIndex((k) => k.frame > frame),
    i = after < 0 ? keys.length - 1 : after - 1,
    at = keys[Math.max(0, i)]!,
    next = keys[i + 1];
  if (i < 0 || !next) return at.value;
  const slope = (k: number): number => (keys[k + 1]!.value - keys[k]!.value) / (keys[k + 1]!.frame - keys[k]!.frame),
    here = slope(i),
    speed = (k: number): number => {
      if (k <= 0 || k >= keys.length - 1) return here;
      const a = slope(k - 1),
        b = slope(k),
        u = keys[k]!.frame - keys[k - 1]!.frame,
        v = keys[k + 1]!.frame - keys[k]!.frame;
      return a * b <= 0 ? 0 : (3 * (u + v)) / ((2 * v + u) / a + (v + 2 * u) / b);
    },
    span = next.frame - at.frame,
    t = (frame - at.frame) / span,
    t2 = t * t,
    t3 = t2 * t;
  return (
    (2 * t3 - 3 * t2 + 1) * at.value +
    (t3 - 2 * t2 + t) * span * speed(i) +
    (3 * t2 - 2 * t3) * next.value +
    (t3 - t2) * span * speed(i + 1)
  );
}

/**
 * Where keys say that something is at a frame: smoothly through them, held at both ends. Null without keys.
 * @param keys in order of frames.
 */
export function keyedPlace(
  keys: readonly Pick<Placed, 'frame' | 'x' | 'y' | 'rotation' | 'scale'>[],
  frame: number,
): { x: number; y: number; rotation: number; scale: number } | null {
  if (!keys.length) return null;
  const value = (name: 'x' | 'y' | 'rotation' | 'scale'): number =>
    keyedValue(
      keys.map((k) => ({ frame: k.frame, value: k[name] })),
      frame,
    );
  return { x: value('x'), y: value('y'), rotation: value('rotation'), scale: value('scale') };
}
