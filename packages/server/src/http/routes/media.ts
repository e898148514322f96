import { randomUUID } from 'node:crypto';
import { mkdir, rename, rm } from 'node:fs/promises';
import { extname, join } from 'node:path';
import { Router } from 'express';
import { z } from 'zod';
import { frameHeader, hash, keepSamples, mediumFrame, sendMedium, trackSamples } from '@wraithos/contract';
import { Explained, MediaError, numberedName, orderSequence } from '@wraithos/runtime';
import type { Services } from '../../services';
import { check, Problem } from '../problem';
import { SENT, serve } from '../serve';
import { takeSent, type Sent } from '../uploads';

/** Gives files that were sent the names and the order that a medium has. @returns its place, and what people call it. @throws Problem. */
async function laidOut(files: readonly Sent[], folder: string): Promise<{ path: string; name: string }> {
  if (files.length === 1) return files[0]!;
  const byName = new Map(files.map((f) => [f.name, f]));
  if (byName.size !== files.length) throw new Problem(422, 'medium', 'Two of these files have the same name. Nothing was kept.');
  let order: { name: string; frame: number }[];
  try {
    order = orderSequence([...byName.keys()]);
  } catch (error) {
    if (!(error instanceof MediaError)) throw error;
    throw new Problem(422, 'medium', `These files are not one numbered sequence: ${error.message}. Nothing was kept.`);
  }
  if (order.length !== files.length)
    throw new Problem(422, 'medium', 'Some of these files are not pictures of a sequence. Nothing was kept.');
  const path = join(folder, 'sequence');
  await mkdir(path);
  // Under the numbers that they have: what is missing stays missing.
  for (const { name, frame } of order)
    await rename(byName.get(name)!.path, join(path, `${String(frame).padStart(6, '0')}${extname(name).toLowerCase()}`));
  return { path, name: numberedName(order[0]!.name)?.before.replace(/[._-]+$/, '') || 'sequence' };
}

export function mediaRoutes(services: Services): Router {
  const router = Router();
  serve(router, sendMedium, async ({ body }) => {
    await services.disk.admit();
    const folder = join(services.folders.uploads, randomUUID());
    try {
      const { path, name } = await laidOut(await takeSent(services, body, folder), folder),
        job = await services.jobs.add('import', `Bring in ${name}`, { path, folder, name }, null, 0);
      return services.jobs.summary(job);
    } catch (error) {
      await rm(folder, { recursive: true, force: true });
      throw error;
    }
  });

  serve(router, mediumFrame, async ({ params }, _, response) => {
    const { hash: of, frame } = check(z.object({ hash, frame: z.coerce.number().int().min(0) }), params),
      { info, bytes } = await services.frames.raw(of, frame).catch((error: unknown) => {
        throw error instanceof MediaError ? new Problem(404, 'no-frame', `This clip cannot be shown: ${error.message}.`) : error;
      }),
      header = frameHeader({ ...info, bits: info.bitDepth });
    response.set({
      'Content-Type': 'application/octet-stream',
      'Cache-Control': 'private, max-age=31536000, immutable',
      'Content-Length': String(header.length + bytes.length),
    });
    response.write(header);
    response.end(bytes);
    return SENT;
  });

  serve(router, keepSamples, async ({ body }) => {
    await services.disk.look();
    return { hash: await services.blobs.put(body) };
  });
  serve(router, trackSamples, async ({ params }, _, response) => {
    const samples = await services.blobs.get(params.hash).catch((error: Error) => {
      if (!(error instanceof Explained)) throw error;
      throw new Problem(404, 'not-found', `${error.message[0]!.toUpperCase()}${error.message.slice(1)}.`);
    });
    response.set('Cache-Control', 'private, max-age=31536000, immutable');
    return samples;
  });
  return router;
}
