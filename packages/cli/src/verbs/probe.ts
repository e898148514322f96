import { probe as probeMedium } from '@wraithos/runtime';
import { pathOf, type Verb } from '../command';

export const probe: Verb = {
  name: 'probe',
  usage: '<clip>',
  about: 'Tells size, frames, rate, alpha, bits and codec of a clip (JSON).',
  options: {},
  positionals: [1, 1],
  async run({ positionals }) {
    const { width, height, frames, frameRate, alpha, bitDepth, codec } = await probeMedium(pathOf(positionals[0]!));
    return { width, height, frames, frameRate, alpha, bitDepth, codec };
  },
};
