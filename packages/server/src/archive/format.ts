import { z } from 'zod';

/*
 * An archive is a ZIP file: a backup of everything, or a bundle of one production or shot. Every entry is named in `contents.json`, its last
 * one, with its size and SHA-256. docs/formats.md describes it for people.
 */
export const CONTENTS = 'contents.json';

export const contentsSchema = z.object({
  kind: z.literal('wraithos archive'),
  version: z.literal(1),
  created: z.string(),
  entries: z.record(z.string().max(300), z.object({ bytes: z.number().int().min(0), sha256: z.string().regex(/^[0-9a-f]{64}$/) })),
});
export type Contents = z.infer<typeof contentsSchema>;

const id = z.string().regex(/^[0-9a-f-]{36}$/),
  hash = z.string().regex(/^[0-9a-f]{64}$/),
  date = z.iso.datetime();
export const productionSchema = z.object({ id, name: z.string().min(1).max(120), created: date });
const patch = z.object({
  op: z.enum(['add', 'remove', 'replace']),
  path: z.array(z.union([z.string(), z.number()])),
  value: z.unknown().optional(),
});
export const storedShotSchema = z.object({
  id,
  production: id,
  revision: z.number().int().min(1),
  document: z.unknown(),
  created: date,
  updated: date,
  revisions: z.array(
    z.object({
      revision: z.number().int().min(1),
      name: z.string().max(120),
      kind: z.enum(['do', 'undo', 'redo', 'migrate']),
      patches: z.array(patch),
      inverse: z.array(patch),
      snapshot: z.unknown().nullable(),
      created: date,
    }),
  ),
});
export type StoredShot = z.infer<typeof storedShotSchema>;
export const storedMediumSchema = z.object({ hash, name: z.string().max(255), created: date });
export const storedRecipeSchema = z.object({ id, name: z.string().min(1).max(120), recipe: z.unknown(), created: date });
export const storedStockSchema = z.object({
  id,
  name: z.string().min(1).max(120),
  hash,
  loops: z.boolean(),
  light: z.boolean(),
  created: date,
});
export const storedRenderSchema = z.object({
  id,
  shot: id.nullable(),
  title: z.string().max(300),
  input: z.record(z.string(), z.unknown()),
  total: z.number().int().min(0),
  result: z.record(z.string(), z.unknown()),
  created: date,
});

/** Names that an entry may have, and nothing else: an archive writes where we say. */
export const ENTRY = {
  productions: 'productions.json',
  recipes: 'recipes.json',
  stock: 'stock.json',
  shot: /^shots\/([0-9a-f-]{36})\.json$/,
  medium: /^media\/([0-9a-f]{64})\.json$/,
  frames: /^media\/([0-9a-f]{64})\/(\d{1,5}\.raw|info\.json)$/,
  samples: /^samples\/([0-9a-f]{64})\.json$/,
  render: /^renders\/([0-9a-f-]{36})\.json$/,
  renderFile: /^renders\/([0-9a-f-]{36})\/([\w-]{1,150}\.(?:zip|webm))$/,
} as const;
export const isEntry = (name: string): boolean =>
  Object.values(ENTRY).some((known) => (typeof known === 'string' ? known === name : known.test(name)));
