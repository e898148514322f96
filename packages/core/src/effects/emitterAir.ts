import { clamp, mix } from '../image/exactMath';
import { param } from '../params/describe';
import type { Flakes } from '../particles';
import { eddyParam, onsetParam, windDirectionParam } from './airSettings';

/** What an emitter's particles meet in the air and on the ground. */
export const emitterAir = {
  gravity: param.share({
    default: -15,
    title: 'Weight',
    range: [-200, 200],
    help: "Gravity, % of the Earth's; below 0 particles rise.",
    group: 'Air',
  }),
  endWeight: param.share({
    default: 100,
    title: 'End weight',
    range: [-400, 400],
    help: 'Weight at the end of a life, % of the weight at birth; below 0 what rose sinks, and what sank rises.',
    group: 'Air',
    curve: false,
    rare: true,
  }),
  settle: param.number({
    default: 1.2,
    title: 'Fall speed',
    unit: 'm/s',
    range: [0.02, 60],
    step: 0.05,
    help: 'Steady fall in still air: ash 0.3, paper 1, sparks 8, water 9 m/s.',
    group: 'Air',
    curve: false,
  }),
  wind: param.number({ default: 0.3, title: 'Wind', help: 'Speed of the wind.', unit: 'm/s', range: [0, 30], step: 0.1, group: 'Air' }),
  windDirection: windDirectionParam,
  gusts: param.share({
    default: 40,
    title: 'Gusts',
    help: 'Change of the wind over time, % of its speed.',
    range: [0, 200],
    group: 'Air',
    rare: true,
    curve: false,
  }),
  turbulence: param.number({
    default: 0.45,
    title: 'Turbulence',
    help: 'Speed of the eddies.',
    unit: 'm/s',
    range: [0, 20],
    step: 0.05,
    group: 'Air',
  }),
  onset: onsetParam(0),
  upright: param.share({
    default: 100,
    title: 'Vertical turbulence',
    range: [0, 300],
    help: 'Vertical turbulence relative to horizontal, %.',
    group: 'Air',
    rare: true,
    curve: false,
  }),
  stirs: param.choice({
    default: 'everywhere',
    of: ['everywhere', 'outside the body'],
    title: 'Turbulence acts',
    help: 'Everywhere, or only outside the matte of the subject.',
    group: 'Air',
    rare: true,
  }),
  eddy: eddyParam(0.3),
  churn: param.number({
    default: 0.6,
    title: 'Churn',
    help: 'Changes of the eddies each second.',
    unit: '/s',
    range: [0, 10],
    step: 0.1,
    group: 'Air',
    rare: true,
    curve: false,
  }),
  pull: param.number({
    default: 0,
    title: 'Pull',
    unit: 'm/s²',
    range: [-200, 200],
    step: 0.5,
    help: 'Acceleration towards the centre; below 0 away from it.',
    group: 'Air',
    rare: true,
  }),
  ground: param.length({
    default: 0,
    title: 'Ground height',
    range: [0, 8192],
    help: 'Distance of the ground from the top of the picture, px; 0 = no ground.',
    group: 'Air',
    rare: true,
    curve: false,
  }),
  lands: param.choice({
    default: 'rests',
    of: ['rests', 'bounces', 'vanishes'],
    title: 'At the ground',
    help: 'A particle stays where it fell, springs up again, or is gone.',
    group: 'Air',
    rare: true,
  }),
  bounce: param.share({
    default: 45,
    title: 'Bounce',
    help: 'Share of its speed with which a particle springs up again, %.',
    group: 'Air',
    when: { param: 'lands', is: ['bounces'] },
    rare: true,
    curve: false,
  }),
} as const;

/** By how much each particle's weight is multiplied at its age, where it changes over a life. */
export function weightsOf({ age, life, count, stride }: Flakes, v: { endWeight: number }): Float32Array | undefined {
  if (v.endWeight === 1) return undefined;
  const out = new Float32Array(stride).fill(1);
  for (let i = 0; i < count; i++) out[i] = mix(1, v.endWeight, clamp(age[i]! / life[i]!, 0, 1));
  return out;
}
