import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { In, IsNull, LessThan, Not } from 'typeorm';
import { Job, Medium, Revision, ShotEntity } from '../database/entities';
import { comingFolder } from '../http/uploads';
import type { Services } from '../services';
import { keptInStock, usesOfMedia, usesOfSamples } from './uses';

const DAY = 86_400_000;
/** How long what was deleted can be brought back. */
export const BIN_DAYS = 30;
/** Bytes of small pictures of shots that are kept; the ones looked at least recently go first. */
const THUMBNAILS = 256 * 2 ** 20;
/** The folder of moving thumbnails of the stockroom, beside those of shots. */
const STRIPS = 'stockroom';

type Base = Omit<Services, 'jobs'>;
const names = (folder: string) => readdir(folder).catch(() => [] as string[]);

/**
 * Makes rows and files agree, and gives room back: after a crash and once a day. Only what nobody can ask for any more goes: what was cut off,
 * what has been in the bin for 30 days, and files that no row names.
 * @param starting nothing is under way yet, so unfinished files are leftovers.
 */
export async function sweep(services: Base, starting: boolean, now = Date.now()): Promise<void> {
  const { manager } = services.database,
    { folders, frames, blobs } = services;
  if (starting) {
    await frames.tidy();
    await blobs.tidy();
    const open = await manager.find(Job, { where: { state: In(['waiting', 'running']) } }),
      waiting = new Set(open.map((job) => String(job.input.folder ?? '')));
    for (const name of await names(folders.uploads)) {
      const path = join(folders.uploads, name);
      if (!waiting.has(path) && path !== comingFolder(folders.uploads)) await rm(path, { recursive: true, force: true });
    }
    const stored = new Set(await frames.list());
    for (const medium of await manager.find(Medium, { select: { hash: true } }))
      if (!stored.has(medium.hash)) await manager.delete(Medium, { hash: medium.hash });
  }
  await dropOld(comingFolder(folders.uploads), now);
  await emptyBin(services, now);
  // Frames and samples come before the row or document that names them; what is a day old and unnamed is a leftover.
  const known = new Set((await manager.find(Medium, { select: { hash: true } })).map((m) => m.hash));
  for (const hash of await frames.list())
    if (!known.has(hash) && (await ageOf(join(folders.frames, hash), now)) > DAY && (await usesOfMedia(services, [hash])).size === 0)
      await frames.remove(hash);
  const old: string[] = [];
  for (const hash of await blobs.list()) if ((await ageOf(blobs.file(hash), now)) > BIN_DAYS * DAY) old.push(hash);
  const used = await usesOfSamples(services, old);
  for (const hash of old) if (!used.has(hash)) await blobs.remove(hash);
  await dropUnnamed(folders.renders, new Set((await manager.find(Job, { select: { id: true } })).map((j) => j.id)));
  await dropUnnamed(folders.thumbnails, new Set([STRIPS, ...(await manager.find(ShotEntity, { select: { id: true } })).map((s) => s.id)]));
  await limitThumbnails(folders.thumbnails, starting);
}

async function ageOf(path: string, now: number): Promise<number> {
  return now - ((await stat(path).catch(() => null))?.mtimeMs ?? now);
}
/** Files that nobody has sent the rest of for a day. */
async function dropOld(folder: string, now: number): Promise<void> {
  for (const name of await names(folder)) if ((await ageOf(join(folder, name), now)) > DAY) await rm(join(folder, name), { force: true });
}
/** Folders that carry no id of a row. */
async function dropUnnamed(folder: string, ids: ReadonlySet<string>): Promise<void> {
  for (const name of await names(folder)) if (!ids.has(name)) await rm(join(folder, name), { recursive: true, force: true });
}

/** What has been in the bin for 30 days goes for good, and so do copies of the database from before a change of version. Media that a document or revision names go only
 * where the one who deleted them was told. */
export async function emptyBin(services: Base, now = Date.now()): Promise<void> {
  const { manager } = services.database,
    before = LessThan(new Date(now - BIN_DAYS * DAY)),
    gone = { deleted: before };
  for (const { id } of await manager.find(ShotEntity, { select: { id: true }, where: gone })) {
    await services.database.transaction(async (into) => {
      await into.update(Job, { shotId: id }, { shotId: null });
      await into.delete(Revision, { shotId: id });
      await into.delete(ShotEntity, { id });
    });
    await rm(join(services.folders.thumbnails, id), { recursive: true, force: true });
  }
  for (const { id } of await manager.find(Job, { select: { id: true }, where: gone })) {
    await rm(join(services.folders.renders, id), { recursive: true, force: true });
    await manager.delete(Job, { id });
  }
  // What was brought in long ago is in the store; how is of no use any more.
  await manager.delete(Job, { kind: In(['import', 'plate', 'unpack']), state: In(['done', 'failed', 'cancelled']), updated: before });
  const copies = join(services.folders.root, 'mariadb');
  for (const name of await names(copies))
    if (name.startsWith('before-') && now - ((await stat(join(copies, name)).catch(() => null))?.ctimeMs ?? now) > BIN_DAYS * DAY)
      await rm(join(copies, name), { recursive: true, force: true });
  const media = await manager.find(Medium, { select: { hash: true, told: true }, where: { deleted: before } });
  const stocked = await keptInStock(services),
    used = await usesOfMedia(
      services,
      media.map((m) => m.hash),
    );
  for (const { hash, told } of media) {
    // It was put to use after it was deleted, or a shot came back that uses it: nobody was told, so it stays.
    if ((used.has(hash) && !told) || stocked.has(hash)) await manager.update(Medium, { hash, deleted: Not(IsNull()) }, { deleted: null });
    else {
      await manager.delete(Medium, { hash });
      await services.frames.remove(hash);
    }
  }
}

async function limitThumbnails(folder: string, starting: boolean): Promise<void> {
  const files: { path: string; size: number; used: number }[] = [];
  for (const shot of await names(folder))
    for (const name of await names(join(folder, shot))) {
      const path = join(folder, shot, name),
        info = await stat(path).catch(() => null);
      if (info?.isDirectory()) {
        if (starting) await rm(path, { recursive: true, force: true });
      } else if (info) files.push({ path, size: info.size, used: info.atimeMs });
    }
  let size = files.reduce((sum, file) => sum + file.size, 0);
  for (const file of files.sort((a, b) => a.used - b.used)) {
    if (size <= THUMBNAILS) return;
    await rm(file.path, { force: true });
    size -= file.size;
  }
}
