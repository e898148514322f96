import { param, type StoredOf } from '../../params/describe';
import { opening } from '../opening';
import { trackKind } from './describe';
import { pointFrame } from './point';

const params = {
  threshold: param.share({
    default: 55,
    title: 'Threshold',
    curve: false,
    help: 'Gap between the lids, in per cent of their widest, at which it is half open.',
  }),
  softness: param.share({
    default: 30,
    title: 'Softness',
    curve: false,
    help: 'Per cent of the widest gap over which it opens, half of it to either side.',
  }),
  opens: param.choice({
    default: 'while the eye is open',
    of: ['while the eye is open', 'while the eye is shut'],
    title: 'Open',
    help: 'Lets effects show while the eye is open, or while it is shut.',
  }),
};

/** How far an eye of a face that was found is open. */
export const lids = trackKind({
  kind: 'lids',
  title: 'Eyelids',
  summary: 'Measures how far an eye of a found face is open, and lets effects show by that.',
  params,
  boxes: [],
  joins: 'pair',
  joinWords: ['Eye', 'The eye, as a part of a face, whose lids are measured.'],
  finds: 'face',
  opens: (v: StoredOf<typeof params>, apart) => {
    const open = opening(v, apart);
    return v.opens === 'while the eye is open' ? open : 1 - open;
  },
  measures: 'How far it is open',
  frame: ({ others: [along], samples }, clipFrame) => pointFrame(along ?? samples, clipFrame),
});
