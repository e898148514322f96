import { blur } from '../../image/blur';
import { param } from '../../params/describe';
import { refinement } from './describe';

/** The gain by which the blurred edge becomes as steep as it was, for a radius in pixels: a blurred step rises by 1 / (sigma sqrt(2 pi)) a pixel. */
const steepness = (radius: number): number => Math.max(1, (radius / 2) * 2.5066);

/** Rounds corners, fills nicks and takes spikes away. */
export const smoothCorners = refinement({
  kind: 'smooth corners',
  title: 'Smooth corners',
  summary: 'Rounds corners and evens out a ragged edge; straight edges stay where they are and as sharp as a pixel.',
  params: {
    radius: param.length({
      default: 4,
      title: 'Smooth corners',
      range: [0, 100],
      step: 0.5,
      curve: false,
      help: 'Radius in px of the smallest bend that stays.',
    }),
  },
  inputs: [],
  idle: ({ radius }) => !(radius > 0.5),
  apply(matte, { radius }, pictures) {
    const soft = blur(matte, radius / 2, pictures),
      { data } = soft,
      gain = steepness(radius);
    for (let i = 0; i < data.length; i++) data[i] = Math.min(1, Math.max(0, (data[i]! - 0.5) * gain + 0.5));
    pictures.give(matte);
    return soft;
  },
});
