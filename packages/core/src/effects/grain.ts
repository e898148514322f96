import { hash } from '../image/random';
import { param } from '../params/describe';
import { effect } from './describe';
import { grainDeviation, withGrain } from './grainOn';
import { recipes } from './recipes/grain';

/** Grain of the plate on what has none: particles, smoke, light and paint that effects have drawn. */
export const grain = effect({
  type: 'grain',
  version: 1,
  title: 'Grain',
  summary: 'The grain of the plate, measured, on what effects have drawn without it.',
  recipes,
  shown: { values: { amount: 300, on: 'everything' } },
  lanes: ['whole', 'foreground'],
  facts: ['frame'],
  origin: 'middle',
  params: {
    amount: param.share({ default: 100, title: 'Amount', range: [0, 400], help: 'Strength of the grain, % of what the plate has.' }),
    on: param.choice({
      default: 'what effects drew',
      of: ['what effects drew', 'everything'],
      title: 'On',
      help: 'Only where the picture is not the plate any more and has lost its grain, or everywhere on top of what is there.',
    }),
    seed: param.seed({ default: 1, title: 'Seed', rare: true }),
  },
  inputs: { below: { kind: 'below', title: 'Picture below' }, plate: { kind: 'plate', optional: true, title: 'Performance' } },
  grains: true,
  idle: (v) => v.amount <= 0,
  render({ pictures, frame }, v, { below, plate }) {
    if (!plate) return {};
    const of = { amount: v.amount, deviation: grainDeviation(plate) },
      changed = withGrain(below, plate, of, v.on, hash(frame, v.seed, 71), pictures);
    return changed ? { changed } : {};
  },
});
