import { param, type StoredOf } from '../../params/describe';
import { opening } from '../opening';
import { trackKind } from './describe';
import { pointFrame } from './point';

const params = {
  side: param.number({
    default: 41,
    title: 'Size looked at',
    unit: 'px',
    range: [7, 401],
    step: 2,
    curve: false,
    help: 'Side of the box around the track that is compared with its look, px.',
  }),
  threshold: param.share({ default: 60, title: 'Threshold', curve: false, help: 'Likeness at which it is half open.' }),
  softness: param.share({ default: 20, title: 'Softness', curve: false, help: 'Likeness over which it opens, half of it to either side.' }),
  opens: param.choice({
    default: 'while alike',
    of: ['while alike', 'while different'],
    title: 'Open',
    help: 'Lets effects show while the place looks as on the chosen frame, or while it looks different.',
  }),
};

/** How much a place looks as it did on one frame: an eye that shuts, a post that comes in front. */
export const gate = trackKind({
  kind: 'gate',
  title: 'Gate',
  summary:
    'Measures how much the place of another track looks as it did on one frame, and lets effects show by that: an eye that shuts, a post in front.',
  params,
  boxes: [],
  joins: 'pair',
  joinWords: ['Place of', 'The track whose place is compared.'],
  compares: 'side',
  measures: 'Likeness',
  opens: (v: StoredOf<typeof params>, likeness) => {
    const open = opening(v, likeness);
    return v.opens === 'while alike' ? open : 1 - open;
  },
  frame: ({ others: [along] }, clipFrame) => (along ? pointFrame(along, clipFrame) : null),
});
