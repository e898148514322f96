import { clampedLine } from '../../image/planeMath';
import { refinement } from './describe';

/** Turns inside and outside round. */
export const invert = refinement({
  kind: 'invert',
  title: 'Invert',
  summary: 'Swaps inside and outside.',
  params: {},
  inputs: [],
  apply: (matte, _, pictures) => clampedLine(matte, -1, 1, pictures, matte),
});
