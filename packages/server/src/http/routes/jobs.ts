import { join } from 'node:path';
import { Router } from 'express';
import { z } from 'zod';
import { renderFolder, renderFormats } from '../../jobs/renderJob';
import type { Services } from '../../services';
import { findShot } from '../../shots';
import { check, Problem } from '../problem';

const renderBody = z.object({
  shot: z.string(),
  format: z.enum(renderFormats),
  first: z.number().int().optional(),
  last: z.number().int().optional(),
  factor: z.union([z.literal(1), z.literal(2), z.literal(4)]).default(1),
});

export function jobRoutes(services: Services): Router {
  const router = Router();
  router.get('/jobs', async (request, response) => {
    const { shot } = check(z.object({ shot: z.string().optional() }), request.query);
    response.json((await services.jobs.list(shot)).map((job) => services.jobs.summary(job)));
  });
  router.get('/jobs/:id', async (request, response) => {
    response.json(services.jobs.summary(await services.jobs.get(request.params.id)));
  });
  router.post('/jobs', async (request, response) => {
    const body = check(renderBody, request.body),
      row = await findShot(services.database.manager, body.shot),
      shot = row.document,
      first = body.first ?? shot.first,
      last = body.last ?? shot.last;
    if (first < shot.first || last > shot.last || last < first)
      throw new Problem(400, 'invalid', `The range ${first} to ${last} does not lie within the shot (${shot.first} to ${shot.last}).`, {
        field: 'first',
      });
    if (Object.keys(shot.clips).length === 0)
      throw new Problem(422, 'empty-shot', 'This shot has no clip yet; bring one in on Plates first.');
    const job = await services.jobs.add(
      'render',
      `${shot.code}, ${first} to ${last}, ${{ png: 'PNG 8 bit', png16: 'PNG 16 bit', webm: 'WebM' }[body.format]}`,
      { format: body.format, first, last, factor: body.factor, revision: row.revision, document: shot },
      row.id,
      last - first + 1,
    );
    response.status(202).json(services.jobs.summary(job));
  });
  router.delete('/jobs/:id', async (request, response) => {
    response.json(services.jobs.summary(await services.jobs.cancel(request.params.id)));
  });
  router.get('/jobs/:id/file', async (request, response) => {
    const job = await services.jobs.get(request.params.id),
      file = job.result?.file;
    if (job.state !== 'done' || typeof file !== 'string') throw new Problem(409, 'not-ready', 'This render is not finished yet.');
    const path = join(renderFolder(services, job.id), file);
    if (request.query.play === undefined) response.download(path, file, { dotfiles: 'allow' });
    else response.sendFile(path, { dotfiles: 'allow' });
  });
  return router;
}
