import { z } from 'zod';
import { moment } from './common';
import { jobStates } from './jobs';
import { route } from './route';

export const diskLevels = ['fine', 'low', 'very low', 'full', 'read-only'] as const;
export type DiskLevel = (typeof diskLevels)[number];
/** The disk of the data folder; `message` says for people what does not work, and is null where all does. */
export const diskState = z.looseObject({
  level: z.enum(diskLevels),
  free: z.number(),
  total: z.number(),
  message: z.string().nullable(),
});

/** What uses a clip: a shot as it is now, or an earlier revision of it. */
export const clipUse = z.object({ shot: z.string(), code: z.string(), now: z.boolean(), deleted: z.boolean() });
/** What uses the disk; `goneAt` is set for what is in the bin. */
export const room = z.object({
  disk: diskState,
  binDays: z.number(),
  groups: z.record(z.string(), z.number()),
  media: z.array(
    z.object({
      hash: z.string(),
      name: z.string(),
      width: z.number(),
      height: z.number(),
      frames: z.number(),
      bytes: z.number(),
      created: moment,
      goneAt: moment.nullable(),
      uses: z.array(clipUse),
    }),
  ),
  renders: z.array(
    z.object({
      id: z.string(),
      title: z.string(),
      state: z.enum(jobStates),
      bytes: z.number(),
      created: moment,
      goneAt: moment.nullable(),
    }),
  ),
  shots: z.array(z.object({ id: z.string(), code: z.string(), title: z.string(), production: z.string(), goneAt: moment })),
});
export type Room = z.infer<typeof room>;

export const getRoom = route({ method: 'GET', path: '/room', answer: room });
/** Puts a clip into the bin; one that is used is refused (409) unless the one who asks was told. */
export const removeMedium = route({ method: 'DELETE', path: '/media/:hash', query: z.object({ told: z.string().optional() }) });
export const restoreMedium = route({ method: 'POST', path: '/media/:hash/restore' });
export const removeRender = route({ method: 'DELETE', path: '/renders/:id' });
export const restoreRender = route({ method: 'POST', path: '/renders/:id/restore' });
/** Gives the room of the bin back now; it cannot be undone. */
export const emptyBin = route({ method: 'POST', path: '/room/empty', answer: z.object({ bytes: z.number() }) });

/** The state of the parts as they are now; told with 503 as well, when one does not work. */
export const health = z.looseObject({
  ok: z.boolean(),
  process: z.object({ pid: z.number(), uptimeSeconds: z.number(), residentBytes: z.number() }),
  database: z.object({ state: z.string(), since: moment, restarts: z.number() }),
  disk: diskState,
  queue: z.record(z.string(), z.number()).nullable(),
  listeners: z.number(),
});
export type Health = z.infer<typeof health>;
export const getHealth = route({ method: 'GET', path: '/health', answer: health });
