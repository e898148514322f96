import { applyChange, independent, type Shot } from '@wraithos/core/shot';
import type { z } from 'zod';
import { keepVersion, saveEdits, stale, type HistoryEntry, type SavedEdit } from '@wraithos/contract';
import { ApiError, call, read } from '../api/client';
import { changeKept } from './keptEdits';

/** How edits wait: how many, since when, and whether this browser keeps them when the page is closed. */
export interface Waiting {
  count: number;
  since: Date | null;
  kept: 'yes' | 'writing' | 'no';
  /** What the server said, where it said anything. */
  reason: string;
}
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
  state(save: 'saved' | 'saving' | 'offline', waiting: Waiting): void;
  /** Edits that the server refused for what they hold; the document is what the others make. */
  setAside(edits: SavedEdit[], reason: string, shot: Shot): Promise<void>;
}

/** How many of the edits that wait are the first ones of what the server has stored since. */
export function arrivedOf(edits: readonly SavedEdit[], stored: readonly Pick<HistoryEntry, 'patches'>[]): number {
  let n = 0;
  while (n < edits.length && n < stored.length && JSON.stringify(edits[n]!.patches) === JSON.stringify(stored[n]!.patches)) n++;
  return n;
}

/** Edits that go in one request, and characters of them. */
const PORTION = 100,
  PORTION_CHARACTERS = 2 ** 20;
/** A request that is not answered by then is sent again; what arrived after all is recognised. */
const PATIENCE_MS = 30_000;
/** Waits before another try, milliseconds. */
const BACK_OFF = [1000, 2000, 4000, 8000, 15_000];
/** Answers that refuse what an edit holds. Everything else says that the time or the way is wrong: it is tried again. */
const REFUSALS = new Set([400, 413, 422]);

interface Pending {
  n: number;
  edit: SavedEdit;
  at: Date;
}

/**
 * Sends edits as they come, in order, in portions, one request at a time. An edit leaves this list only when the server has stored it, or when it
 * was set aside with the server's reason; whatever else happens, it waits and is tried again.
 */
export class Saver {
  private list: Pending[] = [];
  private count = 0;
  private sending = false;
  private closed = false;
  private unkept: Pending[] = [];
  private dropped: number[] = [];
  private keptUpTo = -1;
  private writing = false;
  private failed = false;
  private said = '';
  private most = PORTION;
  private tries = 0;
  private retry: ReturnType<typeof setTimeout> | null = null;
  private keeping: Promise<void> = Promise.resolve();
  constructor(private readonly host: SaverHost) {}

  get pending(): readonly SavedEdit[] {
    return this.list.map((p) => p.edit);
  }
  /** Whether closing the page would lose something. */
  get unsafe(): boolean {
    return this.list.length > 0 && this.failed;
  }

  add(edit: SavedEdit): void {
    this.addAll([edit]);
  }
  addAll(edits: readonly SavedEdit[]): void {
    const fresh = edits.map((edit) => ({ n: this.count++, edit, at: new Date() }));
    this.list.push(...fresh);
    this.keep({ add: fresh });
    this.tell(this.tries ? 'offline' : 'saving');
    if (!this.tries) this.soon(0);
  }
  /** Waits until everything is kept in this browser. */
  async settled(): Promise<void> {
    await this.keeping;
  }
  /** Keeps what waits in the browser; what comes while it writes goes in the next write together. Saving never waits for it. */
  private keep(change: { add?: readonly Pending[]; upTo?: number; drop?: readonly number[] }): void {
    this.unkept.push(...(change.add ?? []));
    this.keptUpTo = Math.max(this.keptUpTo, change.upTo ?? -1);
    this.dropped.push(...(change.drop ?? []));
    if (this.writing) return;
    this.writing = true;
    this.keeping = this.write();
  }
  private async write(): Promise<void> {
    for (let more = true; more; more = this.unkept.length > 0 || this.dropped.length > 0 || this.keptUpTo >= 0) {
      const change = { base: this.host.revision, add: this.unkept.splice(0), upTo: this.keptUpTo, drop: this.dropped.splice(0) };
      this.keptUpTo = -1;
      try {
        await changeKept(this.host.id, change);
        this.failed = false;
      } catch {
        // It is written with the next change again; until then this page alone has it.
        this.failed = true;
        this.unkept.unshift(...change.add);
        break;
      }
    }
    this.writing = false;
    if (this.tries && this.list.length) this.tell('offline', this.said);
  }
  private tell(save: 'saved' | 'saving' | 'offline', reason = ''): void {
    if (!this.closed)
      this.host.state(save, {
        count: this.list.length,
        since: this.list[0]?.at ?? null,
        kept: this.failed ? 'no' : this.writing ? 'writing' : 'yes',
        reason,
      });
  }
  soon(wait: number): void {
    if (this.closed) return;
    if (this.retry) clearTimeout(this.retry);
    this.retry = setTimeout(() => {
      this.retry = null;
      void this.send();
    }, wait);
  }
  close(): void {
    this.closed = true;
    if (this.retry) clearTimeout(this.retry);
  }

  private portion(): Pending[] {
    let characters = 0,
      n = 0;
    while (n < this.list.length && n < this.most && characters < PORTION_CHARACTERS)
      characters += JSON.stringify(this.list[n++]!.edit).length;
    return this.list.slice(0, n);
  }
  private async send(): Promise<void> {
    if (this.sending || this.list.length === 0) return;
    this.sending = true;
    const { host } = this,
      batch = this.portion();
    if (!this.tries) this.tell('saving');
    try {
      const { revision } = await call(saveEdits, {
        params: { id: host.id },
        body: { base: host.revision, edits: batch.map((p) => p.edit) },
        patience: PATIENCE_MS,
      });
      this.confirm(batch.length, revision);
      this.most = Math.min(PORTION, this.most * 2);
    } catch (error) {
      await this.trouble(error, batch).catch((again: unknown) => this.later(again));
    } finally {
      this.sending = false;
    }
    if (this.list.length && this.retry === null) this.soon(0);
  }
  /** The first `n` that wait are stored, and the server's revision is this. */
  private confirm(n: number, revision: number): void {
    const { host } = this,
      stored = this.list.splice(0, n);
    for (const { edit } of stored) host.confirmed = applyChange(host.confirmed, edit.patches);
    host.revision = revision;
    this.tries = 0;
    if (stored.length) this.keep({ upTo: stored[stored.length - 1]!.n });
    this.tell(this.list.length ? 'saving' : 'saved');
  }

  private later(error: unknown): void {
    const said = error instanceof ApiError && error.status ? error.message : '',
      asked = error instanceof ApiError ? error.retryAfter * 1000 : 0;
    const wait = Math.max(asked, BACK_OFF[Math.min(this.tries, BACK_OFF.length - 1)]!);
    this.tries++;
    this.said = said;
    this.tell('offline', said);
    this.soon(wait);
  }
  private async trouble(error: unknown, batch: readonly Pending[]): Promise<void> {
    if (!(error instanceof ApiError)) this.later(error);
    else if (error.status === 409) await this.meet(read(stale, error.body));
    else if (REFUSALS.has(error.status)) await this.refused(error, batch);
    else this.later(error);
  }

  /** The server does not take what one of these holds: those before it go first, then it is set aside, and the others go on. */
  private async refused(error: ApiError, batch: readonly Pending[]): Promise<void> {
    const named = /^edits\.(\d+)\b/.exec(String(error.body.field ?? ''))?.[1],
      which = typeof error.body.edit === 'number' ? error.body.edit : named === undefined ? null : Number(named);
    if (batch.length > 1 && which !== 0) {
      this.most = which ?? Math.max(1, Math.floor(batch.length / 2));
      this.soon(0);
      return;
    }
    const { host } = this,
      out = [this.list[0]!],
      stay: Pending[] = [];
    let shot = host.confirmed;
    // What touches the same things builds on it, and cannot stand without it.
    for (const next of this.list.slice(1)) {
      try {
        if (
          !independent(
            out.flatMap((o) => o.edit.patches),
            next.edit.patches,
          )
        )
          throw new Error('builds on it');
        shot = applyChange(shot, next.edit.patches);
        stay.push(next);
      } catch {
        out.push(next);
      }
    }
    this.most = PORTION;
    await host.setAside(
      out.map((o) => o.edit),
      error.message,
      shot,
    );
    this.list = stay;
    this.keep({ drop: out.map((o) => o.n) });
    this.tell(stay.length ? 'saving' : 'saved');
  }

  /** Someone else saved first. Where nothing touches the same things, our edits go on top; otherwise both versions are kept. */
  private async meet(now: z.output<typeof stale>): Promise<void> {
    const { host } = this,
      edits = this.pending,
      // Ours that arrived although their answer was lost.
      arrived = arrivedOf(edits, now.missed),
      missed = now.missed.slice(arrived);
    if (arrived) this.confirm(arrived, missed.length ? now.missed[arrived - 1]!.revision : now.revision);
    if (missed.length === 0) {
      host.revision = now.revision;
      return;
    }
    const theirs = missed.flatMap((m) => m.patches),
      ours = this.list.flatMap((p) => p.edit.patches);
    // A document in the form of a later version is no longer what this page has: its own is read anew by the server.
    if (!missed.some((m) => m.kind === 'migrate') && independent(theirs, ours)) {
      try {
        const confirmed = applyChange(host.confirmed, theirs);
        host.rebased(applyChange(confirmed, ours), missed);
        host.confirmed = confirmed;
        host.revision = now.revision;
        this.keep({});
        this.tell(this.list.length ? 'saving' : 'saved');
        return;
      } catch {
        /* they do not fit after all: keep both */
      }
    }
    await this.keepBeside();
  }
  private async keepBeside(): Promise<void> {
    const { host } = this,
      last = this.list[this.list.length - 1]!.n,
      name = `${host.current().code} kept ${new Date().toTimeString().slice(0, 5)}`;
    try {
      await call(keepVersion, { params: { id: host.id }, body: { name, document: host.current() }, patience: PATIENCE_MS });
    } catch (error) {
      if (!(error instanceof ApiError) || !REFUSALS.has(error.status)) throw error;
      // It cannot be kept there: it is kept here.
      await host.setAside([...this.pending], error.message, host.confirmed);
    }
    this.list = [];
    this.keep({ upTo: last });
    await host.keptBeside(name);
  }
}
