import { randomUUID } from 'node:crypto';
import { setImmediate as breath } from 'node:timers/promises';
import { Mutex } from 'async-mutex';
import { In, IsNull, MoreThan, type DataSource, type EntityManager } from 'typeorm';
import type { Patch } from 'immer';
import { applyChange, applyEdit, readShot, type Edit, type Shot } from '@wraithos/core/shot';
import { Production, Revision, ShotEntity, type RevisionKind, type ShotFacts, type ShotRow } from './database/entities';
import { notFound, Problem } from './http/problem';
import type { Events } from './http/events';

const SNAPSHOT_EVERY = 50;
/** Revisions that an opened shot brings along: the undo history over reloads. */
const HISTORY = 200;
/** Characters of documents that are kept in memory for the next edit or the next who opens them. */
const CACHE = 64 * 2 ** 20;

export interface IncomingEdit {
  name: string;
  kind: RevisionKind;
  patches: Patch[];
  inverse: Patch[];
}
/** A shot without its document. */
export type ShotEntry = Omit<ShotRow, 'document'>;

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
export function shotSummary(entry: ShotEntry) {
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

interface Kept {
  revision: number;
  shot: Shot;
  text: string;
  /** The answer to whoever opens it, once somebody did. */
  opened?: string;
}

/**
 * Shots and their revisions. Edits of one shot go one after another; its newest document stays in memory, so that neither the next edit nor
 * the next page that opens it reads it again. This process alone writes to the database (see folder/lock.ts), so what is kept is the newest.
 */
export class ShotStore {
  private readonly locks = new Map<string, Mutex>();
  private readonly kept = new Map<string, Kept>();
  private size = 0;
  constructor(
    private readonly database: DataSource,
    private readonly events: Events,
  ) {}
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
  private keep(id: string, entry: Kept): Kept {
    this.forget(id);
    this.kept.set(id, entry);
    this.size += entry.text.length + (entry.opened?.length ?? 0);
    for (const old of this.kept.keys()) {
      if (this.size <= CACHE || old === id) break;
      this.forget(old);
    }
    return entry;
  }
  private forget(id: string): void {
    const entry = this.kept.get(id);
    if (!entry) return;
    this.kept.delete(id);
    this.size -= entry.text.length + (entry.opened?.length ?? 0);
  }

  /** A shot without its document. @throws Problem 404. */
  async find(id: string, manager = this.manager): Promise<ShotEntry> {
    const entry = await manager.findOne(ShotEntity, { select: entryColumns, where: { id, deleted: IsNull() } });
    if (!entry) throw notFound('This shot');
    return entry;
  }
  /** Shots that are not deleted, oldest first. */
  list(production?: string): Promise<ShotEntry[]> {
    return this.manager.find(ShotEntity, {
      select: entryColumns,
      where: { deleted: IsNull(), ...(production ? { productionId: production } : {}) },
      order: { created: 'ASC' },
    });
  }
  /** The newest document. */
  private async newest(entry: ShotEntry, manager = this.manager): Promise<Kept> {
    const kept = this.kept.get(entry.id);
    if (kept?.revision === entry.revision) return kept;
    const row = await manager.findOne(ShotEntity, { select: { id: true, document: true, revision: true }, where: { id: entry.id } });
    if (!row) throw notFound('This shot');
    const shot = readShot(row.document);
    return this.keep(entry.id, { revision: row.revision, shot, text: JSON.stringify(shot) });
  }
  async document(id: string): Promise<{ entry: ShotEntry; shot: Shot }> {
    const entry = await this.find(id);
    return { entry, shot: (await this.newest(entry)).shot };
  }

  /** Everything that a page needs to open a shot, as JSON text. */
  async open(id: string): Promise<string> {
    const entry = await this.find(id),
      kept = await this.newest(entry);
    if (kept.opened && kept.revision === entry.revision) return kept.opened;
    const production = await this.manager.findOneBy(Production, { id: entry.productionId }),
      head = JSON.stringify({ ...shotSummary({ ...entry, revision: kept.revision }), productionName: production?.name ?? '' }),
      opened = `${head.slice(0, -1)},"document":${kept.text},"history":${await this.historyText(id, kept.revision)}}`;
    this.keep(id, { ...kept, opened });
    return opened;
  }
  /** The newest revisions up to one, oldest first, as JSON text: patches are stored as text and need not be read to be passed on. */
  private async historyText(id: string, upTo: number, after = 0, most = HISTORY): Promise<string> {
    const rows = (await this.database.query(
      'SELECT revision, name, kind, patches, inverse FROM revisions WHERE shot_id = ? AND revision <= ? AND revision > ? ORDER BY revision DESC LIMIT ?',
      [id, upTo, after, most],
    )) as { revision: number; name: string; kind: string; patches: string; inverse: string }[];
    return `[${rows
      .reverse()
      .filter((r) => r.patches !== '[]')
      .map(
        (r) =>
          `{"revision":${r.revision},"name":${JSON.stringify(r.name)},"kind":${JSON.stringify(r.kind)},"patches":${r.patches},"inverse":${r.inverse}}`,
      )
      .join(',')}]`;
  }
  /** All revisions after one, as JSON text: for a page that was away for long. */
  async since(id: string, revision: number): Promise<string> {
    const entry = await this.find(id);
    return `{"revision":${entry.revision},"missed":${await this.historyText(id, entry.revision, revision, 100_000)}}`;
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
  save(id: string, base: number, edits: readonly IncomingEdit[]): Promise<{ revision: number }> {
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

  private async saveAlone(id: string, base: number, edits: readonly IncomingEdit[]): Promise<{ revision: number }> {
    const saved = await this.database.transaction(async (manager) => {
      const entry = await manager.findOne(ShotEntity, {
        select: entryColumns,
        where: { id, deleted: IsNull() },
        lock: { mode: 'pessimistic_write' },
      });
      if (!entry) throw notFound('This shot');
      if (entry.revision !== base) throw await this.stale(manager, entry, base);
      let { shot } = await this.newest(entry, manager),
        { revision } = entry;
      const now = new Date(),
        rows = [];
      for (const [i, edit] of edits.entries()) {
        shot = applied(shot, edit, i);
        revision++;
        rows.push({
          shotId: id,
          revision,
          name: edit.name,
          kind: edit.kind,
          patches: edit.patches,
          inverse: edit.inverse,
          snapshot: revision % SNAPSHOT_EVERY === 0 ? shot : null,
          created: now,
        });
        // A long row of edits leaves room for others.
        if (i % 8 === 7) await breath();
      }
      const text = JSON.stringify(shot);
      await manager.insert(Revision, rows as never);
      await manager.query('UPDATE shots SET document = ?, facts = ?, revision = ?, code = ?, title = ?, updated = ? WHERE id = ?', [
        text,
        JSON.stringify(factsOf(shot)),
        revision,
        shot.code,
        shot.title,
        now,
        id,
      ]);
      return { revision, shot, text, renamed: shot.code !== entry.code || shot.title !== entry.title };
    });
    this.keep(id, { revision: saved.revision, shot: saved.shot, text: saved.text });
    this.events.send({ type: 'shot', id, revision: saved.revision });
    if (saved.renamed) this.events.send({ type: 'shots' });
    return { revision: saved.revision };
  }
  private async stale(manager: EntityManager, entry: ShotEntry, base: number): Promise<Problem> {
    const missed = await manager.find(Revision, {
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
      await this.manager.update(ShotEntity, { id }, { facts: factsOf(row.document) });
    }
  }
  /** Shots by their ids, deleted ones too. */
  byId(ids: string[]): Promise<ShotEntry[]> {
    return ids.length ? this.manager.find(ShotEntity, { select: entryColumns, where: { id: In(ids) } }) : Promise.resolve([]);
  }
}

/** A document with an edit on it. @throws Problem 422 that names the edit. */
function applied(shot: Shot, edit: IncomingEdit, i: number): Shot {
  let changed: Shot;
  try {
    changed = applyChange(shot, edit.patches);
  } catch {
    throw new Problem(422, 'invalid-edit', `"${edit.name}" changes something that is not in the shot.`, { edit: i });
  }
  try {
    return readShot(changed);
  } catch (error) {
    throw new Problem(422, 'invalid-edit', `"${edit.name}" does not give a valid shot: ${(error as Error).message}`, { edit: i });
  }
}
