import { rm } from 'node:fs/promises';
import { z } from 'zod';
import { hashMedium, MediaError, probe } from '@wraithos/runtime';
import { Medium } from '../database/entities';
import type { Services } from '../services';
import type { Worker } from './jobs';

/** `path` is a file or folder of our own making in the uploads folder; people's file names are only kept as text. */
export const importInput = z.object({ path: z.string(), folder: z.string(), name: z.string() });

/** Reads an uploaded medium into the frame store. Whatever happens, the upload is deleted. */
export const importJob =
  (services: Omit<Services, 'jobs'>): Worker =>
  async ({ job, signal, progress }) => {
    const input = importInput.parse(job.input);
    try {
      const info = await probe(input.path).catch((error: unknown) => {
        throw error instanceof MediaError ? new MediaError(error.message.replace(/^[^:]*: /, '')) : error;
      });
      progress(0, info.frames, 'reading');
      const hash = await hashMedium(input.path);
      const stored = (await services.frames.has(hash))
        ? await services.frames.info(hash)
        : await services.frames.add(
            hash,
            input.path,
            info,
            (n) => progress(n, Math.max(n, info.frames), `frame ${n} of ${info.frames}`),
            signal,
          );
      await services.database.manager.upsert(Medium, { hash, name: input.name.slice(0, 255), info: stored, created: new Date() }, ['hash']);
      const short = stored.frames < info.frames ? `It promised ${info.frames} frames and holds ${stored.frames}; these were kept.` : '';
      return { hash, name: input.name, info: stored, note: short };
    } catch (error) {
      if (error instanceof MediaError && !signal.aborted)
        throw new Error(`${input.name} could not be brought in: ${error.message}. Nothing of it was kept.`, { cause: error });
      throw error;
    } finally {
      // A server that only restarts will need the upload again.
      if (signal.reason !== 'shutdown') await rm(input.folder, { recursive: true, force: true });
    }
  };
