import { blur as blurred } from '../../image/blur';
import { param } from '../../params/describe';
import { refinement } from './describe';

/** Softens the edge to both sides. */
export const blur = refinement({
  kind: 'blur',
  title: 'Blur',
  summary: 'Softens the edge to both sides.',
  params: {
    radius: param.length({
      default: 1.5,
      title: 'Blur',
      range: [0, 200],
      step: 0.5,
      curve: false,
      help: 'Radius in px, 2 × standard deviation.',
    }),
  },
  inputs: [],
  idle: ({ radius }) => !(radius > 0.1),
  apply(matte, { radius }, pictures) {
    const soft = blurred(matte, radius / 2, pictures);
    pictures.give(matte);
    return soft;
  },
});
