import { Router } from 'express';
import { startPlate } from '@wraithos/contract';
import type { Services } from '../../services';
import { Problem } from '../problem';
import { serve } from '../serve';

export function plateRoutes(services: Services): Router {
  const router = Router();
  serve(router, startPlate, async ({ body }) => {
    const { entry, shot } = await services.shots.document(body.shot),
      clip = shot.clips[body.clip];
    if (!clip) throw new Problem(404, 'not-found', 'This shot has no such clip.', { field: 'clip' });
    if (body.matte !== null && !shot.mattes[body.matte])
      throw new Problem(404, 'not-found', 'This shot has no such matte.', { field: 'matte' });
    if (clip.alpha)
      throw new Problem(422, 'no-plate', `${clip.name} has alpha: nothing stands behind its character that a clean plate could show.`);
    const first = body.first ?? 0,
      last = body.last ?? clip.frames - 1;
    if (last >= clip.frames || last - first < 2)
      throw new Problem(
        422,
        'no-plate',
        clip.frames < 3
          ? `${clip.name} has too few frames: a clean plate needs three at the least.`
          : `Frames ${first} to ${last} are not three frames or more of ${clip.name}, which has frames 0 to ${clip.frames - 1}. Nothing was begun.`,
        { field: 'first' },
      );
    await services.disk.admit(clip.width * clip.height * 6 * clip.frames);
    const job = await services.jobs.add(
      'plate',
      `Clean plate of ${clip.name}`,
      {
        clip: clip.id,
        revision: entry.revision,
        camera: body.camera,
        flicker: body.flicker,
        grain: body.grain,
        first,
        last,
        matte: body.matte,
      },
      entry.id,
      1000,
    );
    return services.jobs.summary(job);
  });
  return router;
}
