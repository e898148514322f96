import type { JobKind, JobState } from '@wraithos/contract';
import { EntitySchema } from 'typeorm';
import type { Patch } from 'immer';
import type { Recipe } from '@wraithos/core/recipes';
import type { Shot } from '@wraithos/core/shot';
import type { StoredInfo } from '@wraithos/runtime';

export interface ProductionRow {
  id: string;
  name: string;
  created: Date;
}
export interface ShotRow {
  id: string;
  productionId: string;
  code: string;
  title: string;
  revision: number;
  /** The document as it was at `documentRevision`; revisions since are in their patches. Read it by `documentOf` (revisions.ts). */
  document: Shot;
  /** 0 in rows of an earlier version, whose document is the newest. */
  documentRevision: number;
  /** What lists show of the document; null in rows of an earlier version. */
  facts: ShotFacts | null;
  deleted: Date | null;
  created: Date;
  updated: Date;
}
/** What lists show of a shot, kept beside its document so that they need not read it. */
export interface ShotFacts {
  width: number;
  height: number;
  rate: { num: number; den: number };
  first: number;
  last: number;
  rows: number;
}
/** `migrate` is the server's own: the document in the form of a later version, see `bringUpToDate`. */
export type RevisionKind = 'do' | 'undo' | 'redo' | 'migrate';
export interface RevisionRow {
  id: number;
  shotId: string;
  revision: number;
  name: string;
  kind: RevisionKind;
  patches: Patch[];
  inverse: Patch[];
  snapshot: Shot | null;
  created: Date;
}
export interface MediumRow {
  hash: string;
  name: string;
  info: StoredInfo;
  /** In the bin since then; it is gone for good 30 days later. */
  deleted: Date | null;
  /** Whoever deleted it was told what uses it. */
  told: boolean;
  created: Date;
}
/** `parked` is work that ended badly twice, or that took the server with it: it waits for a person. */
export interface JobRow {
  id: string;
  kind: JobKind;
  state: JobState;
  title: string;
  shotId: string | null;
  input: Record<string, unknown>;
  done: number;
  total: number;
  message: string;
  result: Record<string, unknown> | null;
  /** How often it ended badly. */
  attempts: number;
  /** How often the server ended without a word while it ran. */
  interrupted: number;
  deleted: Date | null;
  created: Date;
  updated: Date;
}

export interface RecipeRow {
  id: string;
  name: string;
  recipe: Recipe;
  created: Date;
}
/** A clip that was kept as an element of one's own, for all shots. */
export interface StockRow {
  id: string;
  name: string;
  hash: string;
  loops: boolean;
  light: boolean;
  created: Date;
}

const date = { type: 'datetime', precision: 3 } as const;
export const Production = new EntitySchema<ProductionRow>({
  name: 'Production',
  tableName: 'productions',
  columns: { id: { type: 'char', length: 36, primary: true }, name: { type: 'varchar', length: 120 }, created: date },
});
export const ShotEntity = new EntitySchema<ShotRow>({
  name: 'Shot',
  tableName: 'shots',
  columns: {
    id: { type: 'char', length: 36, primary: true },
    productionId: { type: 'char', length: 36, name: 'production_id' },
    code: { type: 'varchar', length: 120 },
    title: { type: 'varchar', length: 200 },
    revision: { type: 'int' },
    document: { type: 'simple-json' },
    documentRevision: { type: 'int', name: 'document_revision', default: 0 },
    facts: { type: 'simple-json', nullable: true },
    deleted: { ...date, nullable: true },
    created: date,
    updated: date,
  },
});
export const Revision = new EntitySchema<RevisionRow>({
  name: 'Revision',
  tableName: 'revisions',
  columns: {
    id: { type: 'int', primary: true, generated: 'increment' },
    shotId: { type: 'char', length: 36, name: 'shot_id' },
    revision: { type: 'int' },
    name: { type: 'varchar', length: 120 },
    kind: { type: 'varchar', length: 8 },
    patches: { type: 'simple-json' },
    inverse: { type: 'simple-json' },
    snapshot: { type: 'simple-json', nullable: true },
    created: date,
  },
});
export const Medium = new EntitySchema<MediumRow>({
  name: 'Medium',
  tableName: 'media',
  columns: {
    hash: { type: 'char', length: 64, primary: true },
    name: { type: 'varchar', length: 255 },
    info: { type: 'simple-json' },
    deleted: { ...date, nullable: true },
    told: { type: 'boolean', default: false },
    created: date,
  },
});
export const Job = new EntitySchema<JobRow>({
  name: 'Job',
  tableName: 'jobs',
  columns: {
    id: { type: 'char', length: 36, primary: true },
    kind: { type: 'varchar', length: 20 },
    state: { type: 'varchar', length: 12 },
    title: { type: 'varchar', length: 300 },
    shotId: { type: 'char', length: 36, name: 'shot_id', nullable: true },
    input: { type: 'simple-json' },
    done: { type: 'int' },
    total: { type: 'int' },
    message: { type: 'varchar', length: 1000 },
    result: { type: 'simple-json', nullable: true },
    attempts: { type: 'int', default: 0 },
    interrupted: { type: 'int', default: 0 },
    deleted: { ...date, nullable: true },
    created: date,
    updated: date,
  },
});
export const RecipeEntity = new EntitySchema<RecipeRow>({
  name: 'Recipe',
  tableName: 'recipes',
  columns: {
    id: { type: 'char', length: 36, primary: true },
    name: { type: 'varchar', length: 120 },
    recipe: { type: 'simple-json' },
    created: date,
  },
});
export const StockEntity = new EntitySchema<StockRow>({
  name: 'Stock',
  tableName: 'stock',
  columns: {
    id: { type: 'char', length: 36, primary: true },
    name: { type: 'varchar', length: 120 },
    hash: { type: 'char', length: 64 },
    loops: { type: 'boolean', default: false },
    light: { type: 'boolean', default: false },
    created: date,
  },
});
