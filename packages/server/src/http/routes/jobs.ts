import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { Router } from 'express';
import { cancelJob, clipOfRender, getJob, jobFile, listJobs, startRender, tryAgain } from '@wraithos/contract';
import { framesFor, needProblem, outputFormats, passesOf } from '@wraithos/core/render';
import { renderFolder } from '../../jobs/renderJob';
import type { Services } from '../../services';
import { jobMemory } from '../../jobs/limits';
import { Problem } from '../problem';
import { SENT, serve } from '../serve';

export function jobRoutes(services: Services): Router {
  const router = Router();
  serve(router, listJobs, async ({ query }) => (await services.jobs.list(query.shot)).map((job) => services.jobs.summary(job)));
  serve(router, getJob, async ({ params }) => services.jobs.summary(await services.jobs.get(params.id)));
  serve(router, startRender, async ({ body }) => {
    const { entry, shot } = await services.shots.document(body.shot),
      first = body.first ?? shot.first,
      last = body.last ?? shot.last;
    if (first < shot.first || last > shot.last || last < first)
      throw new Problem(400, 'invalid', `The range ${first} to ${last} does not lie within the shot (${shot.first} to ${shot.last}).`, {
        field: 'first',
      });
    if (Object.keys(shot.clips).length === 0)
      throw new Problem(422, 'empty-shot', 'This shot has no clip yet; bring one in on Plates first.');
    const format = outputFormats[body.format],
      { title, bits, alpha: carries } = format,
      count = framesFor(format, first, last).length,
      pass = passesOf(shot).find((p) => p.pass === body.only);
    if (!pass) throw new Problem(400, 'invalid', `This shot has no pass "${body.only}". Nothing was begun.`, { field: 'only' });
    if (body.alpha !== 'none' && !carries)
      throw new Problem(400, 'invalid', `${title} carries no alpha. Choose another format, or none. Nothing was begun.`, {
        field: 'alpha',
      });
    if (body.burn && bits === 'half')
      throw new Problem(
        400,
        'invalid',
        `${title} takes nothing burnt in, since its values are to be worked on. Choose another format. Nothing was begun.`,
        {
          field: 'burn',
        },
      );
    const costly = needProblem(shot, jobMemory());
    if (costly) throw new Problem(422, 'too-costly', `${costly.text} ${costly.fix} Nothing was begun.`);
    // A frame as PNG is rarely more than half of its raw size; the film or archive comes on top.
    await services.disk.admit(
      count *
        Math.ceil(shot.width / body.factor) *
        Math.ceil(shot.height / body.factor) *
        (body.alpha === 'none' ? 3 : 4) *
        (bits === 8 ? 1 : 2),
    );
    const job = await services.jobs.add(
      'render',
      [
        `${shot.code}, ${first} to ${last}, ${title}`,
        body.alpha === 'none' ? '' : `${body.alpha} alpha`,
        body.only === 'all' ? '' : pass.title,
        body.burn ? 'frame burnt in' : '',
      ]
        .filter(Boolean)
        .join(', '),
      {
        format: body.format,
        first,
        last,
        factor: body.factor,
        alpha: body.alpha,
        only: body.only,
        burn: body.burn,
        revision: entry.revision,
      },
      entry.id,
      count,
    );
    return services.jobs.summary(job);
  });
  serve(router, clipOfRender, async ({ params }) => {
    const job = await services.jobs.get(params.id);
    if (job.kind !== 'render' || job.state !== 'done') throw new Problem(409, 'not-ready', 'This render is not finished yet.');
    await services.disk.admit();
    // Its frames are read where they lie; the folder of the upload, which is thrown away after it, stays empty.
    const folder = join(services.folders.uploads, randomUUID()),
      made = await services.jobs.add(
        'import',
        `Bring in ${job.title}`,
        { path: renderFolder(services, job.id), folder, name: `render ${job.title}`.slice(0, 200) },
        null,
        0,
      );
    return services.jobs.summary(made);
  });
  serve(router, tryAgain, async ({ params }) => services.jobs.summary(await services.jobs.again(params.id)));
  serve(router, cancelJob, async ({ params }) => services.jobs.summary(await services.jobs.cancel(params.id)));
  serve(router, jobFile, async ({ params, query }, _, response) => {
    const job = await services.jobs.get(params.id),
      file = job.result?.file;
    if (job.state !== 'done' || typeof file !== 'string') throw new Problem(409, 'not-ready', 'This render is not finished yet.');
    const path = join(renderFolder(services, job.id), file);
    if (query.play === undefined) response.download(path, file, { dotfiles: 'allow' });
    else response.sendFile(path, { dotfiles: 'allow' });
    return SENT;
  });
  return router;
}
