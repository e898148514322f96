import { randomUUID } from 'node:crypto';
import { IsNull, MoreThan, type EntityManager } from 'typeorm';
import type { Patch } from 'immer';
import { applyChange, readShot, type Shot } from '@wraithos/core/shot';
import { Revision, ShotEntity, type RevisionKind, type ShotRow } from './database/entities';
import { notFound, Problem } from './http/problem';
import type { Services } from './services';

const SNAPSHOT_EVERY = 50;
export interface IncomingEdit {
  name: string;
  kind: RevisionKind;
  patches: Patch[];
  inverse: Patch[];
}

export function shotSummary(row: ShotRow) {
  const d = row.document;
  return {
    id: row.id,
    production: row.productionId,
    code: row.code,
    title: row.title,
    revision: row.revision,
    width: d.width,
    height: d.height,
    rate: d.rate,
    first: d.first,
    last: d.last,
    rows: Object.keys(d.rows).length,
    updated: row.updated.toISOString(),
  };
}

export async function findShot(manager: EntityManager, id: string): Promise<ShotRow> {
  const row = await manager.findOneBy(ShotEntity, { id, deleted: IsNull() });
  if (!row) throw notFound('This shot');
  return row;
}

/** Stores a new shot with its first revision. */
export async function createShot(services: Services, production: string, document: Shot): Promise<ShotRow> {
  const now = new Date(),
    row: ShotRow = {
      id: randomUUID(),
      productionId: production,
      code: document.code,
      title: document.title,
      revision: 1,
      document,
      deleted: null,
      created: now,
      updated: now,
    };
  await services.database.transaction(async (manager) => {
    await manager.insert(ShotEntity, row);
    await manager.insert(Revision, {
      shotId: row.id,
      revision: 1,
      name: 'Created',
      kind: 'do',
      patches: [],
      inverse: [],
      snapshot: document,
      created: now,
    });
  });
  services.events.send({ type: 'shots' });
  return row;
}

/**
 * Adds edits to a shot. They must build on the newest revision.
 * @throws Problem 409 with what was changed meanwhile where they build on an older one; nothing is stored then.
 */
export async function saveEdits(services: Services, id: string, base: number, edits: IncomingEdit[]): Promise<{ revision: number }> {
  const saved = await services.database.transaction(async (manager) => {
    const row = await manager.findOne(ShotEntity, { where: { id, deleted: IsNull() }, lock: { mode: 'pessimistic_write' } });
    if (!row) throw notFound('This shot');
    if (row.revision !== base) {
      const missed = await manager.find(Revision, { where: { shotId: id, revision: MoreThan(base) }, order: { revision: 'ASC' } });
      throw new Problem(409, 'stale', 'The shot was changed elsewhere meanwhile.', {
        revision: row.revision,
        missed: missed.map((m) => ({ revision: m.revision, name: m.name, kind: m.kind, patches: m.patches, inverse: m.inverse })),
      });
    }
    let document = row.document,
      revision = row.revision;
    const now = new Date();
    for (const edit of edits) {
      try {
        document = readShot(applyChange(document, edit.patches));
      } catch (error) {
        throw new Problem(422, 'invalid-edit', `"${edit.name}" does not give a valid shot: ${(error as Error).message}`);
      }
      revision++;
      await manager.insert(Revision, {
        shotId: id,
        revision,
        name: edit.name,
        kind: edit.kind,
        patches: edit.patches,
        inverse: edit.inverse,
        snapshot: revision % SNAPSHOT_EVERY === 0 ? document : null,
        created: now,
      });
    }
    await manager.update(ShotEntity, { id }, { document, revision, code: document.code, title: document.title, updated: now });
    return revision;
  });
  services.events.send({ type: 'shot', id, revision: saved });
  return { revision: saved };
}

/** The newest revisions of a shot, oldest first: the undo history over reloads. */
export async function historyOf(services: Services, id: string, most = 200) {
  const rows = await services.database.manager.find(Revision, { where: { shotId: id }, order: { revision: 'DESC' }, take: most });
  return rows
    .reverse()
    .filter((r) => r.patches.length)
    .map((r) => ({ revision: r.revision, name: r.name, kind: r.kind, patches: r.patches, inverse: r.inverse }));
}
