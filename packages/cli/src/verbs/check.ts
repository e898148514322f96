import { checkShot, loadTracks } from '@wraithos/core/render';
import { fileSources } from '@wraithos/runtime';
import { pathOf, type Verb } from '../command';
import { openShot } from './render';

export const check: Verb = {
  name: 'check',
  usage: '<shot.json>',
  about: 'Looks a shot over before it is rendered (JSON list).',
  options: {},
  positionals: [1, 1],
  async run({ positionals }) {
    const path = pathOf(positionals[0]!),
      shot = await openShot(path);
    return checkShot(shot, await loadTracks(shot, fileSources(path)));
  },
};
