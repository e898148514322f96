import { Router, type Response } from 'express';
import { randomUUID } from 'node:crypto';
import { IsNull } from 'typeorm';
import { z } from 'zod';
import { needProblem } from '@wraithos/core/render';
import {
  addProduction,
  addShot,
  changesSince,
  duplicateShot,
  heldClips,
  keepVersion,
  listProductions,
  listShots,
  openShot,
  productionClips,
  removeShot,
  renameShot,
  restoreShot,
  saveEdits,
  shotThumbnail,
} from '@wraithos/contract';
import { applyEdit, clipOf, newShot, newTake, ownSubject, readShot, setShot } from '@wraithos/core/shot';
import { Medium, Production } from '../../database/entities';
import type { Services } from '../../services';
import { jobMemory } from '../../jobs/limits';
import { clipsOfProduction } from '../../productionClips';
import { shotSummary } from '../../shots';
import { Thumbnails } from '../../thumbnails';
import { check, notFound, Problem } from '../problem';
import { SENT, serve } from '../serve';

/** Sends JSON text that was ready. */
const sendText = (response: Response, text: string): typeof SENT => {
  response.type('application/json').send(text);
  return SENT;
};

export function shotRoutes(services: Services): Router {
  const router = Router(),
    { manager } = services.database,
    { shots } = services,
    thumbnails = new Thumbnails(services);

  serve(router, listProductions, async () =>
    (await manager.find(Production, { order: { created: 'ASC' } })).map((p) => ({ ...p, created: p.created.toISOString() })),
  );
  serve(router, addProduction, async ({ body }) => {
    const row = { id: randomUUID(), name: body.name, created: new Date() };
    await manager.insert(Production, row);
    return { ...row, created: row.created.toISOString() };
  });

  serve(router, productionClips, async ({ params }) => {
    if (!(await manager.findOneBy(Production, { id: params.id }))) throw notFound('This production');
    return clipsOfProduction(services, params.id);
  });
  serve(router, listShots, async ({ query }, _, response) => sendText(response, await shots.listText(query.production)));
  serve(router, addShot, async ({ body }) => {
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
      if (!medium) throw notFound('This clip');
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
      shot.base.takes = [newTake({ id: 'b1', clip: 'c1', start: body.first })];
      shot = applyEdit(shot, ownSubject('c1')).shot;
    }
    const costly = needProblem(shot, jobMemory());
    if (costly) throw new Problem(422, 'too-costly', `${costly.text} ${costly.fix} Nothing was made.`);
    return shotSummary(await shots.create(body.production, readShot(shot)));
  });

  serve(router, openShot, async ({ params }, _, response) => sendText(response, await shots.open(params.id)));
  serve(router, heldClips, async ({ params }) => {
    const { shot } = await shots.document(params.id),
      { frames } = services;
    return Promise.all(
      Object.values(shot.clips).map(async ({ id, media }) => {
        const info = 'hash' in media && (await frames.has(media.hash)) ? await frames.info(media.hash) : null;
        return { clip: id, held: info && { width: info.width, height: info.height, frames: info.frames, rate: info.frameRate } };
      }),
    );
  });
  serve(router, changesSince, async ({ params }, _, response) =>
    sendText(response, await shots.since(params.id, check(z.coerce.number().int().min(0), params.revision))),
  );
  serve(router, saveEdits, async ({ params, body }) => shots.save(params.id, body.base, body.edits));
  serve(router, renameShot, async ({ params, body }) => {
    await shots.change(params.id, setShot(body));
    return shotSummary(await shots.find(params.id));
  });
  serve(router, duplicateShot, async ({ params }) => {
    const { entry, shot } = await shots.document(params.id);
    return shotSummary(await shots.copy(entry.productionId, shot, `${entry.code} copy`));
  });
  serve(router, keepVersion, async ({ params, body }) => {
    const entry = await shots.find(params.id);
    let document;
    try {
      document = readShot(body.document);
    } catch (error) {
      throw new Problem(422, 'invalid-edit', (error as Error).message);
    }
    return shotSummary(await shots.copy(entry.productionId, document, body.name));
  });
  serve(router, removeShot, ({ params }) => shots.remove(params.id, true));
  serve(router, restoreShot, async ({ params }) => {
    await shots.remove(params.id, false);
    return shotSummary(await shots.find(params.id));
  });

  serve(router, shotThumbnail, async ({ params }, _, response) => {
    const found = thumbnails.find(await shots.find(params.id));
    if (found === 'none') throw new Problem(404, 'no-thumbnail', 'No picture of this shot can be drawn; one of its clips is missing.');
    if (found === 'drawing') {
      response.status(202).set({ 'Cache-Control': 'no-store', 'Retry-After': '1' }).end();
      return SENT;
    }
    response.set('Cache-Control', 'private, max-age=31536000, immutable').sendFile(found.file, { dotfiles: 'allow' });
    return SENT;
  });
  return router;
}
