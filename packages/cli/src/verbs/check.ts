import { checkShot, contrastOf, contrastProblem, FrameRenderer, loadTracks, type Check } from '@wraithos/core/render';
import { drawnRows, whyNotVisible } from '@wraithos/core/shot';
import { fileSources } from '@wraithos/runtime';
import { pathOf, type Verb } from '../command';
import { openShot } from './render';

export const check: Verb = {
  name: 'check',
  usage: '<shot.json> [--measure]',
  about: 'Looks a shot over before it is rendered (JSON list).',
  options: {
    measure: { type: 'boolean', about: 'Also draws each effect in the middle of its range, and measures whether it can be seen.' },
  },
  positionals: [1, 1],
  async run({ positionals, values }) {
    const path = pathOf(positionals[0]!),
      shot = await openShot(path),
      sources = fileSources(path),
      found: Check[] = checkShot(shot, await loadTracks(shot, sources));
    if (values.measure !== true) return found;
    const renderer = new FrameRenderer(sources, shot, 256 * 2 ** 20, undefined, false);
    for (const row of drawnRows(shot).rows) {
      const frame = Math.round((Math.max(row.first, shot.first) + Math.min(row.last, shot.last)) / 2);
      if (row.id !== row.row || whyNotVisible(row, frame) !== null || row.effect!.removes) continue;
      const problem = contrastProblem(row.name, !!row.effect!.light, await contrastOf(renderer, shot, row.row, frame));
      if (problem) found.push({ id: 'cannot-read', row: row.row, frame, ...problem });
    }
    return found;
  },
};
