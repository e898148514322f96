import { writeFile } from 'node:fs/promises';
import { basename, dirname, extname, relative } from 'node:path';
import { newShot as emptyShot, type Clip } from '@wraithos/core/shot';
import { probe } from '@wraithos/runtime';
import { needed, pathOf, type Verb } from '../command';

/** A clip of a medium, named by its path from the document's folder. */
async function clipOf(path: string, documentPath: string, id: string, role: Clip['role'], first: number): Promise<Clip> {
  const info = await probe(path);
  return {
    id,
    name: basename(path, extname(path)),
    role,
    media: { path: relative(dirname(documentPath), path) },
    width: info.width,
    height: info.height,
    frames: info.frames,
    rate: info.frameRate,
    alpha: info.alpha,
    bits: info.bitDepth,
    transfer: info.transfer,
    start: first,
  };
}

export const newShot: Verb = {
  name: 'new',
  usage: '--performance <media> [--clean <media>] [--name N] --out shot.json',
  about: 'Writes a shot document that names its media by path.',
  options: { performance: { type: 'string' }, clean: { type: 'string' }, name: { type: 'string' }, out: { type: 'string' } },
  positionals: [0, 0],
  async run(given) {
    const out = pathOf(needed(given, 'out')),
      performance = await clipOf(pathOf(needed(given, 'performance')), out, 'c1', 'performance', 1001);
    const shot = emptyShot({
      code: typeof given.values.name === 'string' ? given.values.name : performance.name,
      width: performance.width,
      height: performance.height,
      rate: performance.rate,
      frames: performance.frames,
    });
    shot.clips.c1 = performance;
    shot.base = 'c1';
    if (typeof given.values.clean === 'string') shot.clips.c2 = await clipOf(pathOf(given.values.clean), out, 'c2', 'clean', 1001);
    await writeFile(out, `${JSON.stringify(shot, null, 2)}\n`);
    return { out: given.values.out, code: shot.code, frames: performance.frames, first: shot.first, last: shot.last };
  },
};
