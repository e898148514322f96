import { createHash } from 'node:crypto';
import { mkdir, rename, rm, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import yauzl from 'yauzl';
import { needed, pathOf, progress, progressEnd, type Verb } from '../command';
import { dataFolder, named, Server } from '../server';

/** Reads an archive once more from the disk and compares every entry with the hash that was written for it. @returns the number of entries. */
export async function verify(path: string): Promise<number> {
  const zip = await yauzl.openPromise(path, { autoClose: false, lazyEntries: true }),
    hashes = new Map<string, { bytes: number; sha256: string }>();
  let contents = '';
  try {
    for await (const entry of zip.eachEntry()) {
      const hash = createHash('sha256'),
        isList = entry.fileName === 'contents.json';
      let bytes = 0;
      for await (const chunk of await zip.openReadStreamPromise(entry)) {
        hash.update(chunk as Buffer);
        bytes += (chunk as Buffer).length;
        if (isList) contents += String(chunk);
      }
      if (!isList) hashes.set(entry.fileName, { bytes, sha256: hash.digest('hex') });
      progress(`checking ${hashes.size}`);
    }
  } finally {
    zip.close();
  }
  const named = (JSON.parse(contents || '{}') as { entries?: Record<string, { bytes: number; sha256: string }> }).entries;
  if (!named) throw new Error('The archive was not finished; its list of contents is missing.');
  for (const [name, { bytes, sha256 }] of Object.entries(named)) {
    const got = hashes.get(name);
    if (got?.bytes !== bytes || got.sha256 !== sha256) throw new Error(`The archive is damaged at ${name}.`);
  }
  return hashes.size;
}

export const backup: Verb = {
  name: 'backup',
  usage: '--out FILE [--shot CODE | --production NAME] [--without-media] [--renders] [--data DIR]',
  about:
    'Saves everything of a running server, or one shot or production, as one archive; each entry is read again and compared by its hash (JSON).',
  options: {
    out: { type: 'string', value: 'FILE', about: 'Name of the archive; needed.' },
    shot: { type: 'string', value: 'CODE', about: 'Saves one shot alone.' },
    production: { type: 'string', value: 'NAME', about: 'Saves one production alone.' },
    'without-media': { type: 'boolean', about: 'Leaves the frames of clips out.' },
    renders: { type: 'boolean', about: 'Takes finished renders along.' },
    data: { type: 'string', value: 'DIR', about: 'Data folder of the server.', usual: 'WRAITHOS_DATA, or .data beside the program' },
  },
  positionals: [0, 0],
  async run(given) {
    const out = pathOf(needed(given, 'out')),
      part = `${out}.part`,
      { shot, production, renders, data } = given.values as Record<string, string | undefined>,
      server = await Server.of(dataFolder(data)),
      path = (await named(server, { shot, production })) ?? '/backup';
    await mkdir(dirname(out), { recursive: true });
    try {
      await server.download(`${path}?media=${given.values['without-media'] ? 0 : 1}&renders=${renders ? 1 : 0}`, part);
      const entries = await verify(part);
      await rename(part, out);
      progressEnd();
      return { out: given.values.out, bytes: (await stat(out)).size, entries };
    } finally {
      await rm(part, { force: true });
    }
  },
};
