import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { Explained, MediaError, type MediaInfo } from '@wraithos/runtime';
import { Medium } from '../database/entities';
import type { Services } from '../services';
import type { BringInProgress, BringInTask, BroughtIn } from './bringIn';
import type { Worker } from './jobs';
import { jobMemory, STALL_MS } from './limits';

/** `path` is a file or folder of our own making in the uploads folder; people's file names are only kept as text. */
export const importInput = z.object({ path: z.string(), folder: z.string(), name: z.string() });

/** Reads an uploaded medium into the frame store, in a process of its own. When it is over, the upload is deleted. */
export const importJob = (services: Omit<Services, 'jobs'>): Worker => ({
  async work({ job, signal, progress, coming }) {
    const input = importInput.parse(job.input),
      part = `part-${job.id}`;
    let total = 0,
      facts: MediaInfo | null = null,
      came: ((count: number) => void) | null = null;
    try {
      const { hash, info, promised } = await services.reading.run<BroughtIn>(
        { kind: 'bring in', path: input.path, framesFolder: services.folders.frames, part } satisfies BringInTask,
        { memory: jobMemory(), stall: STALL_MS.bringIn },
        (value) => {
          const said = value as BringInProgress;
          if ('info' in said) progress(0, (total = (facts = said.info).frames), 'reading');
          else if ('hash' in said) {
            // Frames can be looked at as they come.
            came = services.frames.expect(said.hash, part, facts!);
            coming({ hash: said.hash, name: input.name, info: facts!, note: '' });
          } else if ('frame' in said) {
            came?.(said.frame);
            progress(said.frame, Math.max(said.frame, total), `frame ${said.frame} of ${total}`);
          } else progress(0, total, 'reading');
        },
        signal,
      );
      await services.patience.through(() =>
        services.database.manager.upsert(
          Medium,
          { hash, name: input.name.slice(0, 255), info, created: new Date(), deleted: null, told: false },
          ['hash'],
        ),
      );
      const short =
          info.frames < promised && !info.varies ? [`It promised ${promised} frames and holds ${info.frames}; these were kept.`] : [],
        said = [...(info.notes ?? []), ...short];
      return { hash, name: input.name, info, note: said.length ? `${input.name}: ${said.join(' ')}` : '' };
    } catch (error) {
      await rm(join(services.folders.frames, part), { recursive: true, force: true }).catch(() => undefined);
      if (error instanceof Explained && !signal.aborted)
        throw new MediaError(`${input.name} could not be brought in: ${error.message}. Nothing of it was kept.`, { cause: error });
      throw error;
    } finally {
      services.frames.expectNoMore(part);
    }
  },
  async clean(job) {
    const { folder } = importInput.parse(job.input);
    await rm(folder, { recursive: true, force: true });
  },
});
