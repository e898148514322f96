import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { cameras } from '@wraithos/core/plate';
import type { MadePlate } from '@wraithos/core/shot';
import { computingThreads, Explained, MediaError } from '@wraithos/runtime';
import { Medium } from '../database/entities';
import { documentAt } from '../revisions';
import type { Services } from '../services';
import type { PlateDone, PlateTask } from './buildPlate';
import type { Worker } from './jobs';
import { jobMemory, STALL_MS } from './limits';

/** What a plate job keeps: the revision that was asked for, and how the plate is to be built. */
export const plateInput = z.object({
  clip: z.string(),
  revision: z.number().int(),
  camera: z.enum(cameras),
  flicker: z.boolean(),
  grain: z.boolean(),
  first: z.number().int(),
  last: z.number().int(),
  matte: z.string().nullable(),
});
const STEPS = 1000;

/** Builds the clean plate of a clip, in a process of its own; the page takes it over into the shot. */
export const plateJob = (services: Omit<Services, 'jobs'>): Worker => ({
  async work({ job, signal, progress }) {
    const { clip: id, revision, ...settings } = plateInput.parse(job.input),
      part = `part-${job.id}`,
      shot = await services.patience.through(() => documentAt(services.database.manager, job.shotId!, revision)),
      clip = shot?.clips[id];
    if (!shot || !clip) throw new Explained('The clip of which a clean plate was to be built is gone. Nothing was kept.');
    try {
      const { hash, info, report, doubt } = await services.drawing.run<PlateDone>(
        {
          kind: 'plate',
          shot,
          clip: id,
          settings,
          framesFolder: services.folders.frames,
          blobsFolder: services.folders.blobs,
          part,
          helpers: computingThreads() - 1,
        } satisfies PlateTask,
        { memory: jobMemory(), stall: STALL_MS.draw },
        (value) => {
          const { done, what } = value as { done: number; what: string };
          progress(Math.round(STEPS * done), STEPS, what);
        },
        signal,
      );
      const media = [
        { hash, name: `${clip.name} clean`, info },
        ...(doubt
          ? [{ hash: doubt, name: `${clip.name} clean, where it is unsure`, info: { ...info, frames: 1, bitDepth: 8, kind: 'still' } }]
          : []),
      ];
      for (const medium of media)
        await services.patience.through(() =>
          services.database.manager.upsert(
            Medium,
            { ...medium, name: medium.name.slice(0, 255), created: new Date(), deleted: null, told: false } as never,
            ['hash'],
          ),
        );
      const made: MadePlate = {
        ...settings,
        clip: id,
        frames: report.frames,
        drift: Number(report.drift.toFixed(2)),
        flickered: Number(report.flicker.toFixed(2)),
        unsure: report.unsure,
        areas: report.areas,
        doubt: doubt ? { hash: doubt } : null,
      };
      return { hash, info, made };
    } catch (error) {
      await rm(join(services.folders.frames, part), { recursive: true, force: true }).catch(() => undefined);
      if (error instanceof Explained && !signal.aborted)
        throw new MediaError(`No clean plate could be built of ${clip.name}: ${error.message}. Nothing was kept.`, { cause: error });
      throw error;
    }
  },
});
