import { clamp, mix } from '../image/exactMath';
import { param, type Values } from '../params/describe';

/** What a particle goes through between its birth and its end. */
export const lifeParams = {
  course: param.choice({
    default: 'straight',
    of: ['straight', 'by way of a middle'],
    title: 'Over life',
    help: 'Size, strength and colour go straight from birth to end, or by way of a middle of their own.',
    group: 'Life',
    curve: false,
  }),
  midAt: param.share({
    default: 35,
    title: 'Middle at',
    help: 'Part of the life at which the middle stands, %.',
    range: [1, 99],
    group: 'Life',
    when: { param: 'course', is: ['by way of a middle'] },
  }),
  midSize: param.share({
    default: 150,
    title: 'Middle size',
    help: 'Size at the middle, % of the size at birth.',
    range: [0, 2000],
    group: 'Life',
    when: { param: 'course', is: ['by way of a middle'] },
  }),
  midStrength: param.share({
    default: 100,
    title: 'Middle strength',
    help: 'Strength at the middle, % of the strength at birth.',
    range: [0, 1000],
    group: 'Life',
    when: { param: 'course', is: ['by way of a middle'] },
  }),
  endStrength: param.share({
    default: 100,
    title: 'End strength',
    help: 'Strength at the end of a life, % of the strength at birth.',
    range: [0, 1000],
    group: 'Life',
    when: { param: 'course', is: ['by way of a middle'] },
  }),
  midColour: param.colour({
    default: '#ff9a3c',
    title: 'Middle colour',
    group: 'Life',
    when: { param: 'course', is: ['by way of a middle'] },
  }),
} as const;
type Life = Values<typeof lifeParams>;

/** From `a` by `middle` to `b`, flat at all three; `part` is where it stands, 0..1, and `at` where the middle does. */
export function byMiddle(a: number, middle: number, b: number, part: number, at: number): number {
  const [from, to, t] = part < at ? [a, middle, part / at] : [middle, b, (part - at) / (1 - at)],
    s = clamp(t, 0, 1);
  return mix(from, to, s * s * (3 - 2 * s));
}

/** The size of a particle against that at birth, its strength likewise, and its colour, at a part of its life 0..1. */
export function overLife(
  v: Life & { grows: number; young: readonly [number, number, number]; old: readonly [number, number, number] },
  part: number,
): { size: number; strength: number; colour: [number, number, number] } {
  const own = v.course !== 'straight',
    at = clamp(v.midAt, 0.01, 0.99),
    colour = (c: 0 | 1 | 2) => (own ? byMiddle(v.young[c], v.midColour[c], v.old[c], part, at) : mix(v.young[c], v.old[c], part));
  return {
    size: own ? byMiddle(1, v.midSize, v.grows, part, at) : mix(1, v.grows, part),
    strength: own ? byMiddle(1, v.midStrength, v.endStrength, part, at) : 1,
    colour: [colour(0), colour(1), colour(2)],
  };
}
