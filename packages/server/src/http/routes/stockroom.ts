import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { keepStock, listStock, removeStock, stockStrip, bringStock } from '@wraithos/contract';
import { Medium, StockEntity } from '../../database/entities';
import type { Services } from '../../services';
import { notFound } from '../problem';
import { SENT, serve } from '../serve';

/** Ready-made elements, ours and one's own. */
export function stockroomRoutes({ stockroom, database: { manager } }: Services): Router {
  const router = Router();
  serve(router, listStock, () => stockroom.list());
  serve(router, stockStrip, async ({ params }, _, response) => {
    const file = await stockroom.strip(params.id);
    if (!file) throw notFound('This element');
    response.set('Cache-Control', 'private, max-age=86400');
    await new Promise<void>((resolve, reject) => response.sendFile(file, (error) => (error ? reject(error) : resolve())));
    return SENT;
  });
  serve(router, bringStock, async ({ params }) => {
    const used = await stockroom.use(params.id);
    if (!used) throw notFound('This element');
    return used;
  });
  serve(router, keepStock, async ({ body: { hash, name, loops, light } }) => {
    const medium = await manager.findOneBy(Medium, { hash });
    if (!medium) throw notFound('This clip');
    const row = { id: randomUUID(), name, hash, loops, light, created: new Date() };
    await manager.insert(StockEntity, row);
    return {
      id: row.id,
      about: '',
      own: true,
      ...{ name, loops, light, width: medium.info.width, height: medium.info.height, frames: medium.info.frames },
    };
  });
  serve(router, removeStock, async ({ params }) => {
    const { affected } = await manager.delete(StockEntity, { id: params.id });
    if (!affected) throw notFound('This element');
  });
  return router;
}
