import { z } from 'zod';
import { hash, name } from './common';
import { imported } from './media';
import { route } from './route';

/** A ready-made moving element, ours or one's own, to be placed in any shot. */
export const stockItem = z.object({
  id: z.string(),
  name: z.string(),
  about: z.string(),
  own: z.boolean(),
  /** After its last frame comes its first. */
  loops: z.boolean(),
  /** It is light: laid on by screen. */
  light: z.boolean(),
  width: z.number().int(),
  height: z.number().int(),
  frames: z.number().int(),
});
export type StockItem = z.infer<typeof stockItem>;

export const listStock = route({ method: 'GET', path: '/stockroom', answer: z.array(stockItem) });
/** The moving thumbnail: STRIP_TILES pictures side by side, PNG with alpha. */
export const stockStrip = route({ method: 'GET', path: '/stockroom/:id/strip' });
/** Makes sure that its frames are in the store, and says what they are. */
export const bringStock = route({ method: 'POST', path: '/stockroom/:id/use', answer: imported });
/** Keeps a clip as an element of one's own, for all shots. */
export const keepStock = route({
  method: 'POST',
  path: '/stockroom',
  body: z.object({ hash, name, loops: z.boolean(), light: z.boolean() }),
  answer: stockItem,
  status: 201,
});
export const removeStock = route({ method: 'DELETE', path: '/stockroom/:id' });
