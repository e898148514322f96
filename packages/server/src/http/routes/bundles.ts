import { randomUUID } from 'node:crypto';
import { mkdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Router, type Response } from 'express';
import { z } from 'zod';
import { pack, type PackWhat } from '../../archive/pack';
import { Production } from '../../database/entities';
import type { Services } from '../../services';
import { check, notFound, Problem } from '../problem';
import { receiver } from '../upload';

const choice = z.enum(['0', '1']).transform((v) => v === '1');
const options = z.object({ media: choice.default(true), renders: choice.default(false) });
const fileName = (text: string): string => text.replace(/[^\w-]+/g, '_').slice(0, 80) || 'wraithos';

/** Archives: a backup of everything, a bundle of one production or shot, and the way back in. */
export function bundleRoutes(services: Services): Router {
  const router = Router();
  const send = async (response: Response, name: string, what: PackWhat) => {
    const stream = await pack(services, what, (error) => services.log(error));
    response.set({
      'Content-Type': 'application/zip',
      'Content-Disposition': `attachment; filename="${name}.wraithos.zip"`,
      'Cache-Control': 'no-store',
    });
    // Who broke off, or what broke, is known already; an answer that has begun can only end.
    await pipeline(stream, response).catch(() => response.destroy());
  };
  router.get('/backup', async (request, response) => {
    const today = new Date().toISOString().slice(0, 10);
    await send(response, `wraithos_${today}`, check(options, request.query));
  });
  router.get('/shots/:id/bundle', async (request, response) => {
    const entry = await services.shots.find(request.params.id);
    await send(response, fileName(entry.code), { ...check(options, request.query), shots: [entry.id] });
  });
  router.get('/productions/:id/bundle', async (request, response) => {
    const production = await services.database.manager.findOneBy(Production, { id: request.params.id });
    if (!production) throw notFound('This production');
    await send(response, fileName(production.name), { ...check(options, request.query), production: production.id });
  });

  const receive = receiver({ files: 1 });
  router.post('/bundles', async (request, response) => {
    await services.disk.admit(2 * (Number(request.headers['content-length']) || 0));
    const folder = join(services.folders.uploads, randomUUID());
    await mkdir(folder, { recursive: true });
    try {
      const [file] = await receive(request, response, folder);
      if (!file || file.size === 0) throw new Problem(400, 'invalid', 'No archive came with the request; nothing was kept.');
      const path = join(folder, 'archive.zip');
      await rename(file.path, path);
      const job = await services.jobs.add('unpack', `Bring in ${file.originalname}`, { path, folder, name: file.originalname }, null, 1);
      response.status(202).json(services.jobs.summary(job));
    } catch (error) {
      await rm(folder, { recursive: true, force: true });
      throw error;
    }
  });
  return router;
}
