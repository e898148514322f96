import { temporalMedian } from '@wraithos/core/matte';
import type { Codes } from '@wraithos/core/image';
import { writePng, openMedium } from '@wraithos/runtime';
import { needed, pathOf, UsageError, type Verb } from '../command';

/** More frames than this change a median little and only cost memory. */
const MOST = 61;

export const plate: Verb = {
  name: 'plate',
  usage: '<clip> --out clean.png',
  about: 'Builds a clean plate from a shot with a still camera: the middle value of each pixel over time.',
  options: { out: { type: 'string', value: 'FILE', about: 'Name of the picture, .png; needed.' } },
  positionals: [1, 1],
  async run(given) {
    const out = pathOf(needed(given, 'out')),
      { store, hash, info } = await openMedium(pathOf(given.positionals[0]!));
    if (!out.endsWith('.png')) throw new UsageError('--out wants a .png file.');
    const count = Math.min(MOST, info.frames),
      frames: Codes[] = [];
    for (let i = 0; i < count; i++)
      frames.push(await store.codes(hash, count === 1 ? 0 : Math.round((i * (info.frames - 1)) / (count - 1))));
    const clean = temporalMedian(frames);
    await writePng(out, clean.data, clean.width, clean.height, clean.channels);
    return { out: given.values.out, frames: count, width: clean.width, height: clean.height };
  },
};
