import { totalmem } from 'node:os';
import { computingThreads } from '@wraithos/runtime';

const GIB = 2 ** 30;

/**
 * Bytes of memory that one work process may use: `WRAITHOS_JOB_GIB`, or else four GiB, less where the machine has not as much for all of
 * them at once.
 */
export const jobMemory = (): number => {
  const wished = Number(process.env.WRAITHOS_JOB_GIB);
  return wished > 0 ? wished * GIB : Math.max(GIB, Math.min(4 * GIB, (totalmem() * 0.8) / computingThreads()));
};

/** Milliseconds without progress after which work is ended: a frame may take long, a read may not. */
export const STALL_MS = { draw: 300_000, thumbnail: 30_000, bringIn: 120_000 };
/** How often work may end badly before it waits for a person. */
export const MOST_ATTEMPTS = 2;
/** How often the server may end without a word while a job runs, before that job waits for a person. */
export const MOST_INTERRUPTED = 3;
