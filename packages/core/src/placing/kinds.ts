import { param, type Params, type Values } from '../params/describe';
import { shutterParams } from './moving';
import { placeParams, turnedOnly, type PlaceValues } from './place';
import { timeParams, withDefaults } from './retime';

/*
 * What is placed beside elements: clips on the shot's time and picture, and subjects that are detached from their plate. Both are made of the parameters
 * that elements have, so that all of them are retimed and turned in one way.
 */

const lightOf = (title: string, help: string) => param.share({ default: 100, range: [0, 1600], title, help, group: 'Light', rare: true });

/** How a clip stands in the shot. As it comes it fills the picture, shows a new frame in each frame, and stays at both ends. */
export const clipParams = {
  ...withDefaults(timeParams, { playback: 'once, then stays', rate: 'frame for frame' }),
  ...withDefaults(placeParams, { fit: 'stretched to the picture' }),
  red: lightOf('Red', 'Gain of red light, % of what was filmed.'),
  green: lightOf('Green', 'Gain of green light, %.'),
  blue: lightOf('Blue', 'Gain of blue light, %. All three alike change the exposure: 200 is one stop more.'),
} as const;
export type ClipValues = Values<typeof clipParams>;
export const clipPlacing = { title: 'Placement', params: clipParams };

/** Some of the parameters, shown whatever the others say. */
const some = <P extends Params, K extends keyof P>(params: P, ...names: readonly K[]): Pick<P, K> =>
  Object.fromEntries(
    names.map((name) => {
      const { when: _, ...p } = params[name]!;
      return [name, p];
    }),
  ) as unknown as Pick<P, K>;
const ownTime = withDefaults(timeParams, { playback: 'once, then stays' });

/** How a detached subject stands and moves in the shot. As it comes it stands where it was filmed. */
export const subjectParams = {
  shift: param.point({ default: [0, 0], title: 'Shift', help: 'From where it was filmed or drawn, px.', group: 'Place' }),
  ...some(placeParams, 'size', 'turn', 'swing', 'tilt', 'mirror'),
  pivot: param.point({
    default: [0, 0],
    title: 'Pivot',
    help: 'The point that stays put while it grows and turns, px from the middle of the picture: its feet, as a rule.',
    group: 'Place',
  }),
  ...some(ownTime, 'playback', 'speed', 'direction', 'between', 'trimStart', 'trimEnd'),
  overlap: ownTime.overlap,
  ...shutterParams,
  edges: param.share({
    default: 100,
    title: 'Edge colour',
    help: "Takes the old background's colour out of soft edges.",
    group: 'Edges',
  }),
} as const;
export type SubjectValues = Values<typeof subjectParams>;
export const subjectPlacing = { title: 'Subject', params: subjectParams };

/** A detached subject's values as those of a placed picture as large as the shot. */
export const asPlaced = ({ shift, pivot, size, turn, swing, tilt, mirror }: SubjectValues): PlaceValues =>
  turnedOnly({ place: [pivot[0] + shift[0], pivot[1] + shift[1]], pivot, size, turn, swing, tilt, mirror });

/** What lies behind all takes of the base. */
export const groundParams = {
  ground: param.choice({
    default: 'nothing',
    of: ['nothing', 'colour', 'gradient', 'clip'],
    title: 'Behind it',
    help: 'Nothing stays transparent; a clip is a still, a painting or another plate.',
  }),
  colour: param.colour({ default: '#202020', title: 'Colour', when: { param: 'ground', is: ['colour', 'gradient'] } }),
  other: param.colour({ default: '#8a94a6', title: 'Other colour', when: { param: 'ground', is: ['gradient'] } }),
  direction: param.angle({
    default: 90,
    title: 'Direction',
    help: 'Direction of the gradient across the picture, degrees clockwise.',
    curve: false,
    when: { param: 'ground', is: ['gradient'] },
  }),
} as const;

/** How what effects draw is made to look filmed with the plate. */
export const matchParams = {
  grain: param.share({
    default: 100,
    title: 'Grain',
    range: [0, 400],
    help: 'Grain of the plate on what effects draw without it, % of what the plate has. An effect Grain of the shot takes its place.',
    curve: false,
  }),
  edges: param.choice({
    default: 'as soft as the plate',
    of: ['as soft as the plate', 'as they are drawn'],
    title: 'Edges',
    help: 'Particles and light get edges as soft as the sharpest of the plate, or keep their own.',
  }),
} as const;
export const matchKind = { title: 'Effects on the plate', params: matchParams };

export const groundKind = { title: 'Base', params: groundParams };

/** How a take of the base comes in. */
export const transitionParams = {
  transition: param.choice({
    default: 'cut',
    of: ['cut', 'crossfade', 'led by a matte', 'led by an effect'],
    title: 'Transition',
    help: 'At once; faded in over its length; where a matte lets it in, and wholly at its end; or where the front of an effect has passed.',
  }),
  over: param.number({
    default: 12,
    title: 'Length',
    unit: 'frames',
    range: [1, 1000],
    step: 1,
    curve: false,
    when: { param: 'transition', is: ['crossfade', 'led by a matte'] },
  }),
  eased: param.choice({
    default: 'smooth',
    of: ['smooth', 'even'],
    title: 'Easing',
    when: { param: 'transition', is: ['crossfade'] },
  }),
} as const;
export const transitionKind = { title: 'Transition', params: transitionParams };
