import { IsNull, LessThanOrEqual, MoreThan, Not, type EntityManager } from 'typeorm';
import { applyChange, readShot, type Shot } from '@wraithos/core/shot';
import { Revision, type ShotRow } from './database/entities';

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
