import { randomUUID } from 'node:crypto';
import { Job, type JobRow } from '../database/entities';
import { notFound, Problem } from '../http/problem';
import type { Services } from '../services';

export interface JobContext {
  job: JobRow;
  signal: AbortSignal;
  progress(done: number, total: number, message?: string): void;
}
export type Worker = (context: JobContext) => Promise<Record<string, unknown>>;

/** Fewer events than frames: at most one a job in this time. */
const TELL_EVERY_MS = 150;

/** What pages see of a job. */
export function jobSummary(job: JobRow, left: number | null = null) {
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
    input: job.kind === 'render' ? job.input : {},
    created: job.created.toISOString(),
  };
}

/** Long work, kept in the database: one of each kind at a time, in order. What a restart interrupts goes on after it. */
export class Jobs {
  /** Jobs under way, with how far they are: the database is told only when they end. */
  private readonly running = new Map<string, { control: AbortController; job: JobRow; left: number | null }>();
  private readonly busy = new Set<JobRow['kind']>();
  private stopped = false;
  private ends: Promise<void>[] = [];
  constructor(
    private readonly services: Omit<Services, 'jobs'>,
    private readonly workers: Record<JobRow['kind'], Worker>,
  ) {}

  private get repository() {
    return this.services.database.getRepository(Job);
  }
  private tell(job: JobRow, left: number | null = null): void {
    this.services.events.send({ type: 'job', job: jobSummary(job, left) });
  }

  /** Takes up what was running when the server ended. */
  async resume(): Promise<void> {
    await this.repository.update({ state: 'running' }, { state: 'waiting' });
    for (const kind of Object.keys(this.workers) as JobRow['kind'][]) void this.next(kind);
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
        created: now,
        updated: now,
      };
    await this.repository.save(job);
    this.tell(job);
    void this.next(kind);
    return job;
  }
  async get(id: string): Promise<JobRow> {
    const job = await this.repository.findOneBy({ id });
    if (!job) throw notFound('This job');
    return this.asItStands(job);
  }
  async list(shotId?: string): Promise<JobRow[]> {
    const jobs = await this.repository.find({ where: shotId ? { shotId } : {}, order: { created: 'DESC' }, take: 50 });
    return jobs.map((job) => this.asItStands(job));
  }
  private asItStands(job: JobRow): JobRow {
    return this.running.get(job.id)?.job ?? job;
  }
  /** What pages see of a job, with the time left where it runs. */
  summary(job: JobRow) {
    return jobSummary(job, this.running.get(job.id)?.left ?? null);
  }

  /** Ends a job that waits or runs; what it finished stays. */
  async cancel(id: string): Promise<JobRow> {
    const job = await this.get(id);
    if (job.state !== 'waiting' && job.state !== 'running') throw new Problem(409, 'job-over', 'This job is over already.');
    const running = this.running.get(id);
    if (running) {
      running.control.abort('cancelled');
      return { ...job, message: 'stopping' };
    }
    Object.assign(job, { state: 'cancelled', updated: new Date() });
    await this.repository.save(job);
    this.tell(job);
    return job;
  }

  private async next(kind: JobRow['kind']): Promise<void> {
    if (this.stopped || this.busy.has(kind)) return;
    this.busy.add(kind);
    const job = await this.repository.findOne({ where: { kind, state: 'waiting' }, order: { created: 'ASC' } });
    if (!job) {
      this.busy.delete(kind);
      return;
    }
    const end = this.run(job)
      .catch((error: unknown) => this.services.log(error))
      .then(() => {
        this.busy.delete(kind);
        void this.next(kind);
      });
    this.ends.push(end);
  }

  private async run(job: JobRow): Promise<void> {
    const control = new AbortController(),
      begun = Date.now();
    const live = { control, job, left: null as number | null };
    this.running.set(job.id, live);
    const save = async (change: Partial<JobRow>) => {
      Object.assign(job, change, { updated: new Date() });
      await this.repository.save(job);
    };
    await save({ state: 'running', message: '' });
    this.tell(job);
    let told = 0,
      doneBefore: number | null = null;
    const progress: JobContext['progress'] = (done, total, message = '') => {
      doneBefore ??= Math.max(0, done - 1);
      Object.assign(job, { done, total, message });
      const now = Date.now();
      if (now - told < TELL_EVERY_MS && done < total) return;
      told = now;
      const rate = (done - doneBefore) / Math.max(1, now - begun);
      live.left = rate > 0 ? (total - done) / rate / 1000 : null;
      this.tell(job, live.left);
    };
    try {
      const result = await this.workers[job.kind]({ job, signal: control.signal, progress });
      if (control.signal.aborted) throw new Error('cancelled');
      await save({ state: 'done', result, done: job.total, message: '' });
    } catch (error) {
      if (this.stopped) return; // goes on after the next start
      if (control.signal.aborted) await save({ state: 'cancelled', message: 'Cancelled; what was finished is kept.' });
      else {
        await save({ state: 'failed', message: (error as Error).message.slice(0, 900) });
        // What was expected has been said in words; only a mistake of the program's own is worth the log.
        if ((error as Error).name !== 'Error') this.services.log(error);
      }
    } finally {
      this.running.delete(job.id);
    }
    this.tell(job);
  }

  /** Stops without marking anything: running jobs go on after the next start. */
  async close(): Promise<void> {
    this.stopped = true;
    for (const { control } of this.running.values()) control.abort('shutdown');
    await Promise.allSettled(this.ends);
  }
}
