import { IsNull, LessThanOrEqual, MoreThan, Not, type DataSource, type EntityManager } from 'typeorm';
import { applyChange, DOCUMENT_VERSION, readShot, type Shot } from '@wraithos/core/shot';
import { Revision, ShotEntity, type ShotRow } from './database/entities';

/**
 * A shot's document as it was at a revision: the newest snapshot up to there, with the patches since. Null where there is no such revision.
 */
export async function documentAt(manager: EntityManager, shotId: string, revision: number): Promise<Shot | null> {
  const from = await manager.findOne(Revision, {
    where: { shotId, revision: LessThanOrEqual(revision), snapshot: Not(IsNull()) },
    order: { revision: 'DESC' },
  });
  if (!from?.snapshot) return null;
  const rest = await manager.find(Revision, {
    where: { shotId, revision: MoreThan(from.revision) },
    order: { revision: 'ASC' },
    take: revision - from.revision,
  });
  if (rest.length !== revision - from.revision) return null;
  return readShot(rest.reduce((shot, { patches }) => applyChange(shot, patches), from.snapshot));
}

/** The newest document of a shot: as its row has it, or from the revisions where those are ahead. */
export async function documentOf(
  manager: EntityManager,
  row: Pick<ShotRow, 'id' | 'revision' | 'document' | 'documentRevision'>,
): Promise<Shot> {
  if (row.documentRevision === 0 || row.documentRevision === row.revision) return readShot(row.document);
  const found = await documentAt(manager, row.id, row.revision);
  if (!found) throw new Error(`The revisions of shot ${row.id} do not lead to revision ${row.revision}.`);
  return found;
}

/**
 * Stores a document of an earlier version in the form of this one, as a revision with a snapshot. Patches of earlier revisions speak of the earlier form:
 * undo does not go back past this one.
 */
export async function bringUpToDate(manager: EntityManager, id: string): Promise<void> {
  const row = await manager.findOneByOrFail(ShotEntity, { id }),
    document = await documentOf(manager, row),
    revision = row.revision + 1;
  await manager.insert(Revision, {
    shotId: id,
    revision,
    name: `Brought to document version ${DOCUMENT_VERSION}`,
    kind: 'migrate',
    patches: [],
    inverse: [],
    snapshot: document as never,
    created: new Date(),
  });
  await manager.update(ShotEntity, { id }, { revision, document: document as never, documentRevision: revision });
}

/** Brings every document of an earlier version up to date, each in a transaction of its own: one that was cut off goes on where it stopped. */
export async function bringAllUpToDate(database: DataSource, say: (line: string) => void): Promise<void> {
  const older = (await database.query("SELECT id, code FROM shots WHERE COALESCE(JSON_VALUE(document, '$.version'), 0) < ?", [
    DOCUMENT_VERSION,
  ])) as { id: string; code: string }[];
  for (const { id, code } of older) {
    say(`bringing ${code} to document version ${DOCUMENT_VERSION}`);
    await database.transaction((manager) => bringUpToDate(manager, id));
  }
}
