import { pow } from '../../image/exactMath';
import { param } from '../../params/describe';
import { refinement } from './describe';

/** Clips thin veils and near-solid areas, and bends what is between. */
export const levels = refinement({
  kind: 'levels',
  title: 'Levels',
  summary: 'Clips what is nearly empty or nearly full, and bends what lies between.',
  params: {
    black: param.share({ default: 0, title: 'Clip black', curve: false, help: 'Coverage up to this, %, becomes empty.' }),
    white: param.share({ default: 100, title: 'Clip white', curve: false, help: 'Coverage from this on, %, becomes full.' }),
    gamma: param.number({
      default: 1,
      title: 'Gamma',
      unit: '×',
      range: [0.1, 10],
      step: 0.05,
      curve: false,
      help: 'Above 1 soft edges become fuller, below 1 thinner, as an exponent of 1 / gamma.',
    }),
  },
  inputs: [],
  idle: ({ black, white, gamma }) => black <= 0 && white >= 1 && gamma === 1,
  apply(matte, { black, white, gamma }) {
    const { data } = matte,
      width = Math.max(1e-4, white - black),
      bend = 1 / gamma;
    for (let i = 0; i < data.length; i++) {
      const v = Math.min(1, Math.max(0, (data[i]! - black) / width));
      data[i] = bend === 1 || v === 0 || v === 1 ? v : pow(v, bend);
    }
    return matte;
  },
});
