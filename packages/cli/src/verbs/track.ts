import { writeFile } from 'node:fs/promises';
import { lumaOfCodes, newPlane } from '@wraithos/core/image';
import { trackKinds, type TrackSample } from '@wraithos/core/motion';
import { openMedium } from '@wraithos/runtime';
import { needed, numberOption, pairOption, pathOf, progress, progressEnd, UsageError, type Verb } from '../command';

const MODES = ['point', 'area'] as const;

export const track: Verb = {
  name: 'track',
  usage: '<clip> --at X,Y [--mode point|area] [--frame N] [--pattern 41] [--search 81] [--area 121] [--stop] [--out track.json]',
  about: 'Follows a point or an area to the end of a clip: one sample for each frame (JSON). Pixel centres lie at +0.5.',
  options: {
    at: { type: 'string', value: 'X,Y', about: 'Its place, px from the top left corner; needed.' },
    mode: {
      type: 'string',
      value: MODES.join('|'),
      about: 'A point by its pattern, or the mean motion, turn and growth of an area.',
      usual: 'point',
    },
    frame: { type: 'string', value: 'N', about: 'Frame of the clip at which it is there, counted from 0.', usual: '0' },
    pattern: { type: 'string', value: 'PX', about: 'Side of the box that is looked for, px, odd.', usual: '41' },
    search: { type: 'string', value: 'PX', about: 'Side of the box that it is looked for in, px.', usual: '81, or the pattern + 20' },
    area: { type: 'string', value: 'PX', about: 'Side of the area, px, odd.', usual: '121' },
    stop: { type: 'boolean', about: 'Stops at the first frame at which it is lost.', usual: 'it goes on looking' },
    out: { type: 'string', value: 'FILE', about: 'Writes the result to a file as well.' },
  },
  positionals: [1, 1],
  async run(given) {
    const at = pairOption(needed(given, 'at'), 'at'),
      odd = (n: number) => Number.isInteger(n) && n >= 7 && n % 2 === 1 && n <= 301;
    const pattern = numberOption(given, 'pattern', 41, odd, 'an odd number of pixels from 7 to 301'),
      search = numberOption(
        given,
        'search',
        Math.max(81, pattern + 20),
        (n) => Number.isInteger(n) && n > pattern && n <= 801,
        `a whole number of pixels above the pattern (${pattern})`,
      );
    const mode = (given.values.mode as (typeof MODES)[number] | undefined) ?? 'point',
      area = numberOption(
        given,
        'area',
        121,
        (n) => Number.isInteger(n) && n >= 31 && n % 2 === 1 && n <= 801,
        'an odd number of pixels from 31 to 801',
      );
    if (!MODES.includes(mode)) throw new UsageError(`--mode wants ${MODES.join(' or ')}, not "${String(mode)}".`);
    const { store, hash, info } = await openMedium(pathOf(given.positionals[0]!)),
      first = numberOption(
        given,
        'frame',
        0,
        (n) => Number.isInteger(n) && n >= 0 && n < info.frames,
        `a frame from 0 to ${info.frames - 1}`,
      );
    if (!(at[0] >= 0 && at[1] >= 0 && at[0] <= info.width && at[1] <= info.height))
      throw new UsageError(`--at ${at.join(',')} lies outside the picture (${info.width} x ${info.height}).`);
    const luma = async (frame: number) => {
      const codes = await store.codes(hash, frame);
      return lumaOfCodes(codes, newPlane(codes.width, codes.height));
    };
    const tracker = trackKinds[mode].follow!({ pattern, search, policy: 'drift-corrected', area } as never, await luma(first), first, at),
      samples: TrackSample[] = [tracker.start];
    let stopped = false;
    for (let f = first + 1; f < info.frames; f++) {
      const sample: TrackSample = stopped
        ? { ...samples[samples.length - 1]!, frame: f, x: null, y: null, confidence: 0, state: 'lost' }
        : tracker.step(await luma(f), f);
      if (given.values.stop && sample.state === 'lost') stopped = true;
      samples.push(sample);
      progress(`frame ${f} of ${info.frames - 1}: ${sample.state}`);
    }
    progressEnd();
    const result = { mode, samples };
    if (typeof given.values.out === 'string') await writeFile(pathOf(given.values.out), JSON.stringify(result, null, 1));
    return result;
  },
};
