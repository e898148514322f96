import { applyChange, independent, type Shot } from '@wraithos/core/shot';
import { ApiError, request, type HistoryEntry } from '../api/client';
import { keepEdits, type SavedEdit } from './keptEdits';

export interface SaverHost {
  id: string;
  /** What the server has, and its revision. */
  confirmed: Shot;
  revision: number;
  current(): Shot;
  /** The document was laid on newer changes from elsewhere. */
  rebased(shot: Shot, missed: HistoryEntry[]): void;
  /** The document could not be laid on them: it was kept beside, and the server's takes its place. */
  keptBeside(name: string): Promise<void>;
  state(save: 'saved' | 'saving' | 'offline', waiting: number): void;
  failed(message: string): Promise<void>;
}

/** How many of the edits that wait are the first ones of what the server has stored since. */
export function arrivedOf(edits: readonly SavedEdit[], stored: readonly HistoryEntry[]): number {
  let n = 0;
  while (n < edits.length && n < stored.length && JSON.stringify(edits[n]!.patches) === JSON.stringify(stored[n]!.patches)) n++;
  return n;
}

/** Sends edits as they come, in order, one request at a time. */
export class Saver {
  pending: SavedEdit[] = [];
  private sending = false;
  private retry: ReturnType<typeof setTimeout> | null = null;
  constructor(private readonly host: SaverHost) {}

  add(edit: SavedEdit): void {
    this.pending.push(edit);
    this.keep();
    this.soon(0);
  }
  private keeping: Promise<unknown> = Promise.resolve();
  /** Keeps what waits in the browser, one write after another. Saving never waits for it. */
  private keep(): void {
    this.keeping = this.keeping.then(() => keepEdits(this.host.id, this.host.revision, [...this.pending]).catch(() => undefined));
  }
  private get waiting(): boolean {
    return this.retry !== null;
  }
  soon(wait: number): void {
    if (this.retry) clearTimeout(this.retry);
    this.retry = setTimeout(() => {
      this.retry = null;
      void this.send();
    }, wait);
  }
  close(): void {
    if (this.retry) clearTimeout(this.retry);
  }

  private async send(): Promise<void> {
    if (this.sending || this.pending.length === 0) return;
    this.sending = true;
    const { host } = this,
      batch = [...this.pending];
    host.state('saving', batch.length);
    try {
      const { revision } = await request<{ revision: number }>('POST', `/shots/${host.id}/edits`, { base: host.revision, edits: batch });
      for (const edit of batch) host.confirmed = applyChange(host.confirmed, edit.patches);
      host.revision = revision;
      this.pending.splice(0, batch.length);
      this.keep();
      host.state(this.pending.length ? 'saving' : 'saved', this.pending.length);
    } catch (error) {
      await this.trouble(error).catch(() => this.later());
    } finally {
      this.sending = false;
    }
    if (this.pending.length && !this.waiting) this.soon(100);
  }

  private later(): void {
    this.host.state('offline', this.pending.length);
    this.soon(2000);
  }
  private async trouble(error: unknown): Promise<void> {
    if (error instanceof ApiError && error.status === 409)
      await this.meet(error.body as unknown as { revision: number; missed: HistoryEntry[] });
    else if (error instanceof ApiError && error.status >= 400 && error.status < 500) {
      this.pending = [];
      this.keep();
      await this.host.failed(error.message);
    } else this.later();
  }

  /** Someone else saved first. Where nothing touches the same things, our edits go on top; otherwise both versions are kept. */
  private async meet(stale: { revision: number; missed: HistoryEntry[] }): Promise<void> {
    const { host } = this;
    // Ours that arrived although their answer was lost.
    const arrived = arrivedOf(this.pending, stale.missed);
    for (const edit of this.pending.splice(0, arrived)) host.confirmed = applyChange(host.confirmed, edit.patches);
    const missed = stale.missed.slice(arrived),
      theirs = missed.flatMap((m) => m.patches),
      ours = this.pending.flatMap((e) => e.patches);
    if (missed.length === 0) {
      host.revision = stale.revision;
      this.keep();
      host.state(this.pending.length ? 'saving' : 'saved', this.pending.length);
      return;
    }
    if (independent(theirs, ours)) {
      try {
        host.confirmed = applyChange(host.confirmed, theirs);
        host.revision = stale.revision;
        host.rebased(applyChange(host.confirmed, ours), missed);
        if (ours.length === 0) host.state('saved', 0);
        this.keep();
        return;
      } catch {
        /* they do not fit after all: keep both */
      }
    }
    const time = new Date(),
      name = `${host.current().code} kept ${time.toTimeString().slice(0, 5)}`;
    await request('POST', `/shots/${host.id}/versions`, { name, document: host.current() });
    this.pending = [];
    this.keep();
    await host.keptBeside(name);
  }
}
