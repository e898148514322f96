import { blur } from '../../image/blur';
import { param } from '../../params/describe';
import { growMatte } from '../grow';
import { refinement } from './describe';

/** A soft ramp on one side of the edge, which leaves the other side as it is. */
export const feather = refinement({
  kind: 'feather',
  title: 'Feather',
  summary: 'A soft ramp inwards or outwards of the edge; the other side stays as it is.',
  params: {
    to: param.choice({
      default: 'inwards',
      of: ['inwards', 'outwards', 'both'],
      title: 'Feather',
      help: 'The side of the edge that becomes soft.',
    }),
    width: param.length({
      default: 8,
      title: 'Width',
      range: [0, 200],
      step: 0.5,
      curve: false,
      help: 'Width of the ramp, px, on each side that is soft.',
    }),
  },
  inputs: [],
  idle: ({ width }) => !(width > 0.1),
  apply(matte, { to, width }, pictures) {
    const { width: w, height: h } = matte,
      moved = pictures.takePlane(w, h);
    moved.data.set(matte.data);
    // A blur of radius r (2 sigma) reaches about r to each side: about an edge that is moved by half of the width it ends at the edge itself.
    if (to !== 'both') growMatte(moved, to === 'outwards' ? width / 2 : -width / 2, pictures);
    const soft = blur(moved, (to === 'both' ? width : width / 2) / 2, pictures),
      s = soft.data,
      m = matte.data;
    pictures.give(moved);
    if (to === 'inwards') for (let i = 0; i < s.length; i++) s[i] = Math.min(s[i]!, m[i]!);
    else if (to === 'outwards') for (let i = 0; i < s.length; i++) s[i] = Math.max(s[i]!, m[i]!);
    pictures.give(matte);
    return soft;
  },
});
