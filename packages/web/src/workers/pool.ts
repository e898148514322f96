import type { DrawnFrame, WorkerAnswer, WorkerRequest } from './protocol';
import type { TrackSample } from '@wraithos/core/motion';

// eslint-disable-next-line @typescript-eslint/no-explicit-any -- Omit over a union, kind by kind
type Without<T, K extends PropertyKey> = T extends any ? Omit<T, K> : never;
type Ask = Without<WorkerRequest, 'id'>;
interface Waiting {
  request: WorkerRequest;
  priority: number;
  resolve(answer: WorkerAnswer): void;
  reject(error: Error): void;
  onSample?(sample: TrackSample): void;
}

export class Dropped extends Error {
  constructor() {
    super('dropped');
  }
}

/**
 * A few workers that draw frames and follow points. The most urgent request goes first; a request that is no longer wanted is
 * dropped before it starts, or cancelled between steps.
 */
export class WorkerPool {
  private readonly workers: { worker: Worker; busy: Waiting | null; last: number }[];
  private readonly queue: Waiting[] = [];
  private nextId = 1;
  constructor(size = Math.max(1, Math.min(3, navigator.hardwareConcurrency || 2))) {
    this.workers = Array.from({ length: size }, () => {
      const worker = new Worker(new URL('./render.worker.ts', import.meta.url), { type: 'module' }),
        slot = { worker, busy: null as Waiting | null, last: 0 };
      worker.onmessage = (event: MessageEvent<WorkerAnswer>) => {
        const message = event.data,
          waiting = slot.busy;
        if (!waiting || waiting.request.id !== message.id) return;
        if (message.kind === 'sample') {
          waiting.onSample?.(message.sample);
          return;
        }
        slot.busy = null;
        if (message.kind === 'failed') waiting.reject(message.cancelled ? new Dropped() : new Error(message.message));
        else waiting.resolve(message);
        this.next();
      };
      worker.onerror = (event) => {
        slot.busy?.reject(new Error(event.message || 'A worker stopped.'));
        slot.busy = null;
        this.next();
      };
      return slot;
    });
  }
  get size(): number {
    return this.workers.length;
  }
  get idle(): boolean {
    return this.queue.length === 0 && this.workers.every((slot) => !slot.busy);
  }

  private next(): void {
    for (const slot of this.workers) {
      if (slot.busy || this.queue.length === 0) continue;
      this.queue.sort((a, b) => b.priority - a.priority);
      // Particles are moved on from the frame before: a worker that drew a neighbour has most of the way behind it.
      const top = this.queue.filter((w) => w.priority === this.queue[0]!.priority),
        frameOf = (w: Waiting) => ('frame' in w.request ? w.request.frame : 0);
      const chosen = top.reduce((best, w) => (Math.abs(frameOf(w) - slot.last) < Math.abs(frameOf(best) - slot.last) ? w : best), top[0]!);
      this.queue.splice(this.queue.indexOf(chosen), 1);
      slot.busy = chosen;
      slot.last = frameOf(chosen);
      slot.worker.postMessage(chosen.request);
    }
  }

  ask(request: Ask, priority: number, signal?: AbortSignal, onSample?: (sample: TrackSample) => void): Promise<WorkerAnswer> {
    return new Promise((resolve, reject) => {
      const waiting: Waiting = { request: { ...request, id: this.nextId++ } as WorkerRequest, priority, resolve, reject, onSample };
      signal?.addEventListener(
        'abort',
        () => {
          const at = this.queue.indexOf(waiting);
          if (at >= 0) {
            this.queue.splice(at, 1);
            reject(new Dropped());
            return;
          }
          this.workers
            .find((slot) => slot.busy === waiting)
            ?.worker.postMessage({ kind: 'cancel', id: waiting.request.id } satisfies WorkerRequest);
        },
        { once: true },
      );
      if (signal?.aborted) {
        reject(new Dropped());
        return;
      }
      this.queue.push(waiting);
      this.next();
    });
  }
  async frame(
    request: Without<Extract<WorkerRequest, { kind: 'frame' }>, 'id' | 'kind'>,
    priority: number,
    signal?: AbortSignal,
  ): Promise<DrawnFrame> {
    const answer = await this.ask({ kind: 'frame', ...request }, priority, signal);
    return (answer as Extract<WorkerAnswer, { kind: 'frame' }>).drawn;
  }
}

let pool: WorkerPool | null = null;
/** The one pool of the page. */
export const workers = (): WorkerPool => (pool ??= new WorkerPool());
