import { existsSync } from 'node:fs';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { Shot } from '@wraithos/core/shot';
import type { Factor } from '@wraithos/core/render';
import { computingThreads } from '@wraithos/runtime';

export interface RenderTask {
  shot: Shot;
  frames: number[];
  folder: string;
  bits: 8 | 16;
  factor: Factor;
  framesFolder: string;
  blobsFolder: string;
  cancel: SharedArrayBuffer;
}

/** Worker threads that draw frames with the same core as everything else; each keeps its arena and its remembered steps. */
export class RenderPool {
  private readonly pool: Piscina<
    RenderTask & { port: import('node:worker_threads').MessagePort },
    { drawn: number; milliseconds: number; cost: Record<string, number> }
  >;
  readonly threads = computingThreads();
  constructor(workerFile: string) {
    if (!existsSync(workerFile)) throw new Error(`The render worker is not built (${workerFile}); run npm start.`);
    this.pool = new Piscina({ filename: workerFile, minThreads: 0, maxThreads: this.threads, idleTimeout: 30_000 });
  }
  /** Draws a run of neighbouring frames in one thread. */
  async run(task: RenderTask, onFrame?: (frame: number) => void) {
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (frame: number) => onFrame?.(frame));
    try {
      return await this.pool.run({ ...task, port: port2 }, { transferList: [port2] });
    } finally {
      port1.close();
    }
  }
  async close(): Promise<void> {
    await this.pool.destroy();
  }
}
