import type { Thrower } from '../lighting';
import type { StoredValue } from '../params/describe';
import { param } from '../params/describe';

/**
 * What a light does to what is about it. The plan draws that from the light's own picture (`render/surroundings.ts`), so that no effect has a way of its own;
 * it only names the strengths, as shares, and the distance in depth as a length.
 */
export type Throws = Thrower;
type Strengths = Pick<Throws, 'onSubject' | 'onGround' | 'inAir'>;

/** Strengths that a person sets, %; each effect says what it begins with. */
export const thrownParams = ({ onSubject, onGround, inAir }: Strengths) => ({
  onSubject: param.share({
    default: onSubject,
    title: 'Light on the subject',
    range: [0, 800],
    help: 'Strength of its light on the subject, %, shaped by the roundness of the matte and by folds in the picture.',
    group: 'Surroundings',
  }),
  onGround: param.share({
    default: onGround,
    title: 'Light on the ground',
    range: [0, 800],
    help: 'Strength of its light on level ground at the feet of the subject, %.',
    group: 'Surroundings',
  }),
  inAir: param.share({
    default: inAir,
    title: 'Light in the air',
    range: [0, 400],
    help: 'Strength of the wide, soft light that it spreads over all that is about it, %.',
    group: 'Surroundings',
  }),
  away: param.length({
    default: 40,
    title: 'Distance in depth',
    range: [1, 2000],
    help: 'Distance of the light before the subject, px; behind it in the lanes Behind and Background.',
    group: 'Surroundings',
    rare: true,
  }),
});
/** The darker surround, for lights that have none of their own. */
export const surroundParam = (strength: number) => ({
  surround: param.share({
    default: strength,
    title: 'Dark surround',
    help: 'Darkens a bright ground under and just about the light, so that it reads there, %.',
    group: 'Surroundings',
  }),
});
/** Values of versions that did nothing to what was about them. */
export const throwsNothing: Record<string, StoredValue> = { onSubject: 0, onGround: 0, inAir: 0 };
/** The distance in depth that suits a subject of a height, px; what clings to the body is nearer. */
export const awayFor = (subjectPixels: number, share = 0.095): Record<string, StoredValue> => ({
  away: Math.max(2, Math.round(subjectPixels * share)),
});
