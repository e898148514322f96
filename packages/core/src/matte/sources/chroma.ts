import { param } from '../../params/describe';
import { chromaMatte } from '../keys';
import { matteSource } from './describe';

/** A key against an even backing of one strong colour. */
export const chroma = matteSource({
  kind: 'chroma',
  title: 'Chroma key of a backing',
  called: 'Key',
  summary: 'Keys out a green or blue backing; everything in front of it stays.',
  params: {
    backing: param.colour({
      default: '#00b140',
      encoded: true,
      picked: true,
      title: 'Backing',
      help: 'Colour of the backing where it is neither brightest nor darkest.',
    }),
    tolerance: param.number({
      default: 30,
      title: 'Tolerance',
      unit: '%',
      range: [0, 200],
      step: 1,
      curve: false,
      help: 'Difference in colour up to which a pixel is backing, % of the strength of its colour.',
    }),
    softness: param.number({
      default: 45,
      title: 'Softness',
      unit: '%',
      range: [0, 200],
      step: 1,
      curve: false,
      help: 'Width of the ramp from backing to subject, same unit.',
    }),
    spill: param.share({
      default: 100,
      title: 'Spill',
      curve: false,
      help: 'Share of the light of the backing that is taken out of the subject where it is laid elsewhere.',
    }),
  },
  inputs: ['plate'],
  refined: { blur: 0, despeckle: 200, fillHoles: 2000 },
  make: ({ pictures }, v, { plate }) => chromaMatte(plate, v.backing, v, pictures),
});
