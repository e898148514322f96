import { z } from 'zod';
import type { Patch } from 'immer';
import { clipRoles, rateSchema } from '@wraithos/core/shot';
import { document, hash, mediumInfo, moment, name } from './common';
import { route } from './route';

export const production = z.object({ id: z.string(), name: z.string(), created: moment });
export type Production = z.infer<typeof production>;

/** What lists show of a shot. */
export const shotSummary = z.object({
  id: z.string(),
  production: z.string(),
  code: z.string(),
  title: z.string(),
  revision: z.number().int(),
  width: z.number().int(),
  height: z.number().int(),
  rate: rateSchema,
  first: z.number().int(),
  last: z.number().int(),
  rows: z.number().int(),
  updated: moment,
});
export type ShotSummary = z.infer<typeof shotSummary>;

/** One change of a document. */
export const patch = z
  .object({
    op: z.enum(['add', 'remove', 'replace']),
    path: z.array(z.union([z.string(), z.number()])).max(20),
    value: z.unknown().optional(),
  })
  .refine(
    (p) => p.path.every((part) => part !== '__proto__' && part !== 'constructor' && part !== 'prototype'),
    'leads to no field of a shot.',
  ) as unknown as z.ZodType<Patch>;
/** A named change, with the way back. */
export const savedEdit = z.object({
  name: z.string().min(1).max(120),
  kind: z.enum(['do', 'undo', 'redo']),
  patches: z.array(patch).max(10_000),
  inverse: z.array(patch).max(10_000),
});
export type SavedEdit = z.infer<typeof savedEdit>;
/** A change as the server has stored it; `migrate` is its own, and changes nothing that pages undo. */
export const historyEntry = savedEdit.extend({ revision: z.number().int(), kind: z.enum(['do', 'undo', 'redo', 'migrate']) });
export type HistoryEntry = z.infer<typeof historyEntry>;

/** What a save is answered with (409) whose base is no longer the newest revision. */
export const stale = z.object({ revision: z.number().int(), missed: z.array(historyEntry) });

/** A shot with its document and the changes that can be undone. */
export const openedShot = shotSummary.extend({ productionName: z.string(), document, history: z.array(historyEntry) });
export type OpenShot = z.infer<typeof openedShot>;

const revision = z.object({ revision: z.number().int() });

export const listProductions = route({ method: 'GET', path: '/productions', answer: z.array(production) });
export const addProduction = route({ method: 'POST', path: '/productions', body: z.object({ name }), answer: production, status: 201 });

/** A medium that shots of a production use. */
export const productionClip = z.object({
  hash,
  name,
  role: z.enum(clipRoles),
  info: mediumInfo,
  created: moment,
  /** Codes of the shots that use it. */
  shots: z.array(z.string()),
});
export type ProductionClip = z.infer<typeof productionClip>;
/** Clips of all shots of a production, each medium once, the newest first. */
export const productionClips = route({ method: 'GET', path: '/productions/:id/clips', answer: z.array(productionClip) });

export const listShots = route({
  method: 'GET',
  path: '/shots',
  query: z.object({ production: z.string().optional() }),
  answer: z.array(shotSummary),
});
export const addShot = route({
  method: 'POST',
  path: '/shots',
  body: z.object({
    production: z.string(),
    code: name,
    title: z.string().trim().max(200).default(''),
    /** A medium that it is made for: its size, rate and length count then. */
    medium: hash.optional(),
    width: z.number().int().min(16).max(8192).default(1280),
    height: z.number().int().min(16).max(8192).default(720),
    rate: rateSchema.default({ num: 24, den: 1 }),
    first: z.number().int().min(-100_000).max(1_000_000).default(1001),
    frames: z.number().int().min(1).max(100_000).default(96),
  }),
  answer: shotSummary,
  status: 201,
});
export const openShot = route({ method: 'GET', path: '/shots/:id', answer: openedShot });
/** What the store holds of each clip of a shot; null where it holds nothing. */
export const heldClips = route({
  method: 'GET',
  path: '/shots/:id/clips',
  answer: z.array(
    z.object({
      clip: z.string(),
      held: z.object({ width: z.number().int(), height: z.number().int(), frames: z.number().int(), rate: rateSchema }).nullable(),
    }),
  ),
});
/** What was changed after a revision, for a page that was away. */
export const changesSince = route({
  method: 'GET',
  path: '/shots/:id/since/:revision',
  answer: revision.extend({ missed: z.array(historyEntry) }),
});
/** Adds edits that build on the newest revision, all or none. */
export const saveEdits = route({
  method: 'POST',
  path: '/shots/:id/edits',
  body: z.object({ base: z.number().int().min(1), edits: z.array(savedEdit).min(1).max(500) }),
  answer: revision,
});
export const renameShot = route({
  method: 'PATCH',
  path: '/shots/:id',
  body: z.object({ code: name.optional(), title: z.string().trim().max(200).optional() }),
  answer: shotSummary,
});
export const duplicateShot = route({ method: 'POST', path: '/shots/:id/duplicate', answer: shotSummary, status: 201 });
/** Keeps a document that could not be laid on the newest one, as a shot beside it. */
export const keepVersion = route({
  method: 'POST',
  path: '/shots/:id/versions',
  body: z.object({ name, document: z.unknown() }),
  answer: shotSummary,
  status: 201,
});
export const removeShot = route({ method: 'DELETE', path: '/shots/:id' });
export const restoreShot = route({ method: 'POST', path: '/shots/:id/restore', answer: shotSummary });
/** A small picture of the shot, as JPEG; 202 while it is being drawn. */
export const shotThumbnail = route({ method: 'GET', path: '/shots/:id/thumbnail' });
