import { param } from '../../params/describe';
import { steadied } from '../steadied';
import { refinement } from './describe';

/** What most of some frames agree on, each taken along by the motion of the picture. */
export const steady = refinement({
  kind: 'steady',
  title: 'Steady over time',
  summary: 'Compares the edge with that of the frames before and after, taken along by the motion of the picture: jitter and flicker go.',
  params: {
    frames: param.number({
      default: 2,
      title: 'Frames',
      unit: 'frames',
      range: [1, 4],
      step: 1,
      curve: false,
      help: 'Frames before and after that are looked at. More hold the edge calmer and take longer.',
    }),
    strength: param.share({
      default: 100,
      title: 'Strength',
      curve: false,
      help: 'Share of the change that is made, %.',
    }),
  },
  inputs: [],
  frames: (v) => Math.round(v.frames),
  idle: (v) => v.strength <= 0,
  apply: (matte, { strength }, pictures, { near, half }) => steadied(matte, half, near, strength, pictures),
});
