import { writeFile } from 'node:fs/promises';
import { basename, dirname, relative } from 'node:path';
import { clipOf, newShot as emptyShot, newTake, type Clip } from '@wraithos/core/shot';
import { probe } from '@wraithos/runtime';
import { needed, pathOf, type Verb } from '../command';

/** A clip of a medium, which the document names by its path from its own folder. */
async function clipAt(path: string, documentPath: string, id: string, role: Clip['role'], start: number): Promise<Clip> {
  return clipOf({
    id,
    file: basename(path),
    role,
    media: { path: relative(dirname(documentPath), path) },
    facts: await probe(path),
    start,
  });
}

export const newShot: Verb = {
  name: 'new',
  usage: '--performance <clip> [--clean <clip>] [--name N] --out shot.json',
  about: 'Writes a shot document that names its clips by path.',
  options: {
    performance: {
      type: 'string',
      value: 'CLIP',
      about: 'Clip of the performance; its size, rate and length are those of the shot. Needed.',
    },
    clean: { type: 'string', value: 'CLIP', about: 'Clean plate.' },
    name: { type: 'string', value: 'CODE', about: 'Code of the shot.', usual: 'the name of the performance' },
    out: { type: 'string', value: 'FILE', about: 'Name of the document; needed.' },
  },
  positionals: [0, 0],
  async run(given) {
    const out = pathOf(needed(given, 'out')),
      performance = await clipAt(pathOf(needed(given, 'performance')), out, 'c1', 'performance', 1001);
    const shot = emptyShot({
      code: typeof given.values.name === 'string' ? given.values.name : performance.name,
      width: performance.width,
      height: performance.height,
      rate: performance.rate,
      frames: performance.frames,
    });
    shot.clips.c1 = performance;
    shot.base.takes = [newTake({ id: 'b1', clip: 'c1', start: shot.first })];
    if (typeof given.values.clean === 'string') shot.clips.c2 = await clipAt(pathOf(given.values.clean), out, 'c2', 'clean', 1001);
    await writeFile(out, `${JSON.stringify(shot, null, 2)}\n`);
    return { out: given.values.out, code: shot.code, frames: performance.frames, first: shot.first, last: shot.last };
  },
};
