import { param } from '../../params/describe';
import { lumaMatte, lumaParts } from '../keys';
import { matteSource } from './describe';

/** What is bright, dark, or in between: lamps, glints, windows, a silhouette before the sky. */
export const luma = matteSource({
  kind: 'luma',
  title: 'Luma key of bright or dark parts',
  called: 'Luma',
  summary: 'Everything between two values of the display: lamps and glints, or a silhouette before a bright sky.',
  params: {
    of: param.choice({
      default: 'brightness',
      of: lumaParts,
      title: 'Value of',
      help: 'Measures brightness, one channel, or how strong the colour is.',
    }),
    low: param.share({ default: 60, title: 'From', curve: false, help: 'Lowest value that is in the matte, % of the display range.' }),
    high: param.share({
      default: 100,
      title: 'To',
      curve: false,
      help: 'Highest value that is in the matte, % of the display range; at 100 everything brighter as well.',
    }),
    softness: param.share({
      default: 15,
      title: 'Softness',
      curve: false,
      help: 'Width of the ramps at both ends, % of the display range, centred on them.',
    }),
  },
  inputs: ['plate'],
  refined: { blur: 0, despeckle: 0, fillHoles: 0 },
  make: ({ pictures }, { of, low, high, softness }, { plate }) =>
    lumaMatte(plate, { of, low: 100 * low, high: 100 * high, softness: 100 * softness }, pictures),
});
