import type { SavedEdit } from '@wraithos/contract';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

/** Edits that one page could not send, with the revision that they build on. */
export interface KeptEdits {
  page: string;
  base: number;
  edits: SavedEdit[];
}
/** Changes that the server refused, with the reason; kept until somebody decides about them. */
export interface SetAside {
  id?: number;
  shot: string;
  code: string;
  base: number;
  reason: string;
  when: string;
  edits: SavedEdit[];
}

interface Kept extends DBSchema {
  /** One entry an edit, by shot, page and number, so that keeping another one writes no others again. */
  edits: { key: [string, string, number]; value: SavedEdit };
  bases: { key: [string, string]; value: number };
  aside: { key: number; value: SetAside; indexes: { shot: string } };
}
let opened: Promise<IDBPDatabase<Kept>> | null = null;
const database = (): Promise<IDBPDatabase<Kept>> =>
  (opened ??= openDB<Kept>('wraithos', 2, {
    async upgrade(db, from, _to, transaction) {
      db.createObjectStore('edits');
      db.createObjectStore('bases');
      db.createObjectStore('aside', { keyPath: 'id', autoIncrement: true }).createIndex('shot', 'shot');
      if (from !== 1) return;
      // The first version kept all edits of a shot in one entry.
      const old = (transaction as unknown as IDBTransaction).objectStore('pending');
      const all = <T>(request: IDBRequest<T>) => new Promise<T>((resolve) => (request.onsuccess = () => resolve(request.result)));
      const shots = (await all(old.getAllKeys())) as string[],
        values = (await all(old.getAll())) as { base: number; edits: SavedEdit[] }[];
      for (const [i, shot] of shots.entries()) {
        await transaction.objectStore('bases').put(values[i]!.base, [shot, 'before']);
        for (const [n, edit] of values[i]!.edits.entries()) await transaction.objectStore('edits').put(edit, [shot, 'before', n]);
      }
      (db as unknown as IDBDatabase).deleteObjectStore('pending');
    },
    terminated: () => (opened = null),
  }).catch((error: unknown) => {
    opened = null;
    throw error;
  }));

const ownPage = Math.random().toString(36).slice(2);
let letGo: (() => void) | null = null;
/** This page is alive for as long as it holds a lock of its name; others then leave its edits to it. */
function beAlive(): void {
  if (letGo || !globalThis.navigator?.locks) return;
  const over = new Promise<void>((resolve) => (letGo = resolve));
  void navigator.locks.request(`wraithos page ${ownPage}`, () => over);
}
// A browser may keep a page that was left, with its locks, for the way back: its edits are then for whoever opens the shot next, and the page
// itself begins anew.
if (typeof addEventListener === 'function') {
  addEventListener('pagehide', () => letGo?.());
  addEventListener('pageshow', (event) => {
    if ((event as PageTransitionEvent).persisted && letGo) location.reload();
  });
}
async function alivePages(): Promise<Set<string>> {
  const locks = await globalThis.navigator?.locks?.query();
  return new Set((locks?.held ?? []).map((lock) => lock.name?.replace('wraithos page ', '') ?? ''));
}
const rangeOf = (shot: string, page: string, to = Infinity) => IDBKeyRange.bound([shot, page, -1], [shot, page, to]);

/** What changes of the edits that this page keeps of a shot. */
export interface KeptChange {
  /** The revision that those which stay build on. */
  base: number;
  add: readonly { n: number; edit: SavedEdit }[];
  /** Edits up to this number are safe elsewhere. */
  upTo: number;
  /** Single ones that are no longer to be kept. */
  drop: readonly number[];
}
/** Keeps further edits of this page and forgets others, in one go. */
export async function changeKept(shot: string, { base, add, upTo, drop }: KeptChange): Promise<void> {
  beAlive();
  const db = await database(),
    tx = db.transaction(['edits', 'bases'], 'readwrite'),
    edits = tx.objectStore('edits');
  void tx.objectStore('bases').put(base, [shot, ownPage]);
  for (const { n, edit } of add) void edits.put(edit, [shot, ownPage, n]);
  if (upTo >= 0) void edits.delete(rangeOf(shot, ownPage, upTo));
  for (const n of drop) void edits.delete([shot, ownPage, n]);
  await tx.done;
}
/** What pages that are no longer open kept of a shot. */
export async function keptEdits(shot: string): Promise<KeptEdits[]> {
  const db = await database(),
    alive = await alivePages(),
    out: KeptEdits[] = [];
  for (const [, page] of await db.getAllKeys('bases', IDBKeyRange.bound([shot, ''], [shot, '\uffff']))) {
    if (page === ownPage || alive.has(page)) continue;
    const edits = await db.getAll('edits', rangeOf(shot, page));
    if (edits.length) out.push({ page, base: (await db.get('bases', [shot, page]))!, edits });
    else await db.delete('bases', [shot, page]);
  }
  return out;
}
export async function forgetPage(shot: string, page: string): Promise<void> {
  const db = await database(),
    tx = db.transaction(['edits', 'bases'], 'readwrite');
  void tx.objectStore('edits').delete(rangeOf(shot, page));
  void tx.objectStore('bases').delete([shot, page]);
  await tx.done;
}

export async function putAside(entry: SetAside): Promise<void> {
  await (await database()).put('aside', entry);
}
export async function listAside(): Promise<SetAside[]> {
  return (await database()).getAll('aside');
}
export async function dropAside(id: number): Promise<void> {
  await (await database()).delete('aside', id);
}
