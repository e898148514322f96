import { createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import yazl from 'yazl';
import { z } from 'zod';
import { alphaModes, formatNames, framesFor, outputFormats } from '@wraithos/core/render';
import { readShot, type Shot } from '@wraithos/core/shot';
import { Explained, filmWriters, frameName } from '@wraithos/runtime';
import type { JobRow } from '../database/entities';
import { documentAt } from '../revisions';
import type { Services } from '../services';
import type { Drawn, DrawTask } from './drawFrames';
import type { Worker } from './jobs';
import { jobMemory, STALL_MS } from './limits';

/** What a render job keeps: the revision that was asked for, so later edits do not mix into it. Jobs of an earlier version hold a copy. */
export const renderInput = z.object({
  format: z.enum(formatNames),
  first: z.number().int(),
  last: z.number().int(),
  factor: z.union([z.literal(1), z.literal(2), z.literal(4)]),
  revision: z.number().int(),
  document: z.unknown().optional(),
  alpha: z.enum(alphaModes).default('none'),
  only: z.string().default('all'),
  burn: z.boolean().default(false),
});
export type RenderInput = z.infer<typeof renderInput>;

/** Neighbouring frames that one process draws in one go: long, because what has a past is moved on from frame to frame. */
const RUN = 16;
export const renderFolder = (services: Pick<Services, 'folders'>, job: string): string => join(services.folders.renders, job);

/** The document that a render was asked for. */
async function documentOf(services: Omit<Services, 'jobs'>, job: JobRow, input: RenderInput): Promise<Shot> {
  if (input.document !== undefined) return readShot(input.document);
  const found = await services.patience.through(() => documentAt(services.database.manager, job.shotId!, input.revision));
  if (!found) throw new Explained('The revision that was to be rendered is gone. Render the shot again.');
  return found;
}

/** Frames to numbered files, then one archive or film of them. Goes on with what is there already. */
export const renderJob = (services: Omit<Services, 'jobs'>): Worker => ({
  async work({ job, signal, progress }) {
    const input = renderInput.parse(job.input),
      shot = await documentOf(services, job, input),
      folder = renderFolder(services, job.id),
      format = outputFormats[input.format],
      wanted = framesFor(format, input.first, input.last),
      count = wanted.length;
    await mkdir(folder, { recursive: true });
    // What a crash left half written.
    for (const name of await readdir(folder)) if (name.startsWith('.part')) await rm(join(folder, name), { force: true });
    const have = new Set(await readdir(folder)),
      { bits, film, files: ending } = format,
      open = wanted.filter((f) => !have.has(frameName(f, ending))),
      begun = Date.now(),
      total = count + (film ? Math.ceil(count / 8) : 1);
    let done = count - open.length,
      drawn = 0;
    progress(done, total, done ? `going on at ${done} of ${count}` : '');
    const runs: number[][] = [],
      length = Math.max(4, Math.min(RUN, Math.ceil(open.length / services.drawing.size)));
    for (let i = 0; i < open.length; i += length) runs.push(open.slice(i, i + length));
    const cost: Record<string, number> = {};
    // When one process breaks, the others stop too.
    const together = new AbortController(),
      all = AbortSignal.any([signal, together.signal]);
    const outcomes = await Promise.allSettled(
      Array.from({ length: services.drawing.size }, async () => {
        for (let frames = runs.shift(); frames && !all.aborted; frames = runs.shift()) {
          const task: DrawTask = {
            kind: 'draw',
            shot,
            frames,
            folder,
            bits,
            alpha: input.alpha,
            only: input.only,
            factor: input.factor,
            burn: input.burn ? { before: `${shot.code}  `, after: `  revision ${input.revision}` } : null,
            framesFolder: services.folders.frames,
            blobsFolder: services.folders.blobs,
            helpers: 0,
          };
          const result = await services.drawing
            .run<Drawn>(
              task,
              { memory: jobMemory(), stall: STALL_MS.draw },
              () => progress(++done, total, `frame ${Math.min(done, count)} of ${count}`),
              all,
            )
            .catch((error: unknown) => {
              together.abort(error);
              throw error;
            });
          drawn += result.drawn;
          for (const [row, ms] of Object.entries(result.cost)) cost[row] = (cost[row] ?? 0) + ms;
        }
      }),
    );
    signal.throwIfAborted();
    if (together.signal.aborted) throw together.signal.reason;
    for (const outcome of outcomes) if (outcome.status === 'rejected') throw outcome.reason;
    const pass = input.only === 'all' ? '' : `_${input.only.replace(/[^\w-]+/g, '_')}`,
      name = `${shot.code.replace(/[^\w-]+/g, '_')}${pass}_${input.first}-${input.last}`,
      files = wanted.map((frame) => join(folder, frameName(frame, ending)));
    let file: string;
    if (film) {
      file = `${name}.${film}`;
      await filmWriters[film](join(folder, file), files, shot.rate, {
        signal,
        alpha: input.alpha !== 'none',
        onFrame: (n) => progress(Math.min(total, count + Math.floor(n / 8)), total, 'writing the video'),
      });
    } else {
      file = `${name}.zip`;
      progress(count, total, 'packing');
      const zip = new yazl.ZipFile(),
        part = join(folder, '.part.zip');
      zip.on('error', (error) => (zip.outputStream as Readable).destroy(error as Error));
      wanted.forEach((frame, i) => zip.addFile(files[i]!, `${name}/${frameName(frame, ending)}`, { compress: false }));
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
  },
});
