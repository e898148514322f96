import { StockEntity } from '../database/entities';
import type { Services } from '../services';

type Base = Pick<Services, 'database'>;

/** Where something is named. */
export interface Use {
  shot: string;
  code: string;
  /** Named by the newest document, or only by an older revision (undo can bring it back). */
  now: boolean;
  /** The shot itself is in the bin. */
  deleted: boolean;
}

const IN_REVISIONS = `OR EXISTS (SELECT 1 FROM revisions r WHERE r.shot_id = s.id
  AND (LOCATE(?, r.patches) > 0 OR LOCATE(?, r.inverse) > 0 OR LOCATE(?, COALESCE(r.snapshot, '')) > 0))`;

/**
 * Which of these hashes any document or revision names, and where. Undo and old revisions count: what they name must be there when somebody
 * goes back.
 * @param revisions false looks at the newest documents only, which is quick.
 */
async function usesOf({ database }: Base, hashes: readonly string[], revisions = true): Promise<Map<string, Use[]>> {
  const found = new Map<string, Use[]>();
  for (const hash of hashes) {
    const rows = (await database.query(
      `SELECT s.code AS code, s.id AS id, s.deleted AS deleted, LOCATE(?, s.document) > 0 AS current FROM shots s
       WHERE LOCATE(?, s.document) > 0 ${revisions ? IN_REVISIONS : ''} ORDER BY s.code`,
      revisions ? [hash, hash, hash, hash, hash] : [hash, hash],
    )) as { code: string; id: string; deleted: Date | null; current: number | string }[];
    if (rows.length)
      found.set(
        hash,
        rows.map((r) => ({ shot: r.id, code: r.code, now: Number(r.current) > 0, deleted: r.deleted !== null })),
      );
  }
  return found;
}
export const usesOfMedia = usesOf;
/** Hashes of clips that were kept as elements of one's own. */
export const keptInStock = async ({ database }: Base): Promise<Set<string>> =>
  new Set((await database.manager.find(StockEntity, { select: { hash: true } })).map((row) => row.hash));
/** Samples are named by their hash as media are. */
export const usesOfSamples = usesOf;
