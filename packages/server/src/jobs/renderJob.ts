import { createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import yazl from 'yazl';
import { z } from 'zod';
import { readShot } from '@wraithos/core/shot';
import { frameName, writeWebm } from '@wraithos/runtime';
import type { Services } from '../services';
import type { Worker } from './jobs';

export const renderFormats = ['png', 'png16', 'webm'] as const;
/** What a render job keeps: the document as it was when it was asked for, so later edits do not mix into it. */
export const renderInput = z.object({
  format: z.enum(renderFormats),
  first: z.number().int(),
  last: z.number().int(),
  factor: z.union([z.literal(1), z.literal(2), z.literal(4)]),
  revision: z.number().int(),
  document: z.unknown(),
});
export type RenderInput = z.infer<typeof renderInput>;

/** Neighbouring frames that one thread draws in one go: long, because what has a past is moved on from frame to frame. */
const RUN = 16;
export const renderFolder = (services: Pick<Services, 'folders'>, job: string): string => join(services.folders.renders, job);

/** Frames to numbered PNG files, then one ZIP or WebM of them. Goes on with what is there already. */
export const renderJob =
  (services: Omit<Services, 'jobs'>): Worker =>
  async ({ job, signal, progress }) => {
    const input = renderInput.parse(job.input),
      shot = readShot(input.document),
      folder = renderFolder(services, job.id),
      count = input.last - input.first + 1;
    await mkdir(folder, { recursive: true });
    // What a crash left half written.
    for (const name of await readdir(folder)) if (name.startsWith('.part')) await rm(join(folder, name), { force: true });
    const have = new Set(await readdir(folder)),
      wanted = Array.from({ length: count }, (_, i) => input.first + i),
      open = wanted.filter((f) => !have.has(frameName(f)));
    const cancel = new SharedArrayBuffer(4),
      begun = Date.now(),
      total = count + (input.format === 'webm' ? Math.ceil(count / 8) : 1);
    signal.addEventListener('abort', () => Atomics.store(new Int32Array(cancel), 0, 1), { once: true });
    let done = count - open.length;
    progress(done, total, done ? `going on at ${done} of ${count}` : '');
    const runs: number[][] = [];
    const length = Math.max(4, Math.min(RUN, Math.ceil(open.length / services.pool.threads)));
    for (let i = 0; i < open.length; i += length) runs.push(open.slice(i, i + length));
    const cost: Record<string, number> = {};
    let drawn = 0;
    await Promise.all(
      Array.from({ length: services.pool.threads }, async () => {
        for (let frames = runs.shift(); frames && !signal.aborted; frames = runs.shift()) {
          const result = await services.pool.run(
            {
              shot,
              frames,
              folder,
              bits: input.format === 'png16' ? 16 : 8,
              factor: input.factor,
              framesFolder: services.folders.frames,
              blobsFolder: services.folders.blobs,
              cancel,
            },
            () => progress(++done, total, `frame ${Math.min(done, count)} of ${count}`),
          );
          drawn += result.drawn;
          for (const [row, ms] of Object.entries(result.cost)) cost[row] = (cost[row] ?? 0) + ms;
        }
      }),
    );
    if (signal.aborted) throw new Error('cancelled');
    const name = `${shot.code.replace(/[^\w-]+/g, '_')}_${input.first}-${input.last}`;
    let file: string;
    if (input.format === 'webm') {
      file = `${name}.webm`;
      await writeWebm(join(folder, file), join(folder, '%04d.png'), input.first, count, shot.rate, {
        signal,
        onFrame: (n) => progress(Math.min(total, count + Math.floor(n / 8)), total, 'writing the film'),
      });
    } else {
      file = `${name}.zip`;
      progress(count, total, 'packing');
      const zip = new yazl.ZipFile(),
        part = join(folder, '.part.zip');
      for (const frame of wanted) zip.addFile(join(folder, frameName(frame)), `${name}/${frameName(frame)}`, { compress: false });
      zip.end();
      await pipeline(zip.outputStream, createWriteStream(part), { signal });
      await rename(part, join(folder, file));
    }
    return {
      file,
      bytes: (await stat(join(folder, file))).size,
      frames: count,
      millisecondsPerFrame: drawn ? Math.round((Date.now() - begun) / drawn) : 0,
      cost: Object.fromEntries(Object.entries(cost).map(([row, ms]) => [shot.rows[row]?.name ?? row, Math.round(ms / Math.max(1, drawn))])),
    };
  };
