import { randomUUID } from 'node:crypto';
import { mkdir, readdir, readFile, rename } from 'node:fs/promises';
import { join } from 'node:path';
import type { EntityManager } from 'typeorm';
import { readRecipe } from '@wraithos/core/recipes';
import { isOlder, readShot } from '@wraithos/core/shot';
import type { StoredInfo } from '@wraithos/runtime';
import { Job, Medium, Production, RecipeEntity, Revision, ShotEntity, StockEntity } from '../database/entities';
import { bringUpToDate, documentOf } from '../revisions';
import { factsOf } from '../shots';
import type { Services } from '../services';
import type { StoredShot } from './format';
import { readMedia, readProductions, readRecipes, readRenders, readShots, readStock } from './unpack';

export interface TakenOver extends Record<string, unknown> {
  /** Codes of the shots that came in. */
  shots: string[];
  /** Shots that are here already, at the same revision. */
  same: number;
  media: number;
  recipes: number;
  renders: number;
}
type Base = Omit<Services, 'jobs'>;

/**
 * Takes over what was laid out and checked: media and samples first, since nothing names them yet, then all rows in one transaction. What is
 * here stays as it is: a shot that was changed since comes in beside, under a code of its own.
 */
export async function takeOver(services: Base, folder: string): Promise<TakenOver> {
  const { frames, folders, blobs } = services,
    result: TakenOver = { shots: [], same: 0, media: 0, recipes: 0, renders: 0 };
  const media: { hash: string; name: string; info: StoredInfo; created: Date }[] = [];
  for await (const medium of readMedia(folder)) {
    const from = join(folder, 'media', medium.hash),
      info = JSON.parse(await readFile(join(from, 'info.json'), 'utf8')) as StoredInfo;
    if (!(await frames.has(medium.hash))) {
      await rename(from, join(folders.frames, medium.hash));
      result.media++;
    }
    media.push({ hash: medium.hash, name: medium.name, info, created: new Date(medium.created) });
  }
  const have = new Set(await blobs.list()),
    samples = join(folder, 'samples');
  for (const name of await names(samples)) if (!have.has(name.slice(0, 64))) await rename(join(samples, name), join(folders.blobs, name));
  // The transaction is read from files again and again, so that no archive has to fit into memory.
  await services.database.transaction(async (manager) => {
    for (const m of media) {
      const known = await manager.findOneBy(Medium, { hash: m.hash });
      if (!known) await manager.insert(Medium, { ...m, deleted: null, told: false } as never);
      else if (known.deleted) await manager.update(Medium, { hash: m.hash }, { deleted: null, told: false });
    }
    for (const p of await readProductions(folder))
      if (!(await manager.findOneBy(Production, { id: p.id })))
        await manager.insert(Production, { id: p.id, name: p.name, created: new Date(p.created) });
    for await (const shot of readShots(folder)) {
      const own = await manager.findOneBy(ShotEntity, { id: shot.id });
      if (
        own &&
        !own.deleted &&
        own.revision === shot.revision &&
        JSON.stringify(await documentOf(manager, own)) === JSON.stringify(readShot(shot.document))
      ) {
        result.same++;
        continue;
      }
      const taken = new Set(
          (await manager.find(ShotEntity, { select: { code: true }, where: { productionId: shot.production } })).map((s) => s.code),
        ),
        document = readShot(shot.document),
        code = own ? free(`${document.code} restored`, taken) : free(document.code, taken);
      await insertShot(manager, own ? randomUUID() : shot.id, shot, code);
      result.shots.push(code);
    }
    const recipes = new Set((await manager.find(RecipeEntity, { select: { id: true } })).map((r) => r.id));
    for (const r of await readRecipes(folder)) {
      if (recipes.has(r.id)) continue;
      await manager.insert(RecipeEntity, { id: r.id, name: r.name, recipe: readRecipe(r.recipe), created: new Date(r.created) } as never);
      result.recipes++;
    }
    const stock = new Set((await manager.find(StockEntity, { select: { id: true } })).map((s) => s.id));
    for (const s of await readStock(folder))
      if (!stock.has(s.id)) await manager.insert(StockEntity, { ...s, created: new Date(s.created) });
    for await (const r of readRenders(folder)) {
      if (await manager.findOneBy(Job, { id: r.id })) continue;
      const name = String(r.result.file),
        shot = r.shot ? await manager.findOneBy(ShotEntity, { id: r.shot }) : null;
      await mkdir(join(folders.renders, r.id), { recursive: true });
      await rename(join(folder, 'renders', r.id, name), join(folders.renders, r.id, name));
      await manager.insert(Job, {
        id: r.id,
        kind: 'render',
        state: 'done',
        title: r.title,
        shotId: shot?.id ?? null,
        input: r.input,
        done: r.total,
        total: r.total,
        message: '',
        result: r.result,
        attempts: 0,
        interrupted: 0,
        deleted: null,
        created: new Date(r.created),
        updated: new Date(),
      } as never);
      result.renders++;
    }
  });
  result.shots.sort();
  services.shots.changed();
  return result;
}

const names = async (folder: string): Promise<string[]> => readdir(folder).catch(() => []);
function free(wish: string, taken: ReadonlySet<string>): string {
  let code = wish.slice(0, 110);
  for (let n = 2; taken.has(code); n++) code = `${wish.slice(0, 110)} ${n}`;
  return code;
}

/** A shot with its revisions. Under another code that is a further revision of its own, so that its history still holds. */
async function insertShot(manager: EntityManager, id: string, shot: StoredShot, code: string): Promise<void> {
  const old = readShot(shot.document),
    renamed = old.code !== code,
    document = { ...old, code },
    revision = shot.revision + (renamed ? 1 : 0);
  await manager.insert(ShotEntity, {
    id,
    productionId: shot.production,
    code,
    title: document.title,
    revision,
    document,
    documentRevision: revision,
    facts: factsOf(document),
    deleted: null,
    created: new Date(shot.created),
    updated: new Date(shot.updated),
  } as never);
  const rows = shot.revisions.map((r) => ({ ...r, shotId: id, created: new Date(r.created) }));
  for (let i = 0; i < rows.length; i += 100) await manager.insert(Revision, rows.slice(i, i + 100) as never);
  if (renamed)
    await manager.insert(Revision, {
      shotId: id,
      revision,
      name: 'Came in under another code',
      kind: 'do',
      patches: [{ op: 'replace', path: ['code'], value: code }],
      inverse: [{ op: 'replace', path: ['code'], value: old.code }],
      snapshot: null,
      created: new Date(),
    } as never);
  if (isOlder(shot.document)) await bringUpToDate(manager, id);
}
