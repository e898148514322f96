import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { applyChange, readShot, type Shot } from '@wraithos/core/shot';
import type { Application } from '../application';
import type { Acknowledged } from './hands';

interface Opened {
  revision: number;
  document: Shot;
}
interface Logged {
  revision: number;
  patches: { op: 'add' | 'remove' | 'replace'; path: string[]; value?: unknown }[];
}
const list = (folder: string) => readdir(folder).catch(() => [] as string[]);

/** What was acknowledged and is not there, or is there by half. Nothing may be in it. */
export async function verifyShots(
  app: Application,
  shots: readonly string[],
  first: ReadonlyMap<string, Shot>,
  edits: readonly Acknowledged[],
): Promise<string[]> {
  const wrong: string[] = [];
  for (const id of shots) {
    const { revision, document } = await app.get<Opened>(`/shots/${id}`),
      { missed } = await app.get<{ missed: Logged[] }>(`/shots/${id}/since/1`);
    try {
      readShot(document);
    } catch (error) {
      wrong.push(`${id}: ${(error as Error).message}`);
    }
    if (missed.some((entry, i) => entry.revision !== i + 2) || (missed.at(-1)?.revision ?? 1) !== revision)
      wrong.push(`${id}: its revisions are not in one row up to ${revision}`);
    const replayed = missed.reduce((shot, entry) => applyChange(shot, entry.patches), first.get(id)!);
    if (JSON.stringify(replayed) !== JSON.stringify(document)) wrong.push(`${id}: the document is not what its revisions make`);
    for (const edit of edits) {
      if (edit.shot !== id) continue;
      const entry = missed[edit.revision - 2];
      if (!entry || entry.patches[0]?.path[1] !== edit.cue) wrong.push(`${id}: acknowledged revision ${edit.revision} is lost`);
    }
  }
  return wrong;
}

/** Files and rows that do not agree, once nothing is under way. */
export async function verifyFolder(app: Application): Promise<string[]> {
  const wrong: string[] = [],
    room = await app.get<{
      media: { hash: string; bytes: number; width: number; height: number; frames: number }[];
      renders: { id: string; state: string }[];
    }>('/room'),
    frames = await list(join(app.data, 'frames')),
    known = new Set(room.media.map((m) => m.hash));
  for (const name of frames) if (!known.has(name)) wrong.push(`frames/${name} has no row`);
  for (const m of room.media) {
    if (!frames.includes(m.hash)) wrong.push(`the medium ${m.hash} has no frames`);
    else if (m.bytes < m.width * m.height * 3 * m.frames) wrong.push(`the medium ${m.hash} is not whole`);
  }
  // Files that were cut on their way wait for the rest for a day.
  for (const name of await list(join(app.data, 'uploads'))) if (name !== 'coming') wrong.push(`uploads/${name} was left`);
  for (const name of await list(join(app.data, 'samples'))) if (name.startsWith('part-')) wrong.push(`samples/${name} was left`);
  const renders = new Set(room.renders.map((r) => r.id));
  for (const name of await list(join(app.data, 'renders'))) {
    if (!renders.has(name)) wrong.push(`renders/${name} has no row`);
    for (const file of await list(join(app.data, 'renders', name)))
      if (file.startsWith('.part')) wrong.push(`renders/${name}/${file} was left`);
  }
  for (const name of await list(join(app.data, 'mariadb'))) if (name.includes('part')) wrong.push(`mariadb/${name} was left`);
  return wrong;
}
