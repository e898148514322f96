import { createHash, randomUUID } from 'node:crypto';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { sampleStates, type TrackSample } from '@wraithos/core/motion';

export const sampleSchema = z.object({
  frame: z.number().int(),
  x: z.number().finite().nullable(),
  y: z.number().finite().nullable(),
  rotation: z.number().finite(),
  scale: z.number().finite(),
  confidence: z.number().min(0).max(1),
  state: z.enum(sampleStates),
});
export const samplesSchema = z.array(sampleSchema).max(100_000);

/** Bulk data that a document only names: immutable, by content hash. */
export class BlobStore {
  constructor(private readonly folder: string) {}
  async put(samples: TrackSample[]): Promise<string> {
    const text = JSON.stringify(samples),
      hash = createHash('sha256').update(text).digest('hex');
    await mkdir(this.folder, { recursive: true });
    const part = join(this.folder, `part-${randomUUID()}`);
    await writeFile(part, text);
    await rename(part, join(this.folder, `${hash}.json`));
    return hash;
  }
  /** @throws Error where there is none. */
  async get(hash: string): Promise<TrackSample[]> {
    if (!/^[0-9a-f]{64}$/.test(hash)) throw new Error('that is not the name of track samples');
    const text = await readFile(join(this.folder, `${hash}.json`), 'utf8').catch(() => {
      throw new Error('these track samples are not stored here; track again');
    });
    return samplesSchema.parse(JSON.parse(text));
  }
}
