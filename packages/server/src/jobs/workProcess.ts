import { spawn, type ChildProcess } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { confined, Explained } from '@wraithos/runtime';

/** What one task may use. */
export interface WorkLimits {
  /** Bytes of the process and of all that it started. */
  memory: number;
  /** Milliseconds without a sign of progress. */
  stall: number;
}
/** Work ended badly in a way that nobody foresaw: the process died, used too much memory, or stood still. It may be tried once more. */
export class WorkBroke extends Error {}

/** What a process tells of a task. */
export type WorkMessage =
  | { kind: 'progress'; value: unknown }
  | { kind: 'done'; value: unknown }
  | { kind: 'failed'; message: string; explained: boolean; code?: string; stack?: string };

const LOOK_EVERY_MS = 400;
const PAGE = 4096;

/** Bytes that a process group has in memory; 0 where it is gone. */
export async function residentBytes(pid: number): Promise<number> {
  const own = Number((await readFile(`/proc/${pid}/statm`, 'utf8').catch(() => '0 0')).split(' ')[1]) * PAGE,
    children = (await readFile(`/proc/${pid}/task/${pid}/children`, 'utf8').catch(() => '')).trim();
  let sum = own;
  if (children) for (const child of children.split(' ')) sum += await residentBytes(Number(child));
  return sum;
}

/**
 * One process that works on one task at a time, in a group of its own so that it and whatever it started can be ended at any moment. It ends
 * with the server, however that ends.
 */
export class WorkProcess {
  private readonly child: ChildProcess;
  private dead = false;
  private readonly over: Promise<void>;

  /** @param file a module that answers tasks, see `work.ts`. */
  constructor(file: string) {
    const [command, args] = confined(process.execPath, ['--no-warnings', file], {});
    this.child = spawn(command, args, { stdio: ['ignore', 'ignore', 'pipe', 'ipc'], detached: true });
    this.child.stderr!.resume();
    this.over = new Promise((resolve) => {
      const end = () => {
        this.dead = true;
        resolve();
      };
      this.child.once('exit', end);
      this.child.once('error', end);
    });
  }
  get alive(): boolean {
    return !this.dead;
  }
  /** It must not keep the server alive while it has nothing to do. */
  rest(): void {
    this.child.unref();
    this.child.channel?.unref();
  }

  /** Ends it, with everything that it started. */
  async kill(): Promise<void> {
    if (!this.dead && this.child.pid) {
      try {
        process.kill(-this.child.pid, 'SIGKILL');
      } catch {
        this.child.kill('SIGKILL');
      }
    }
    await this.over;
  }

  /**
   * Gives it a task and waits for the result.
   * @param signal ends the process at once; the promise then fails with the signal's reason.
   * @throws Explained where the work says why it cannot be done, WorkBroke where it ended badly.
   */
  async run<T>(task: unknown, limits: WorkLimits, onProgress: (value: unknown) => void, signal?: AbortSignal): Promise<T> {
    signal?.throwIfAborted();
    this.child.ref();
    this.child.channel?.ref();
    let heard = Date.now();
    const result = new Promise<T>((resolve, reject) => {
      const settle = (act: () => void) => {
        this.child.off('message', hear);
        clearInterval(watch);
        signal?.removeEventListener('abort', stop);
        act();
      };
      const hear = (message: WorkMessage) => {
        heard = Date.now();
        if (message.kind === 'progress') onProgress(message.value);
        else if (message.kind === 'done') settle(() => resolve(message.value as T));
        else
          settle(() => {
            const error = message.explained ? new Explained(message.message) : new WorkBroke(message.message);
            if (message.code) Object.assign(error, { code: message.code });
            if (message.stack) error.stack = message.stack;
            reject(error);
          });
      };
      const end = (error: Error) => {
        settle(() => reject(error));
        void this.kill();
      };
      const stop = () => end(signal!.reason instanceof Error ? signal!.reason : new Error(String(signal!.reason ?? 'cancelled')));
      const watch = setInterval(() => {
        if (Date.now() - heard > limits.stall) {
          end(new WorkBroke(`nothing moved for ${Math.round(limits.stall / 1000)} s`));
          return;
        }
        void residentBytes(this.child.pid ?? 0).then((bytes) => {
          if (bytes > limits.memory) end(new WorkBroke(`it needed more than ${(limits.memory / 2 ** 30).toFixed(1)} GiB of memory`));
        });
      }, LOOK_EVERY_MS);
      watch.unref();
      signal?.addEventListener('abort', stop, { once: true });
      this.child.on('message', hear);
      void this.over.then(() => settle(() => reject(new WorkBroke('its process ended'))));
      this.child.send(task as object, (error) => {
        if (error) settle(() => reject(new WorkBroke('its process ended')));
      });
    });
    return result.finally(() => this.rest());
  }
}

/**
 * A few work processes of one kind: as many tasks at once, the others in order. Idle ones stay a while with what they remember.
 * @param ready one fresh process always waits: starting one takes up to a second and a half, which is most of what a first picture may take.
 */
export class WorkProcesses {
  private readonly idle: { process: WorkProcess; timer?: ReturnType<typeof setTimeout> }[] = [];
  private readonly all = new Set<WorkProcess>();
  private readonly queue: (() => void)[] = [];
  private busy = 0;
  private closed = false;
  constructor(
    private readonly file: string,
    readonly size: number,
    private readonly ready = false,
    private readonly idleMs = 30_000,
  ) {
    this.prepare();
  }
  private prepare(): void {
    if (!this.ready || this.closed || this.idle.length || this.busy) return;
    const process = new WorkProcess(this.file);
    process.rest();
    this.all.add(process);
    this.idle.push({ process });
  }

  /** Does a task in a process of its own for that time. See `WorkProcess.run`. */
  async run<T>(
    task: unknown,
    limits: WorkLimits,
    onProgress: (value: unknown) => void = () => undefined,
    signal?: AbortSignal,
  ): Promise<T> {
    await this.turn(signal);
    let worker: WorkProcess | null = null;
    try {
      signal?.throwIfAborted();
      if (this.closed) throw new WorkBroke('the server is ending');
      const rested = this.idle.pop();
      if (rested) clearTimeout(rested.timer);
      worker = rested?.process.alive ? rested.process : new WorkProcess(this.file);
      this.all.add(worker);
      return await worker.run<T>(task, limits, onProgress, signal);
    } catch (error) {
      // What it remembers may be half made.
      if (worker && !(error instanceof Explained)) await worker.kill();
      throw error;
    } finally {
      this.busy--;
      if (worker?.alive && !this.closed) this.keep(worker);
      else if (worker) this.all.delete(worker);
      this.queue.shift()?.();
      this.prepare();
    }
  }
  private async turn(signal?: AbortSignal): Promise<void> {
    if (this.busy >= this.size)
      await new Promise<void>((resolve) => {
        const go = () => {
          signal?.removeEventListener('abort', leave);
          resolve();
        };
        const leave = () => {
          const at = this.queue.indexOf(go);
          if (at >= 0) this.queue.splice(at, 1);
          resolve();
        };
        this.queue.push(go);
        signal?.addEventListener('abort', leave, { once: true });
      });
    this.busy++;
  }
  private keep(process: WorkProcess): void {
    const timer = setTimeout(() => {
      this.idle.splice(
        this.idle.findIndex((entry) => entry.process === process),
        1,
      );
      this.all.delete(process);
      void process.kill();
      this.prepare();
    }, this.idleMs);
    timer.unref();
    this.idle.push({ process, timer });
  }
  /** Ends all of them. */
  async close(): Promise<void> {
    this.closed = true;
    for (const { timer } of this.idle.splice(0)) clearTimeout(timer);
    await Promise.all([...this.all].map((process) => process.kill()));
  }
}
