import { param } from '../params/describe';

/** An outline's values, each of which may be a curve over the frames of its clip. */
export const outlineParams = {
  feather: param.length({
    default: 12,
    title: 'Feather',
    range: [0, 1000],
    step: 0.5,
    help: 'Full width over which it falls from 1 to 0, centred on the edge. Points may add to it on either side.',
  }),
  grow: param.length({
    default: 0,
    title: 'Grow or shrink',
    range: [-200, 200],
    step: 0.5,
    help: 'Moves the edge outwards, or below 0 inwards, at a right angle.',
  }),
  opacity: param.share({ default: 100, title: 'Opacity', help: 'Share of the outline that counts.' }),
};
