import { Router } from 'express';
import { randomUUID } from 'node:crypto';
import { IsNull } from 'typeorm';
import { z } from 'zod';
import { needProblem } from '@wraithos/core/render';
import { clipOf, newShot, rateSchema, readShot, setShot } from '@wraithos/core/shot';
import { Medium, Production } from '../../database/entities';
import type { Services } from '../../services';
import { jobMemory } from '../../jobs/limits';
import { shotSummary, type IncomingEdit } from '../../shots';
import { Thumbnails } from '../../thumbnails';
import { check, notFound, Problem } from '../problem';

const name = z.string().trim().min(1, 'A name needs at least one letter.').max(120);
const patch = z
  .object({
    op: z.enum(['add', 'remove', 'replace']),
    path: z.array(z.union([z.string(), z.number()])).max(20),
    value: z.unknown().optional(),
  })
  .refine(
    (p) => p.path.every((part) => part !== '__proto__' && part !== 'constructor' && part !== 'prototype'),
    'That is no path of a shot.',
  );
const editsBody = z.object({
  base: z.number().int().min(1),
  edits: z
    .array(
      z.object({
        name: z.string().min(1).max(120),
        kind: z.enum(['do', 'undo', 'redo']),
        patches: z.array(patch).max(10_000),
        inverse: z.array(patch).max(10_000),
      }),
    )
    .min(1)
    .max(500),
});
const createBody = z.object({
  production: z.string(),
  code: name,
  title: z.string().trim().max(200).default(''),
  medium: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .optional(),
  width: z.number().int().min(16).max(8192).default(1280),
  height: z.number().int().min(16).max(8192).default(720),
  rate: rateSchema.default({ num: 24, den: 1 }),
  first: z.number().int().min(-100_000).max(1_000_000).default(1001),
  frames: z.number().int().min(1).max(100_000).default(96),
});

export function shotRoutes(services: Services): Router {
  const router = Router(),
    { manager } = services.database,
    { shots } = services,
    thumbnails = new Thumbnails(services);

  router.get('/productions', async (_, response) => {
    response.json(await manager.find(Production, { order: { created: 'ASC' } }));
  });
  router.post('/productions', async (request, response) => {
    const body = check(z.object({ name }), request.body),
      row = { id: randomUUID(), name: body.name, created: new Date() };
    await manager.insert(Production, row);
    response.status(201).json(row);
  });

  router.get('/shots', async (request, response) => {
    const { production } = check(z.object({ production: z.string().optional() }), request.query);
    response.type('application/json').send(await shots.listText(production));
  });
  router.post('/shots', async (request, response) => {
    const body = check(createBody, request.body);
    if (!(await manager.findOneBy(Production, { id: body.production }))) throw notFound('This production');
    let shot = newShot({
      code: body.code,
      title: body.title,
      width: body.width,
      height: body.height,
      rate: body.rate,
      first: body.first,
      frames: body.frames,
    });
    if (body.medium) {
      const medium = await manager.findOneBy(Medium, { hash: body.medium, deleted: IsNull() });
      if (!medium) throw notFound('This medium');
      const i = medium.info;
      shot = newShot({
        code: body.code,
        title: body.title,
        width: i.width,
        height: i.height,
        rate: i.frameRate,
        first: body.first,
        frames: i.frames,
      });
      shot.clips.c1 = clipOf({
        id: 'c1',
        file: medium.name,
        role: 'performance',
        media: { hash: medium.hash },
        facts: i,
        start: body.first,
      });
      shot.base = 'c1';
    }
    const costly = needProblem(shot, jobMemory());
    if (costly) throw new Problem(422, 'too-costly', `${costly.text} ${costly.fix} Nothing was made.`);
    response.status(201).json(shotSummary(await shots.create(body.production, readShot(shot))));
  });

  router.get('/shots/:id', async (request, response) => {
    response.type('application/json').send(await shots.open(request.params.id));
  });
  /** What was changed after a revision, for a page that was away. */
  router.get('/shots/:id/since/:revision', async (request, response) => {
    const { revision } = check(z.object({ id: z.string(), revision: z.coerce.number().int().min(0) }), request.params);
    response.type('application/json').send(await shots.since(request.params.id, revision));
  });
  router.post('/shots/:id/edits', async (request, response) => {
    const body = check(editsBody, request.body);
    response.json(await shots.save(request.params.id, body.base, body.edits as IncomingEdit[]));
  });
  router.patch('/shots/:id', async (request, response) => {
    const body = check(z.object({ code: name.optional(), title: z.string().trim().max(200).optional() }), request.body);
    await shots.change(request.params.id, setShot(body));
    response.json(shotSummary(await shots.find(request.params.id)));
  });
  router.post('/shots/:id/duplicate', async (request, response) => {
    const { entry, shot } = await shots.document(request.params.id);
    response.status(201).json(shotSummary(await shots.copy(entry.productionId, shot, `${entry.code} copy`)));
  });
  /** Keeps a document that could not be laid on the newest one, as a shot beside it. */
  router.post('/shots/:id/versions', async (request, response) => {
    const body = check(z.object({ name, document: z.unknown() }), request.body),
      entry = await shots.find(request.params.id);
    let document;
    try {
      document = readShot(body.document);
    } catch (error) {
      throw new Problem(422, 'invalid-edit', (error as Error).message);
    }
    response.status(201).json(shotSummary(await shots.copy(entry.productionId, document, body.name)));
  });
  router.delete('/shots/:id', async (request, response) => {
    await shots.remove(request.params.id, true);
    response.status(204).end();
  });
  router.post('/shots/:id/restore', async (request, response) => {
    await shots.remove(request.params.id, false);
    response.json(shotSummary(await shots.find(request.params.id)));
  });

  /** A small picture of the shot; 202 while it is being drawn. */
  router.get('/shots/:id/thumbnail', async (request, response) => {
    const found = thumbnails.find(await shots.find(request.params.id));
    if (found === 'none') throw new Problem(404, 'no-thumbnail', 'No picture of this shot can be drawn; one of its clips is missing.');
    if (found === 'drawing') {
      response.status(202).set({ 'Cache-Control': 'no-store', 'Retry-After': '1' }).end();
      return;
    }
    response.set('Cache-Control', 'private, max-age=31536000, immutable').sendFile(found.file, { dotfiles: 'allow' });
  });
  return router;
}
