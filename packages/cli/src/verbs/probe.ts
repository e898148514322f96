import { probe as probeMedium } from '@wraithos/runtime';
import { pathOf, type Verb } from '../command';

export const probe: Verb = {
  name: 'probe',
  usage: '<media>',
  about: 'Says what a medium is: size, frames, rate, alpha, depth, codec (JSON).',
  options: {},
  positionals: [1, 1],
  async run({ positionals }) {
    const { width, height, frames, frameRate, alpha, bitDepth, codec } = await probeMedium(pathOf(positionals[0]!));
    return { width, height, frames, frameRate, alpha, bitDepth, codec };
  },
};
