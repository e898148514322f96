import { randomUUID } from 'node:crypto';
import { mkdir, rename, rm } from 'node:fs/promises';
import { extname, join } from 'node:path';
import { Router, type RequestHandler } from 'express';
import multer from 'multer';
import { z } from 'zod';
import { isStillName, MediaError, orderSequence, samplesSchema } from '@wraithos/runtime';
import type { Services } from '../../services';
import { check, Problem } from '../problem';

const LARGEST_FILE = 8 * 2 ** 30,
  MOST_FILES = 5000;

/** One frame's header, little-endian 32-bit: magic "WRF1", width, height, channels, bits; then the rows. */
export const FRAME_MAGIC = 0x31465257;

export function mediaRoutes(services: Services): Router {
  const router = Router();
  // Files get names of our own; what people call them is only ever text.
  const place: RequestHandler = async (request, _response, next) => {
    const folder = join(services.folders.uploads, randomUUID());
    await mkdir(folder, { recursive: true });
    (request as unknown as { folder: string }).folder = folder;
    next();
  };
  const upload = multer({
    storage: multer.diskStorage({
      destination: (request, _file, done) => done(null, (request as unknown as { folder: string }).folder),
      filename: (_request, _file, done) => done(null, randomUUID()),
    }),
    limits: { fileSize: LARGEST_FILE, files: MOST_FILES, fields: 4 },
    defParamCharset: 'utf8',
  }).array('files', MOST_FILES);

  router.post('/media', place, async (request, response) => {
    const { folder } = request as unknown as { folder: string };
    try {
      await new Promise<void>((resolve, reject) => upload(request, response, (error: unknown) => (error ? reject(error) : resolve())));
      const files = (request.files ?? []) as Express.Multer.File[];
      if (files.length === 0) throw new Problem(400, 'invalid', 'No file came with the request.');
      for (const file of files) if (file.size === 0) throw new Problem(422, 'medium', `${file.originalname} is empty. Nothing was kept.`);
      let path: string, name: string;
      if (files.length === 1) {
        name = files[0]!.originalname;
        // ffmpeg and sharp look at the content; the ending only helps a person who looks into the folder.
        path = join(folder, `medium${isStillName(name) ? extname(name).toLowerCase() : ''}`);
        await rename(files[0]!.path, path);
      } else {
        let order: string[];
        try {
          order = orderSequence(files.map((f) => f.originalname));
        } catch (error) {
          throw new Problem(422, 'medium', `These files are not one numbered sequence: ${(error as Error).message}. Nothing was kept.`);
        }
        if (order.length !== files.length)
          throw new Problem(422, 'medium', 'Some of these files are not pictures of a sequence. Nothing was kept.');
        path = join(folder, 'sequence');
        await mkdir(path);
        const byName = new Map(files.map((f) => [f.originalname, f]));
        for (const [i, original] of order.entries())
          await rename(byName.get(original)!.path, join(path, `${String(i).padStart(6, '0')}${extname(original).toLowerCase()}`));
        name = order[0]!.replace(/\d+(\D*)$/, '').replace(/[._-]+$/, '') || 'sequence';
      }
      const job = await services.jobs.add('import', `Bring in ${name}`, { path, folder, name }, null, 0);
      response.status(202).json(services.jobs.summary(job));
    } catch (error) {
      await rm(folder, { recursive: true, force: true });
      throw error;
    }
  });

  router.get('/media/:hash/frames/:frame', async (request, response) => {
    const { hash, frame } = check(
      z.object({ hash: z.string().regex(/^[0-9a-f]{64}$/), frame: z.coerce.number().int().min(0) }),
      request.params,
    );
    const { info, bytes } = await services.frames.raw(hash, frame).catch((error: unknown) => {
      throw error instanceof MediaError ? new Problem(404, 'no-frame', `This clip cannot be shown: ${error.message}.`) : error;
    });
    const header = Buffer.alloc(20);
    [FRAME_MAGIC, info.width, info.height, info.channels, info.bitDepth].forEach((v, i) => header.writeUInt32LE(v, i * 4));
    response.set({
      'Content-Type': 'application/octet-stream',
      'Cache-Control': 'private, max-age=31536000, immutable',
      'Content-Length': String(header.length + bytes.length),
    });
    response.write(header);
    response.end(bytes);
  });

  router.post('/samples', async (request, response) => {
    response.status(201).json({ hash: await services.blobs.put(check(samplesSchema, request.body)) });
  });
  router.get('/samples/:hash', async (request, response) => {
    const samples = await services.blobs.get(request.params.hash).catch((error: Error) => {
      throw new Problem(404, 'not-found', `${error.message[0]!.toUpperCase()}${error.message.slice(1)}.`);
    });
    response.set('Cache-Control', 'private, max-age=31536000, immutable').json(samples);
  });
  return router;
}
