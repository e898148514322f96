import { createHash, randomUUID } from 'node:crypto';
import { mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { samplesSchema, type TrackSample } from '@wraithos/core/motion';
import { Explained } from './explained';

/** Bulk data that a document only names: immutable, by content hash. */
export class BlobStore {
  constructor(private readonly folder: string) {}
  async put(samples: TrackSample[]): Promise<string> {
    const text = JSON.stringify(samples),
      hash = createHash('sha256').update(text).digest('hex');
    await mkdir(this.folder, { recursive: true });
    const part = join(this.folder, `part-${randomUUID()}`);
    try {
      await writeFile(part, text);
      await rename(part, this.file(hash));
    } finally {
      await rm(part, { force: true });
    }
    return hash;
  }
  /** Hashes of all that are stored. */
  async list(): Promise<string[]> {
    return (await readdir(this.folder).catch(() => [])).flatMap((name) => /^([0-9a-f]{64})\.json$/.exec(name)?.[1] ?? []);
  }
  /** The file of one. */
  file(hash: string): string {
    return join(this.folder, `${hash}.json`);
  }
  async remove(hash: string): Promise<void> {
    await rm(this.file(hash), { force: true });
  }
  /** Throws away what was cut off while it was written. */
  async tidy(): Promise<void> {
    for (const name of await readdir(this.folder).catch(() => []))
      if (name.startsWith('part-')) await rm(join(this.folder, name), { force: true });
  }
  /** @throws Explained where there is none. */
  async get(hash: string): Promise<TrackSample[]> {
    if (!/^[0-9a-f]{64}$/.test(hash)) throw new Explained('that is not the name of track samples');
    const text = await readFile(this.file(hash), 'utf8').catch(() => {
      throw new Explained('these track samples are not stored here; track again');
    });
    return samplesSchema.parse(JSON.parse(text));
  }
}
