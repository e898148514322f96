import { param } from '../../params/describe';
import { growMatte } from '../grow';
import { refinement } from './describe';

/** Moves the edge out or in. */
export const grow = refinement({
  kind: 'grow',
  title: 'Grow or shrink',
  summary: 'Moves the edge outwards, or inwards below 0, also by parts of a pixel.',
  params: {
    by: param.length({
      default: 0,
      title: 'Grow or shrink',
      range: [-100, 100],
      step: 0.5,
      curve: false,
      help: 'Above 0 the matte grows by so many px, below 0 it shrinks.',
    }),
  },
  inputs: [],
  idle: ({ by }) => Math.abs(by) < 1e-3,
  apply(matte, { by }, pictures) {
    growMatte(matte, by, pictures);
    return matte;
  },
});
