import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Router, type Response } from 'express';
import { getBackup, productionBundle, sendBundle, shotBundle } from '@wraithos/contract';
import { pack, type PackWhat } from '../../archive/pack';
import { Production } from '../../database/entities';
import type { Services } from '../../services';
import { notFound, Problem } from '../problem';
import { SENT, serve } from '../serve';
import { takeSent } from '../uploads';

const fileName = (text: string): string => text.replace(/[^\w-]+/g, '_').slice(0, 80) || 'wraithos';

/** Archives: a backup of everything, a bundle of one production or shot, and the way back in. */
export function bundleRoutes(services: Services): Router {
  const router = Router();
  const send = async (response: Response, name: string, what: PackWhat): Promise<typeof SENT> => {
    const stream = await pack(services, what, (error) => services.log(error));
    response.set({
      'Content-Type': 'application/zip',
      'Content-Disposition': `attachment; filename="${name}.wraithos.zip"`,
      'Cache-Control': 'no-store',
    });
    // Who broke off, or what broke, is known already; an answer that has begun can only end.
    await pipeline(stream, response).catch(() => response.destroy());
    return SENT;
  };
  serve(router, getBackup, async ({ query }, _, response) => {
    const today = new Date().toISOString().slice(0, 10);
    return send(response, `wraithos_${today}`, query);
  });
  serve(router, shotBundle, async ({ params, query }, _, response) => {
    const entry = await services.shots.find(params.id);
    return send(response, fileName(entry.code), { ...query, shots: [entry.id] });
  });
  serve(router, productionBundle, async ({ params, query }, _, response) => {
    const production = await services.database.manager.findOneBy(Production, { id: params.id });
    if (!production) throw notFound('This production');
    return send(response, fileName(production.name), { ...query, production: production.id });
  });

  serve(router, sendBundle, async ({ body }) => {
    if (body.files.length !== 1) throw new Problem(400, 'invalid', 'One archive is brought in at a time; nothing was kept.');
    const folder = join(services.folders.uploads, randomUUID());
    try {
      const [file] = await takeSent(services, body, folder);
      await services.disk.admit(file!.size);
      const { path, name } = file!,
        job = await services.jobs.add('unpack', `Bring in ${name}`, { path, folder, name }, null, 1);
      return services.jobs.summary(job);
    } catch (error) {
      await rm(folder, { recursive: true, force: true });
      throw error;
    }
  });
  return router;
}
