import { existsSync } from 'node:fs';
import { cp, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { migrations } from './migrations';

/** The newest migration: the form in which this version keeps its data. */
export const newestForm = migrations[migrations.length - 1]!.name;
const markOf = (folder: string) => join(folder, 'data', 'form');

/**
 * Copies the database of an earlier version before it is changed, to `before-FORM` beside it, while no database runs. Only the database is
 * changed by a migration; media, track samples and renders stay as they are and are not copied. A copy that is cut off is made again.
 * @returns the copy's folder, or null where none was needed.
 */
export async function copyBeforeMigration(folder: string): Promise<string | null> {
  for (const name of await readdir(folder))
    if (name.startsWith('before.part')) await rm(join(folder, name), { recursive: true, force: true });
  // Nothing of ours is in it yet.
  if (!existsSync(join(folder, 'data', 'wraithos'))) return null;
  const form = await readFile(markOf(folder), 'utf8').catch(() => '');
  if (form === newestForm) return null;
  const copy = join(folder, `before-${newestForm}`);
  if (existsSync(copy)) return copy;
  const part = join(folder, 'before.part');
  await cp(join(folder, 'data'), part, { recursive: true, preserveTimestamps: true });
  await rename(part, copy);
  return copy;
}

/** Marks the database as one of this version, after its migrations. */
export async function markForm(folder: string): Promise<void> {
  await writeFile(markOf(folder), newestForm);
}
