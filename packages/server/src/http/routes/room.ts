import { readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Router } from 'express';
import { IsNull, Not } from 'typeorm';
import {
  emptyBin as emptyBinRoute,
  getRoom,
  hash,
  isOver,
  removeMedium,
  removeRender,
  restoreMedium,
  restoreRender,
} from '@wraithos/contract';
import { Job, Medium, Production, ShotEntity } from '../../database/entities';
import { BIN_DAYS, emptyBin } from '../../folder/sweep';
import { usesOfMedia } from '../../folder/uses';
import type { Services } from '../../services';
import { check, notFound, Problem } from '../problem';
import { serve } from '../serve';

const DAY = 86_400_000;

/** Bytes of a file, or of a folder with all that is in it. */
async function bytesOf(path: string): Promise<number> {
  const info = await stat(path).catch(() => null);
  if (!info) return 0;
  if (!info.isDirectory()) return info.size;
  let sum = 0;
  for (const name of await readdir(path).catch(() => [])) sum += await bytesOf(join(path, name));
  return sum;
}
const goneAt = (deleted: Date | null): string | null => (deleted ? new Date(deleted.getTime() + BIN_DAYS * DAY).toISOString() : null);

/** What uses the disk, and the bin: what is deleted can be brought back for 30 days, or be emptied out now. */
export function roomRoutes(services: Services): Router {
  const router = Router(),
    { folders, frames } = services,
    { manager } = services.database;

  serve(router, getRoom, async () => {
    // What uses a clip is looked up in the rows.
    await services.shots.flush();
    const [state, media, jobs, shots] = await Promise.all([
      services.disk.look(),
      manager.find(Medium, { order: { created: 'DESC' } }),
      manager.find(Job, {
        select: { id: true, title: true, state: true, created: true, deleted: true },
        where: { kind: 'render' },
        order: { created: 'DESC' },
      }),
      manager.find(ShotEntity, {
        select: { id: true, code: true, title: true, productionId: true, deleted: true },
        where: { deleted: Not(IsNull()) },
      }),
    ]);
    const productions = new Map((await manager.find(Production)).map((p) => [p.id, p.name])),
      uses = await usesOfMedia(
        services,
        media.map((m) => m.hash),
        false,
      );
    const [renders, groups] = await Promise.all([
      Promise.all(jobs.map(async (job) => ({ job, bytes: await bytesOf(join(folders.renders, job.id)) }))),
      Promise.all(
        Object.entries({
          media: folders.frames,
          samples: folders.blobs,
          renders: folders.renders,
          thumbnails: folders.thumbnails,
          uploads: folders.uploads,
          database: join(folders.root, 'mariadb'),
        }).map(async ([name, path]) => [name, await bytesOf(path)] as const),
      ),
    ]);
    return {
      disk: { ...state, message: services.disk.trouble() },
      binDays: BIN_DAYS,
      groups: Object.fromEntries(groups),
      media: await Promise.all(
        media.map(async (m) => ({
          hash: m.hash,
          name: m.name,
          width: m.info.width,
          height: m.info.height,
          frames: m.info.frames,
          bytes: await bytesOf(join(folders.frames, m.hash)),
          created: m.created.toISOString(),
          goneAt: goneAt(m.deleted),
          uses: uses.get(m.hash) ?? [],
        })),
      ),
      renders: renders.map(({ job, bytes }) => ({
        id: job.id,
        title: job.title,
        state: job.state,
        bytes,
        created: job.created.toISOString(),
        goneAt: goneAt(job.deleted),
      })),
      shots: shots.map((s) => ({
        id: s.id,
        code: s.code,
        title: s.title,
        production: productions.get(s.productionId) ?? '',
        goneAt: goneAt(s.deleted)!,
      })),
    };
  });

  /** Into the bin. What a document or revision names goes only when the one who asks has been told. */
  serve(router, removeMedium, async ({ params, query }) => {
    const of = check(hash, params.hash),
      medium = await manager.findOneBy(Medium, { hash: of, deleted: IsNull() });
    if (!medium) throw notFound('This clip');
    await services.shots.flush();
    const uses = (await usesOfMedia(services, [of])).get(of) ?? [],
      told = query.told === '1';
    if (uses.length && !told) {
      const codes = [...new Set(uses.map((u) => (u.now ? u.code : `an earlier revision of ${u.code}`)))].join(', ');
      throw new Problem(
        409,
        'used',
        `${medium.name} is used by ${codes}. Without it these show no picture, until the file is brought in again.`,
        { uses },
      );
    }
    await manager.update(Medium, { hash: of }, { deleted: new Date(), told });
  });
  serve(router, restoreMedium, async ({ params }) => {
    const { affected } = await manager.update(Medium, { hash: params.hash, deleted: Not(IsNull()) }, { deleted: null, told: false });
    if (!affected || !(await frames.has(params.hash))) throw notFound('This clip');
  });
  serve(router, removeRender, async ({ params }) => {
    const job = await services.jobs.get(params.id);
    if (job.kind !== 'render') throw notFound('This render');
    if (!isOver(job.state)) throw new Problem(409, 'job-state', 'This render is not over; cancel it first.');
    await manager.update(Job, { id: job.id }, { deleted: new Date() });
  });
  serve(router, restoreRender, async ({ params }) => {
    const { affected } = await manager.update(Job, { id: params.id, deleted: Not(IsNull()) }, { deleted: null });
    if (!affected) throw notFound('This render');
  });
  /** The page says before that this cannot be undone. */
  serve(router, emptyBinRoute, async () => {
    const before = (await services.disk.look()).free;
    await emptyBin(services, Date.now() + (BIN_DAYS + 1) * DAY);
    return { bytes: Math.max(0, (await services.disk.look()).free - before) };
  });
  return router;
}
