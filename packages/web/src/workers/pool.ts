import { display, type Display } from './display';
import { memoryShares, usePreferences } from '../state/preferences';
import type { DrawnFrame, WorkerAnswer, WorkerMemory, WorkerRequest } from './protocol';
import type { CarriedShape } from '@wraithos/core/matte';
import type { TrackSample } from '@wraithos/core/motion';
import type { Shot } from '@wraithos/core/shot';

// eslint-disable-next-line @typescript-eslint/no-explicit-any -- Omit over a union, kind by kind
type Without<T, K extends PropertyKey> = T extends any ? Omit<T, K> : never;
type Ask = Without<Exclude<WorkerRequest, { kind: 'begin' | 'cancel' | 'forget' | 'limit' | 'memory' }>, 'id'>;
interface Waiting {
  request: WorkerRequest;
  priority: number;
  /** It is under way and no longer wanted. */
  cancelled: boolean;
  resolve(answer: WorkerAnswer): void;
  reject(error: Error): void;
  onSample?(sample: TrackSample, track: string): void;
  onShare?(share: number): void;
  onShape?(shape: CarriedShape): void;
}

export class Dropped extends Error {
  constructor() {
    super('dropped');
  }
}

/** What workers of a pool are for. */
export interface PoolOptions {
  size?: number;
  /** Threads that help each of them with its kernels. */
  helpers?: number;
  /** Where drawn pictures go. */
  display?: Display | null;
}

/** Somebody waits for it. */
export const URGENT = 10;
/** Requests of one worker that can be under way, cancelled, at the same time as one that is wanted. */
const CELLS = 16;
interface Slot {
  worker: Worker;
  /** Sent and not yet answered. */
  sent: Map<number, Waiting>;
  last: number;
  /** The document that the worker has. */
  document: string | null;
  cancel: Int32Array | null;
}

/**
 * Workers that draw frames or follow points. The most urgent request goes first, of equal ones the newest document's; a request that is no longer
 * wanted is dropped before it starts, or cancelled between steps. The next one is sent with the cancelling: to wait for the worker's word cost up to
 * 90 ms for each nudge, since the page draws its own components meanwhile. For the same reason two that are urgent are sent at once: a draft, and the
 * sharp picture behind it.
 */
export class WorkerPool {
  private readonly workers: Slot[];
  private readonly queue: Waiting[] = [];
  private nextId = 1;
  constructor({ size = 1, helpers = 0, display = null }: PoolOptions = {}) {
    this.workers = Array.from({ length: size }, () => {
      const worker = new Worker(new URL('./render.worker.ts', import.meta.url), { type: 'module' }),
        cancel = isolated() ? new Int32Array(new SharedArrayBuffer(4 * CELLS)) : null,
        slot: Slot = { worker, sent: new Map(), last: 0, document: null, cancel },
        port = display?.connect() ?? null;
      if (cancel || port)
        worker.postMessage(
          {
            kind: 'begin',
            cancel: (cancel?.buffer as SharedArrayBuffer | undefined) ?? null,
            helpers,
            display: port,
          } satisfies WorkerRequest,
          port ? [port] : [],
        );
      worker.onmessage = (event: MessageEvent<WorkerAnswer>) => {
        const message = event.data;
        if (message.kind === 'memory' || message.kind === 'values') {
          this.asked.get(message.id)?.(message as never);
          this.asked.delete(message.id);
          return;
        }
        const waiting = slot.sent.get(message.id);
        if (!waiting) return;
        if (message.kind === 'share') {
          waiting.onShare?.(message.share);
          return;
        }
        if (message.kind === 'carried') {
          waiting.onShape?.(message.shape);
          return;
        }
        if (message.kind === 'sample') {
          waiting.onSample?.(message.sample, message.track);
          return;
        }
        slot.sent.delete(message.id);
        if (message.kind === 'failed') waiting.reject(message.cancelled ? new Dropped() : new Error(message.message));
        else waiting.resolve(message);
        this.next();
      };
      worker.onerror = (event) => {
        for (const waiting of slot.sent.values())
          waiting.reject(new Error(event.message || 'Drawing stopped in this page. Reload it; nothing that was saved is lost.'));
        slot.sent.clear();
        this.next();
      };
      return slot;
    });
  }
  get size(): number {
    return this.workers.length;
  }
  get idle(): boolean {
    return this.queue.length === 0 && this.workers.every((slot) => slot.sent.size === 0);
  }

  private next(): void {
    for (const slot of this.workers) {
      this.queue.sort((a, b) => b.priority - a.priority);
      if (this.queue.length === 0 || !takes(slot, this.queue[0]!)) continue;
      // Particles are moved on from the frame before: a worker that drew a neighbour has most of the way behind it.
      const top = this.queue.filter((w) => w.priority === this.queue[0]!.priority),
        frameOf = (w: Waiting) => ('frame' in w.request ? w.request.frame : 0);
      const chosen = top.reduce((best, w) => (Math.abs(frameOf(w) - slot.last) < Math.abs(frameOf(best) - slot.last) ? w : best), top[0]!);
      this.queue.splice(this.queue.indexOf(chosen), 1);
      slot.sent.set(idOf(chosen.request), chosen);
      slot.last = frameOf(chosen);
      slot.worker.postMessage(withoutKnown(slot, chosen.request));
    }
  }

  ask(
    request: Ask,
    priority: number,
    signal?: AbortSignal,
    onSample?: (sample: TrackSample, track: string) => void,
    onShare?: (share: number) => void,
    onShape?: (shape: CarriedShape) => void,
  ): Promise<WorkerAnswer> {
    return new Promise((resolve, reject) => {
      const waiting: Waiting = {
        request: { ...request, id: this.nextId++ } as WorkerRequest,
        priority,
        cancelled: false,
        resolve,
        reject,
        onSample,
        onShare,
        onShape,
      };
      signal?.addEventListener(
        'abort',
        () => {
          const at = this.queue.indexOf(waiting);
          if (at >= 0) {
            this.queue.splice(at, 1);
            reject(new Dropped());
            return;
          }
          const id = idOf(waiting.request),
            slot = this.workers.find((s) => s.sent.has(id));
          if (!slot) return;
          waiting.cancelled = true;
          if (slot.cancel) Atomics.store(slot.cancel, id % slot.cancel.length, id);
          slot.worker.postMessage({ kind: 'cancel', id } satisfies WorkerRequest);
          // Whoever drops one drops others too, and asks for what is wanted now in the same breath.
          queueMicrotask(() => this.next());
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
  /** Draws a frame; `drawn` is null where the display has its picture already. */
  async frame(request: FrameAsk, priority: number, signal?: AbortSignal): Promise<{ key: string; drawn: DrawnFrame | null }> {
    const { key, drawn } = (await this.ask({ kind: 'frame', ...request }, priority, signal)) as Extract<WorkerAnswer, { kind: 'frame' }>;
    return { key, drawn };
  }
  private readonly asked = new Map<number, (answer: never) => void>();
  /** Asks the first worker for what waits behind no picture: it answers between two steps. */
  private atOnce<Answer>(request: (id: number) => WorkerRequest): Promise<Answer> {
    const id = this.nextId++;
    this.workers[0]!.worker.postMessage(request(id));
    return new Promise<Answer>((resolve) => this.asked.set(id, resolve as (answer: never) => void));
  }
  /** What the first worker remembers now. */
  memory(): Promise<WorkerMemory> {
    return this.atOnce((id) => ({ kind: 'memory', id }));
  }
  /** The mean light of a box of the picture that was measured last, in shares of its size. */
  async values(box: readonly [number, number, number, number]): Promise<[number, number, number, number] | null> {
    return (await this.atOnce<Extract<WorkerAnswer, { kind: 'values' }>>((id) => ({ kind: 'values', id, box }))).value;
  }
  /** Bytes that every worker may remember from now on. */
  limit(bytes: { steps: number; sources: number }): void {
    for (const { worker } of this.workers)
      worker.postMessage({ kind: 'limit', steps: bytes.steps, sources: bytes.sources } satisfies WorkerRequest);
  }
  /** Tells every worker of pictures that the display no longer has. */
  forget(keys: string[]): void {
    for (const { worker } of this.workers) worker.postMessage({ kind: 'forget', keys } satisfies WorkerRequest);
  }
}
export type FrameAsk = Without<Extract<WorkerRequest, { kind: 'frame' }>, 'id' | 'kind' | 'shot'> & { shot: Shot };
/** A request without a document that the worker has: to copy it for every frame took the page 50 ms in a row of them. */
function withoutKnown(slot: Slot, request: WorkerRequest): WorkerRequest {
  if (request.kind !== 'frame') return request;
  const known = slot.document === request.document;
  slot.document = request.document;
  return known ? { ...request, shot: null } : request;
}
/** Whether a worker is sent this request now: nothing that is wanted is under way there, or one thing, and both are urgent. */
function takes(slot: Slot, next: Waiting): boolean {
  const wanted = [...slot.sent.values()].filter((w) => !w.cancelled);
  if (slot.sent.size >= CELLS) return false;
  return wanted.length === 0 || (wanted.length === 1 && Math.min(wanted[0]!.priority, next.priority) >= URGENT);
}
const idOf = (request: WorkerRequest): number => ('id' in request ? request.id : 0);

/** Whether this page may share memory with its workers; without that, one thread draws. */
export const isolated = (): boolean => (globalThis as { crossOriginIsolated?: boolean }).crossOriginIsolated === true;
/** Threads that draw: the one that leads, and its helpers. */
export const drawingThreads = (): number => (isolated() ? Math.max(1, Math.min(8, navigator.hardwareConcurrency || 1)) : 1);

let drawing: WorkerPool | null = null,
  measuring: WorkerPool | null = null;
/** The one worker that draws, with its helpers and the display. */
export function drawer(): WorkerPool {
  if (!drawing) {
    const made = (drawing = new WorkerPool({ helpers: drawingThreads() - 1, display: display() }));
    made.limit(memoryShares());
    usePreferences.subscribe(({ memoryMiB }) => made.limit(memoryShares(memoryMiB)));
  }
  return drawing;
}
/** Workers that measure at the most: beyond that they wait for the frames that they read. */
const MEASURERS = 4;
/** The workers that follow tracks, so that a long one holds up no picture. Half of the machine stays for drawing. */
export const measurer = (): WorkerPool =>
  (measuring ??= new WorkerPool({ size: Math.max(1, Math.min(MEASURERS, (navigator.hardwareConcurrency || 2) >> 1)) }));

export type { WorkerMemory };
