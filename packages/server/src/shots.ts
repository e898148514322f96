import { randomUUID } from 'node:crypto';
import { setImmediate as breath } from 'node:timers/promises';
import { Mutex } from 'async-mutex';
import { IsNull, MoreThan, Not, type DataSource, type EntityManager } from 'typeorm';
import type { SavedEdit, ShotSummary } from '@wraithos/contract';
import { applyChange, applyEdit, readShotAfter, type Edit, type Shot } from '@wraithos/core/shot';
import { Production, Revision, ShotEntity, type ShotFacts, type ShotRow } from './database/entities';
import { notFound, Problem } from './http/problem';
import type { Events } from './http/events';
import { RevisionLog, type NewRevision } from './revisionLog';
import { documentOf } from './revisions';

const SNAPSHOT_EVERY = 50;
/** How long after an edit the document is written into its row, milliseconds. */
const WRITE_AFTER_MS = 2000;
/** Revisions that an opened shot brings along: the undo history over reloads. */
const HISTORY = 200;
/** Characters of documents that are kept in memory for the next edit or the next who opens them. */
const CACHE = 64 * 2 ** 20;

/** A shot without its document. */
export type ShotEntry = Omit<ShotRow, 'document' | 'documentRevision'>;

/** What lists show of a document. */
export const factsOf = (d: Shot): ShotFacts => ({
  width: d.width,
  height: d.height,
  rate: d.rate,
  first: d.first,
  last: d.last,
  rows: Object.keys(d.rows).length,
});

/** What pages see of a shot in a list. */
export function shotSummary(entry: ShotEntry): ShotSummary {
  return {
    id: entry.id,
    production: entry.productionId,
    code: entry.code,
    title: entry.title,
    revision: entry.revision,
    ...entry.facts!,
    updated: entry.updated.toISOString(),
  };
}

const entryColumns = {
  id: true,
  productionId: true,
  code: true,
  title: true,
  revision: true,
  facts: true,
  deleted: true,
  created: true,
  updated: true,
} as const;

/** What is kept in memory of a shot. */
interface Kept {
  entry: ShotEntry;
  shot: Shot;
  /** Its document as JSON, once somebody wanted it. */
  text: string | null;
  /** The revision that the row's document has. */
  written: number;
  /** Its newest revisions as JSON texts, oldest first; read when somebody opens it. */
  history: string[] | null;
}
const sizeOf = ({ text, history }: Kept): number => (text?.length ?? 20_000) + (history?.reduce((n, one) => n + one.length, 0) ?? 0);

/**
 * Shots and their revisions. Edits of one shot go one after another; its newest document and history stay in memory, so that neither the next edit
 * nor the next page that opens it asks the database. This process alone writes to it (see folder/lock.ts), so what is kept is the newest.
 */
export class ShotStore {
  private readonly locks = new Map<string, Mutex>();
  private readonly kept = new Map<string, Kept>();
  private readonly productions = new Map<string, string>();
  private listed: Map<string, ShotEntry> | null = null;
  private reading: Promise<ShotEntry[]> | null = null;
  /** A reading of the list that began before its last change. */
  private unread: Promise<ShotEntry[]> | null = null;
  private readonly summaries = new Map<string, { entry: ShotEntry; text: string }>();
  private size = 0;
  private readonly late = new Map<string, ReturnType<typeof setTimeout>>();
  private readonly log: RevisionLog;
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
  ) {
    this.log = new RevisionLog(database);
  }
  private get manager(): EntityManager {
    return this.database.manager;
  }

  private async alone<T>(id: string, work: () => Promise<T>): Promise<T> {
    let lock = this.locks.get(id);
    if (!lock) this.locks.set(id, (lock = new Mutex()));
    try {
      return await lock.runExclusive(work);
    } finally {
      if (!lock.isLocked()) this.locks.delete(id);
    }
  }
  private keep(kept: Kept): Kept {
    this.forget(kept.entry.id);
    this.kept.set(kept.entry.id, kept);
    this.size += sizeOf(kept);
    if (this.listed?.has(kept.entry.id)) this.listed.set(kept.entry.id, kept.entry);
    for (const old of this.kept.keys()) {
      if (this.size <= CACHE || old === kept.entry.id) break;
      this.forget(old);
    }
    return kept;
  }
  private forget(id: string): void {
    const kept = this.kept.get(id);
    if (!kept) return;
    this.kept.delete(id);
    this.size -= sizeOf(kept);
  }

  /** A shot without its document. @throws Problem 404. */
  async find(id: string): Promise<ShotEntry> {
    const kept = this.kept.get(id);
    if (kept) return kept.entry;
    const entry = await this.manager.findOne(ShotEntity, { select: entryColumns, where: { id, deleted: IsNull() } });
    if (!entry) throw notFound('This shot');
    return entry;
  }
  /** Shots that are not deleted, oldest first. */
  private async all(): Promise<Map<string, ShotEntry>> {
    while (!this.listed) {
      const reading = (this.reading ??= this.manager.find(ShotEntity, {
        select: entryColumns,
        where: { deleted: IsNull() },
        order: { created: 'ASC' },
      }));
      const entries: ShotEntry[] = await reading.finally(() => (this.reading = this.reading === reading ? null : this.reading));
      // Somebody changed the list while it was read (see `changed`): once more.
      if (this.unread !== reading) this.listed ??= new Map(entries.map((entry) => [entry.id, this.kept.get(entry.id)?.entry ?? entry]));
    }
    return this.listed;
  }
  /** Shots were made, deleted or brought back, here or past this store: the list is read again when it is next asked for. */
  changed(): void {
    this.listed = null;
    this.unread = this.reading;
    this.reading = null;
    this.summaries.clear();
    this.events.send({ type: 'shots' });
  }
  async list(production?: string): Promise<ShotEntry[]> {
    const entries = [...(await this.all()).values()];
    return production ? entries.filter((entry) => entry.productionId === production) : entries;
  }
  /** The list as JSON text; what has not changed since the last time is not written again. */
  async listText(production?: string): Promise<string> {
    const texts = (await this.list(production)).map((entry) => {
      const known = this.summaries.get(entry.id);
      if (known?.entry === entry) return known.text;
      const text = JSON.stringify(shotSummary(entry));
      this.summaries.set(entry.id, { entry, text });
      return text;
    });
    return `[${texts.join(',')}]`;
  }
  /** The newest of a shot, with its document. @throws Problem 404. */
  private async newest(id: string): Promise<Kept> {
    const kept = this.kept.get(id);
    if (kept) return kept;
    const row = await this.manager.findOne(ShotEntity, { where: { id, deleted: IsNull() } });
    if (!row) throw notFound('This shot');
    const { document: _, documentRevision, ...entry } = row,
      shot = await documentOf(this.manager, row);
    // It may have been changed while it was read.
    const meanwhile = this.kept.get(id);
    return meanwhile && meanwhile.entry.revision >= entry.revision
      ? meanwhile
      : this.keep({ entry, shot, text: null, written: documentRevision || entry.revision, history: null });
  }
  async document(id: string): Promise<{ entry: ShotEntry; shot: Shot }> {
    const { entry, shot } = await this.newest(id);
    return { entry, shot };
  }

  /** Everything that a page needs to open a shot, as JSON text. */
  async open(id: string): Promise<string> {
    let kept = await this.newest(id);
    if (!kept.history) {
      const history = await this.historyOf(id, kept.entry.revision);
      // An edit that was stored meanwhile has been kept without its history.
      kept = await this.newest(id);
      if (!kept.history) {
        if (history.upTo !== kept.entry.revision) return this.open(id);
        kept = this.keep({ ...kept, history: history.texts });
      }
    }
    kept.text ??= JSON.stringify(kept.shot);
    const { entry, text, history } = kept,
      head = JSON.stringify({ ...shotSummary(entry), productionName: await this.productionName(entry.productionId) });
    return `${head.slice(0, -1)},"document":${text},"history":[${history!.join(',')}]}`;
  }
  private async productionName(id: string): Promise<string> {
    let name = this.productions.get(id);
    if (name === undefined) this.productions.set(id, (name = (await this.manager.findOneBy(Production, { id }))?.name ?? ''));
    return name;
  }
  /** The newest revisions up to one, oldest first, as JSON texts: patches are stored as text and need not be read to be passed on. */
  private async historyOf(id: string, upTo: number, after = 0, most = HISTORY): Promise<{ upTo: number; texts: string[] }> {
    const rows = (await this.database.query(
      // Patches from before a document was brought up to date speak of another form of it.
      `SELECT revision, name, kind, patches, inverse FROM revisions WHERE shot_id = ? AND revision <= ? AND revision > ?
       AND revision > (SELECT COALESCE(MAX(revision), 0) FROM revisions WHERE shot_id = ? AND kind = 'migrate')
       ORDER BY revision DESC LIMIT ?`,
      [id, upTo, after, id, most],
    )) as { revision: number; name: string; kind: string; patches: string; inverse: string }[];
    return {
      upTo,
      texts: rows
        .reverse()
        .filter((r) => r.patches !== '[]')
        .map((r) => historyText(r, r.patches, r.inverse)),
    };
  }
  /** All revisions after one, as JSON text: for a page that was away for long. */
  async since(id: string, revision: number): Promise<string> {
    const entry = await this.find(id);
    return `{"revision":${entry.revision},"missed":[${(await this.historyOf(id, entry.revision, revision, 100_000)).texts.join(',')}]}`;
  }

  /** Stores a new shot with its first revision. */
  async create(production: string, document: Shot, manager?: EntityManager): Promise<ShotRow> {
    const now = new Date(),
      row: ShotRow = {
        id: randomUUID(),
        productionId: production,
        code: document.code,
        title: document.title,
        revision: 1,
        document,
        documentRevision: 1,
        facts: factsOf(document),
        deleted: null,
        created: now,
        updated: now,
      };
    const store = async (into: EntityManager) => {
      await into.insert(ShotEntity, row as never);
      await into.insert(Revision, {
        shotId: row.id,
        revision: 1,
        name: 'Created',
        kind: 'do',
        patches: [],
        inverse: [],
        snapshot: document as never,
        created: now,
      });
    };
    await (manager ? store(manager) : this.database.transaction(store));
    const { document: _, documentRevision: __, ...entry } = row;
    // The newest one, so it stands last. In somebody else's transaction it is not there for others yet; they say when it is.
    if (!manager) this.listed?.set(row.id, entry);
    if (!manager && this.reading) this.unread = this.reading;
    this.events.send({ type: 'shots' });
    return row;
  }
  /** Stores a copy of a document under a code that no shot of the production has: `TW_010 copy`, then `TW_010 copy 2`. */
  copy(production: string, document: Shot, wish: string): Promise<ShotRow> {
    return this.alone(`codes of ${production}`, async () => {
      const taken = new Set((await this.list(production)).map((s) => s.code)),
        stem = wish.slice(0, 110);
      let code = stem;
      for (let n = 2; taken.has(code); n++) code = `${stem} ${n}`;
      return this.create(production, { ...document, code });
    });
  }

  /**
   * Adds edits to a shot, all or none. They must build on the newest revision.
   * @throws Problem 409 with what was changed meanwhile where they build on an older one, 422 with the number of the edit that gives no
   * valid shot (`edit`, from 0); nothing is stored then.
   */
  save(id: string, base: number, edits: readonly SavedEdit[]): Promise<{ revision: number }> {
    return this.alone(id, () => this.saveAlone(id, base, edits));
  }
  /** Makes a change of our own on the newest document, whatever its revision. */
  change(id: string, edit: Edit): Promise<void> {
    return this.alone(id, async () => {
      const { entry, shot } = await this.document(id),
        { change } = applyEdit(shot, edit);
      if (change.patches.length) await this.saveAlone(id, entry.revision, [{ ...change, kind: 'do' }]);
    });
  }

  private async saveAlone(id: string, base: number, edits: readonly SavedEdit[]): Promise<{ revision: number }> {
    const { entry, shot: before, history, written } = await this.newest(id);
    if (entry.revision !== base) throw await this.stale(entry, base);
    let shot = before,
      { revision } = entry;
    const at = new Date(),
      revisions: NewRevision[] = [],
      fresh: string[] = [];
    for (const [i, edit] of edits.entries()) {
      shot = applied(shot, edit, i);
      revision++;
      const { name, kind } = edit,
        patches = JSON.stringify(edit.patches),
        inverse = JSON.stringify(edit.inverse);
      revisions.push({ revision, name, kind, patches, inverse, snapshot: revision % SNAPSHOT_EVERY === 0 ? JSON.stringify(shot) : null });
      if (edit.patches.length) fresh.push(historyText({ revision, name, kind }, patches, inverse));
      // A long row of edits leaves room for others.
      if (i % 8 === 7) await breath();
    }
    const facts = factsOf(shot);
    try {
      await this.log.store({ id, base, revisions, facts, code: shot.code, title: shot.title, at });
    } catch (error) {
      // Whether it was stored is not known where the line broke: the database is asked.
      this.forget(id);
      throw error;
    }
    this.keep({
      entry: { ...entry, revision, code: shot.code, title: shot.title, facts, updated: at },
      shot,
      text: null,
      written,
      history: history && [...history, ...fresh].slice(-HISTORY),
    });
    this.writeSoon(id);
    this.events.send({ type: 'shot', id, revision });
    if (shot.code !== entry.code || shot.title !== entry.title) this.events.send({ type: 'shots' });
    return { revision };
  }
  /** Writes the document into the shot's row when the hand has rested: until then its revisions hold it, and a start puts it together from them. */
  private writeSoon(id: string): void {
    if (this.late.has(id)) return;
    this.late.set(
      id,
      setTimeout(() => void this.write(id).catch(() => undefined), WRITE_AFTER_MS),
    );
  }
  private async write(id: string): Promise<void> {
    clearTimeout(this.late.get(id));
    this.late.delete(id);
    const kept = this.kept.get(id);
    if (!kept || kept.written === kept.entry.revision) return;
    const { revision } = kept.entry;
    kept.text ??= JSON.stringify(kept.shot);
    await this.database.query('UPDATE shots SET document = ?, document_revision = ? WHERE id = ? AND revision >= ?', [
      kept.text,
      revision,
      id,
      revision,
    ]);
    const now = this.kept.get(id);
    if (now) now.written = revision;
  }
  /** Writes every document that its row has not yet. */
  async flush(): Promise<void> {
    for (const id of [...this.late.keys()]) await this.write(id);
  }

  /** Puts a shot into the bin, or takes it out again. @throws Problem 404. */
  async remove(id: string, gone: boolean): Promise<void> {
    await this.alone(id, async () => {
      const { affected } = await this.manager.update(
        ShotEntity,
        { id, deleted: gone ? IsNull() : Not(IsNull()) },
        { deleted: gone ? new Date() : null },
      );
      this.forget(id);
      if (!affected) throw notFound('This shot');
    });
    this.changed();
  }
  private async stale(entry: ShotEntry, base: number): Promise<Problem> {
    const missed = await this.manager.find(Revision, {
      select: { revision: true, name: true, kind: true, patches: true, inverse: true, id: true },
      where: { shotId: entry.id, revision: MoreThan(base) },
      order: { revision: 'ASC' },
    });
    return new Problem(409, 'stale', 'The shot was changed elsewhere meanwhile.', {
      revision: entry.revision,
      missed: missed.map((m) => ({ revision: m.revision, name: m.name, kind: m.kind, patches: m.patches, inverse: m.inverse })),
    });
  }

  /** Fills in what lists show for shots of an earlier version. */
  async fillFacts(): Promise<void> {
    const bare = await this.manager.find(ShotEntity, { select: { id: true }, where: { facts: IsNull() } });
    for (const { id } of bare) {
      const row = await this.manager.findOneByOrFail(ShotEntity, { id });
      await this.manager.update(ShotEntity, { id }, { facts: factsOf(await documentOf(this.manager, row)) });
    }
  }
}

/** One revision as pages get it. */
const historyText = (r: { revision: number; name: string; kind: string }, patches: string, inverse: string): string =>
  `{"revision":${r.revision},"name":${JSON.stringify(r.name)},"kind":${JSON.stringify(r.kind)},"patches":${patches},"inverse":${inverse}}`;

/** A document with an edit on it. @throws Problem 422 that names the edit. */
function applied(shot: Shot, edit: SavedEdit, i: number): Shot {
  let changed: Shot;
  try {
    changed = applyChange(shot, edit.patches);
  } catch {
    throw new Problem(422, 'invalid-edit', `"${edit.name}" changes something that is not in the shot.`, { edit: i });
  }
  try {
    return readShotAfter(shot, changed);
  } catch (error) {
    throw new Problem(422, 'invalid-edit', `"${edit.name}" does not give a valid shot: ${(error as Error).message}`, { edit: i });
  }
}
