import { writeFile } from 'node:fs/promises';
import { basename, dirname, relative } from 'node:path';
import { applyEdit, clipOf, freshId, newShot as emptyShot, newTake, ownSubject, type Clip } from '@wraithos/core/shot';
import { probe } from '@wraithos/runtime';
import { listOption, needed, pathOf, type Verb } from '../command';

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
  usage: '--performance <clip> [--clean <clip>] [--element <clip>]… [--reference <clip>]… [--background <clip>] [--name N] --out shot.json',
  about: 'Writes a shot document that names its clips by path.',
  options: {
    performance: {
      type: 'string',
      value: 'CLIP',
      about: 'Clip of the performance; its size, rate and length are those of the shot. Needed.',
    },
    clean: { type: 'string', value: 'CLIP', about: 'Clean plate.' },
    element: { type: 'string', value: 'CLIP', many: true, about: 'Element, to be placed or drawn; may be given more than once.' },
    reference: { type: 'string', value: 'CLIP', many: true, about: 'Reference; may be given more than once.' },
    background: { type: 'string', value: 'CLIP', about: 'Clip behind the performance, which must carry alpha to let it through.' },
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
    const add = async (path: string, role: Clip['role']): Promise<Clip> => {
      const id = freshId(shot.clips, 'c');
      return (shot.clips[id] = await clipAt(pathOf(path), out, id, role, 1001));
    };
    for (const role of ['element', 'reference'] as const) for (const path of listOption(given, role)) await add(path, role);
    if (typeof given.values.background === 'string') {
      const { id } = await add(given.values.background, 'element');
      shot.base.ground = { clip: id, values: { ...shot.base.ground.values, ground: 'clip' } };
    }
    await writeFile(out, `${JSON.stringify(applyEdit(shot, ownSubject('c1')).shot, null, 2)}\n`);
    return {
      out: given.values.out,
      clips: Object.keys(shot.clips).length,
      code: shot.code,
      frames: performance.frames,
      first: shot.first,
      last: shot.last,
    };
  },
};
