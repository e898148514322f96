import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { serveBands, type Helpers } from '@wraithos/core/image';

/** Threads to compute with: as many as the machine has, or WRAITHOS_THREADS says. */
export const computingThreads = (): number => Math.max(1, Math.min(8, Number(process.env.WRAITHOS_THREADS) || availableParallelism()));

/**
 * Threads that help with every kernel of a renderer, `count` beside the one that draws. They run the source of one function that needs nothing
 * else, so that no bundle has to know a second file, and they keep no process alive.
 */
export function bandThreads(count: number): Helpers & { close(): Promise<void> } {
  const workers: Worker[] = [];
  return {
    count,
    start(thread) {
      const worker = new Worker(`(${serveBands.toString()})(require('node:worker_threads').workerData)`, {
        eval: true,
        workerData: thread,
      });
      worker.unref();
      workers.push(worker);
    },
    async close() {
      await Promise.all(workers.map((worker) => worker.terminate()));
    },
  };
}
