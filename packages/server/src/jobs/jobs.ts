import { randomUUID } from 'node:crypto';
import { IsNull } from 'typeorm';
import { isOver, type JobSummary } from '@wraithos/contract';
import type { FormatName } from '@wraithos/core/render';
import { Explained, isDiskTrouble } from '@wraithos/runtime';
import { Job, type JobRow } from '../database/entities';
import { notFound, Problem } from '../http/problem';
import type { Services } from '../services';
import { MOST_ATTEMPTS, MOST_INTERRUPTED } from './limits';

export interface JobContext {
  job: JobRow;
  signal: AbortSignal;
  progress(done: number, total: number, message?: string): void;
  /** Tells what the work is making while it goes on: part of it can be seen already. */
  coming(result: Record<string, unknown>): void;
}
/** One kind of work. */
export interface Worker {
  /** Does the work, or goes on with it. It stops at once when the signal ends. @throws Explained where it cannot be done. */
  work(context: JobContext): Promise<Record<string, unknown>>;
  /** Throws away what only the work needed, when it is over for good. */
  clean?(job: JobRow): Promise<void>;
}

/** A job under way. */
interface Live {
  control: AbortController;
  job: JobRow;
  /** Seconds that are left. */
  left: number | null;
  coming: Record<string, unknown> | null;
}

/** Fewer events than frames: at most one a job in this time. */
const TELL_EVERY_MS = 150;

/** What pages see of a job. */
export function jobSummary(job: JobRow, left: number | null = null): JobSummary {
  const { format, first, last } = job.input as { format?: FormatName; first?: number; last?: number };
  return {
    id: job.id,
    kind: job.kind,
    state: job.state,
    title: job.title,
    shot: job.shotId,
    done: job.done,
    total: job.total,
    secondsLeft: left,
    message: job.message,
    result: job.result,
    coming: null,
    input: job.kind === 'render' ? { format, first, last } : {},
    created: job.created.toISOString(),
  };
}

/**
 * Long work, kept in the database: one of each kind at a time, in order. What a restart interrupts goes on after it; what ends badly is tried
 * once more and then parked, with its reason, until a person asks for it again. While the disk is full it waits.
 */
export class Jobs {
  /** Jobs under way, with how far they are: the database is told only when they end. */
  private readonly running = new Map<string, Live>();
  private readonly busy = new Set<JobRow['kind']>();
  private stopped = false;
  private readonly ends = new Set<Promise<void>>();
  constructor(
    private readonly services: Omit<Services, 'jobs'>,
    private readonly workers: Record<JobRow['kind'], Worker>,
  ) {}

  private get repository() {
    return this.services.database.getRepository(Job);
  }
  /** Events carry numbers only; whoever wants a result asks for the job. */
  private tell(job: JobRow, left: number | null = null): void {
    const { id, kind, state, shotId, done, total, message } = job;
    this.services.events.send({ type: 'job', id, kind, state, shot: shotId, done, total, secondsLeft: left, message });
  }
  private save(job: JobRow, change: Partial<JobRow>): Promise<unknown> {
    Object.assign(job, change, { updated: new Date() });
    const { id, ...columns } = job;
    return this.services.patience.through(() => this.repository.update({ id }, columns as never));
  }

  /** Takes up what was running when the server ended. */
  async resume(): Promise<void> {
    for (const job of await this.repository.find({ where: { state: 'running' } })) {
      const interrupted = job.interrupted + 1;
      if (interrupted >= MOST_INTERRUPTED)
        await this.park(job, `The server ended ${interrupted} times while this was running.`, { interrupted });
      else await this.save(job, { state: 'waiting', interrupted });
    }
    for (const kind of Object.keys(this.workers) as JobRow['kind'][]) this.go(kind);
  }

  async add(kind: JobRow['kind'], title: string, input: Record<string, unknown>, shotId: string | null, total: number): Promise<JobRow> {
    const now = new Date(),
      job: JobRow = {
        id: randomUUID(),
        kind,
        state: 'waiting',
        title: title.slice(0, 300),
        shotId,
        input,
        done: 0,
        total,
        message: '',
        result: null,
        attempts: 0,
        interrupted: 0,
        deleted: null,
        created: now,
        updated: now,
      };
    await this.repository.insert(job as never);
    this.tell(job);
    this.go(kind);
    return job;
  }
  async get(id: string): Promise<JobRow> {
    const job = await this.repository.findOneBy({ id, deleted: IsNull() });
    if (!job) throw notFound('This job');
    return this.asItStands(job);
  }
  async list(shotId?: string): Promise<JobRow[]> {
    const jobs = await this.repository.find({
      where: { deleted: IsNull(), ...(shotId ? { shotId } : {}) },
      order: { created: 'DESC' },
      take: 50,
    });
    return jobs.map((job) => this.asItStands(job));
  }
  /** Work that is over is told as over when what it needed has been thrown away, too. */
  private asItStands(job: JobRow): JobRow {
    const live = this.running.get(job.id)?.job;
    return live ? (isOver(live.state) ? { ...live, state: 'running' } : live) : job;
  }
  /** What pages see of a job, with the time left where it runs. */
  summary(job: JobRow): JobSummary {
    const live = this.running.get(job.id),
      seen = jobSummary(job, live?.left ?? null);
    return isOver(seen.state) ? seen : { ...seen, coming: live?.coming ?? null };
  }
  /** How many jobs wait, run, and are parked. */
  async counts(): Promise<{ waiting: number; running: number; parked: number }> {
    const [waiting, parked] = await Promise.all(
      (['waiting', 'parked'] as const).map((state) => this.repository.count({ where: { state, deleted: IsNull() } })),
    );
    return { waiting: waiting!, running: this.running.size, parked: parked! };
  }

  /** Ends a job that waits or runs; what it finished stays. */
  async cancel(id: string): Promise<JobRow> {
    const job = await this.get(id);
    if (isOver(job.state)) throw new Problem(409, 'job-over', 'This job is over already.');
    const running = this.running.get(id);
    if (running) {
      running.control.abort('cancelled');
      return { ...job, message: 'stopping' };
    }
    await this.save(job, { state: 'cancelled', message: '' });
    await this.clean(job);
    this.tell(job);
    return job;
  }
  /** Begins a job anew that failed, was parked or cancelled; what it had finished is kept. */
  async again(id: string): Promise<JobRow> {
    const job = await this.get(id);
    if (!['failed', 'parked', 'cancelled'].includes(job.state) || (job.kind !== 'render' && job.kind !== 'unpack'))
      throw new Problem(409, 'job-state', 'Only a render that failed, was parked or was cancelled can be tried again.');
    await this.services.disk.admit();
    await this.save(job, { state: 'waiting', attempts: 0, interrupted: 0, message: '' });
    this.tell(job);
    this.go(job.kind);
    return job;
  }

  private go(kind: JobRow['kind']): void {
    if (this.stopped || this.busy.has(kind)) return;
    this.busy.add(kind);
    const end = this.next(kind)
      .catch((error: unknown) => {
        if (!this.stopped) this.services.log(error);
        return false;
      })
      .then((more) => {
        this.busy.delete(kind);
        this.ends.delete(end);
        if (more) this.go(kind);
      });
    this.ends.add(end);
  }
  /** Runs the oldest job that waits. @returns whether there was one. */
  private async next(kind: JobRow['kind']): Promise<boolean> {
    const job = await this.services.patience.through(() =>
      this.repository.findOne({ where: { kind, state: 'waiting', deleted: IsNull() }, order: { created: 'ASC' } }),
    );
    if (!job || this.stopped) return false;
    await this.run(job);
    return true;
  }

  private async run(job: JobRow): Promise<void> {
    const control = new AbortController(),
      live: Live = { control, job, left: null, coming: null };
    this.running.set(job.id, live);
    try {
      await this.save(job, { state: 'running', message: '' });
      this.tell(job);
      await this.untilOver(job, live);
      if (isOver(job.state)) await this.clean(job);
    } finally {
      this.running.delete(job.id);
    }
    if (isOver(job.state)) this.tell(job);
  }

  private async untilOver(job: JobRow, live: Live): Promise<void> {
    const { control } = live,
      { disk } = this.services;
    for (;;) {
      const attempt = new AbortController(),
        stop = () => attempt.abort(control.signal.reason);
      control.signal.addEventListener('abort', stop, { once: true });
      // A full disk ends the attempt, not the job: it goes on when there is room.
      const dry = disk.listen(() => disk.closed && attempt.abort('disk'));
      try {
        if (disk.closed) {
          job.message = `paused: ${disk.trouble()}`;
          this.tell(job);
          await disk.room(control.signal);
        }
        control.signal.throwIfAborted();
        const result = await this.workers[job.kind].work({
          job,
          signal: attempt.signal,
          progress: this.progressOf(job, live),
          coming: (made) => (live.coming = made),
        });
        control.signal.throwIfAborted();
        await this.save(job, { state: 'done', result, done: job.total, message: '' });
        return;
      } catch (error) {
        if (this.stopped) {
          // It goes on after the next start; this end was one with a word.
          await this.repository.update({ id: job.id }, { state: 'waiting' }).catch(() => undefined);
          return;
        }
        if (control.signal.aborted) {
          await this.save(job, { state: 'cancelled', message: 'Cancelled; what was finished is kept.' });
          return;
        }
        if (attempt.signal.reason === 'disk' || isDiskTrouble(error)) {
          await disk.look();
          if (!disk.closed) await new Promise((resolve) => setTimeout(resolve, 500));
          continue;
        }
        if (error instanceof Explained) {
          await this.save(job, { state: 'failed', message: error.message.slice(0, 900) });
          return;
        }
        // Only what nobody foresaw is worth the log.
        this.services.log(error);
        const attempts = job.attempts + 1;
        if (attempts >= MOST_ATTEMPTS) {
          await this.park(job, reasonOf(error), { attempts });
          return;
        }
        await this.save(job, { attempts, message: 'once more, after it ended badly' });
        this.tell(job);
      } finally {
        dry();
        control.signal.removeEventListener('abort', stop);
      }
    }
  }
  private async park(job: JobRow, reason: string, change: Partial<JobRow>): Promise<void> {
    const message = `${reason} It does not start again by itself; what was finished is kept.`;
    await this.save(job, { ...change, state: 'parked', message: message.slice(0, 900) });
  }
  private async clean(job: JobRow): Promise<void> {
    await this.workers[job.kind].clean?.(job).catch((error: unknown) => this.services.log(error));
  }

  private progressOf(job: JobRow, live: { left: number | null }): JobContext['progress'] {
    const begun = Date.now();
    let told = 0,
      doneBefore: number | null = null;
    return (done, total, message = '') => {
      doneBefore ??= Math.max(0, done - 1);
      Object.assign(job, { done, total, message });
      const now = Date.now();
      if (now - told < TELL_EVERY_MS && done < total) return;
      told = now;
      const rate = (done - doneBefore) / Math.max(1, now - begun);
      live.left = rate > 0 ? (total - done) / rate / 1000 : null;
      this.tell(job, live.left);
    };
  }

  /** Stops without marking anything as over: running jobs go on after the next start. */
  async close(): Promise<void> {
    this.stopped = true;
    for (const { control } of this.running.values()) control.abort('shutdown');
    await Promise.allSettled([...this.ends]);
  }
}

/** Why work ended badly, in words that say nothing of the program's insides. */
function reasonOf(error: unknown): string {
  const { name, message } = error as Error;
  // These are our own words; see workProcess.ts.
  const own = /^(nothing moved for|it needed more than|its process ended)/.test(message);
  return own ? `It ended badly twice: ${message}.` : `It ended badly twice, by a fault of the program (${name}).`;
}
