import { openDB, type DBSchema } from 'idb';
import type { Patch } from 'immer';

/** One change as it is sent, kept and logged. */
export interface SavedEdit {
  name: string;
  kind: 'do' | 'undo' | 'redo';
  patches: Patch[];
  inverse: Patch[];
}

interface Kept extends DBSchema {
  pending: { key: string; value: { base: number; edits: SavedEdit[] } };
}
const database = () =>
  openDB<Kept>('wraithos', 1, {
    upgrade(db) {
      db.createObjectStore('pending');
    },
  });

/** Edits that the server has not taken yet, kept in the browser so that closing the page loses nothing. */
export async function keepEdits(shot: string, base: number, edits: SavedEdit[]): Promise<void> {
  const db = await database();
  if (edits.length) await db.put('pending', { base, edits }, shot);
  else await db.delete('pending', shot);
  db.close();
}
export async function keptEdits(shot: string): Promise<{ base: number; edits: SavedEdit[] } | undefined> {
  const db = await database(),
    kept = await db.get('pending', shot);
  db.close();
  return kept;
}
