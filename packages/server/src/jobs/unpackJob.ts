import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { takeOver } from '../archive/takeOver';
import type { Unpacked, UnpackTask } from '../archive/unpack';
import type { Services } from '../services';
import type { Worker } from './jobs';
import { jobMemory, STALL_MS } from './limits';

/** `path` is the uploaded archive, in a folder of our own making. */
const unpackInput = z.object({ path: z.string(), folder: z.string(), name: z.string() });

/** Lays an archive out and checks it in a process of its own, then takes it over. */
export const unpackJob = (services: Omit<Services, 'jobs'>): Worker => ({
  async work({ job, signal, progress }) {
    const input = unpackInput.parse(job.input),
      folder = join(input.folder, 'laid-out');
    await rm(folder, { recursive: true, force: true });
    progress(0, 1, 'checking');
    await services.reading.run<Unpacked>(
      { kind: 'unpack', path: input.path, folder } satisfies UnpackTask,
      { memory: jobMemory(), stall: STALL_MS.bringIn },
      (value) => {
        const { done, total } = value as { done: number; total: number };
        progress(done, total + 1, `entry ${done} of ${total}`);
      },
      signal,
    );
    progress(job.total, job.total, 'taking over');
    return takeOver(services, folder);
  },
  async clean(job) {
    await rm(unpackInput.parse(job.input).folder, { recursive: true, force: true });
  },
});
