import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { In, IsNull, type EntityManager } from 'typeorm';
import yazl from 'yazl';
import { Job, Medium, Production, RecipeEntity, Revision, ShotEntity, StockEntity } from '../database/entities';
import { documentOf } from '../revisions';
import type { Services } from '../services';
import { CONTENTS, type Contents } from './format';

/** What goes into an archive. */
export interface PackWhat {
  /** Only this production, or only these shots; everything where neither is said. */
  production?: string;
  shots?: readonly string[];
  media: boolean;
  renders: boolean;
}

const HASH = /[0-9a-f]{64}/g;
/** What an entry is made of; asked for only when its turn comes. */
type Entry = { name: string; pressed: boolean; open(): Promise<Readable> };
const text = (name: string, make: () => Promise<unknown> | unknown): Entry => ({
  name,
  pressed: true,
  open: async () => Readable.from([Buffer.from(JSON.stringify(await make()))]),
});
const file = (name: string, path: string, pressed: boolean): Entry => ({ name, pressed, open: async () => createReadStream(path) });

/**
 * An archive as a stream, while everything goes on: rows are read in one transaction, so that they belong together, and what they name never
 * changes. Nothing is held in memory but one shot at a time.
 */
export async function pack(services: Services, what: PackWhat, onError: (error: unknown) => void): Promise<Readable> {
  const runner = services.database.createQueryRunner();
  await runner.connect();
  await runner.startTransaction('REPEATABLE READ');
  let over = false;
  const release = async () => {
    if (over) return;
    over = true;
    await runner.rollbackTransaction().catch(() => undefined);
    await runner.release().catch(() => undefined);
  };
  const zip = new yazl.ZipFile(),
    out = zip.outputStream as Readable,
    contents: Contents = { kind: 'wraithos archive', version: 1, created: new Date().toISOString(), entries: {} },
    fail = (error: unknown) => {
      onError(error);
      out.destroy(error as Error);
      void release();
    };
  zip.on('error', fail);
  out.on('close', () => void release());
  const add = ({ name, pressed, open }: Entry) =>
    zip.addReadStreamLazy(name, { compressionLevel: pressed ? 1 : 0 }, (ready) => {
      open().then(
        (stream) => {
          stream.on('error', fail);
          ready(null, stream.pipe(counted(name, contents)));
        },
        (error: unknown) => {
          fail(error);
          ready(error as Error, Readable.from([]) as never);
        },
      );
    });
  try {
    for (const entry of await entriesOf(services, runner.manager, what)) add(entry);
    add({ name: CONTENTS, pressed: true, open: async () => Readable.from([Buffer.from(JSON.stringify(contents))]) });
    zip.end();
    return out;
  } catch (error) {
    await release();
    throw error;
  }
}

/** Passes bytes on and notes how many there were, and their hash. */
function counted(name: string, contents: Contents): Transform {
  const hash = createHash('sha256');
  let bytes = 0;
  return new Transform({
    transform(chunk: Buffer, _, done) {
      hash.update(chunk);
      bytes += chunk.length;
      done(null, chunk);
    },
    flush(done) {
      if (name !== CONTENTS) contents.entries[name] = { bytes, sha256: hash.digest('hex') };
      done();
    },
  });
}

async function entriesOf(services: Services, manager: EntityManager, what: PackWhat): Promise<Entry[]> {
  const { frames, blobs, folders } = services,
    everything = !what.production && !what.shots,
    rows = await manager.find(ShotEntity, {
      select: { id: true, productionId: true },
      where: {
        deleted: IsNull(),
        ...(what.production ? { productionId: what.production } : {}),
        ...(what.shots ? { id: In([...what.shots]) } : {}),
      },
      order: { created: 'ASC' },
    }),
    productions = await manager.find(Production, {
      where: everything ? {} : { id: In([...new Set(rows.map((r) => r.productionId)), ...(what.production ? [what.production] : [])]) },
    }),
    named = await hashesIn(
      manager,
      rows.map((r) => r.id),
    ),
    media = (await manager.find(Medium)).filter((m) => (everything ? m.deleted === null || named.has(m.hash) : named.has(m.hash))),
    entries: Entry[] = [
      text('productions.json', () => productions.map((p) => ({ id: p.id, name: p.name, created: p.created.toISOString() }))),
    ];
  if (everything)
    entries.push(
      text('recipes.json', async () =>
        (await manager.find(RecipeEntity)).map((r) => ({ id: r.id, name: r.name, recipe: r.recipe, created: r.created.toISOString() })),
      ),
    );
  if (everything)
    entries.push(
      text('stock.json', async () => (await manager.find(StockEntity)).map((s) => ({ ...s, created: s.created.toISOString() }))),
    );
  for (const { id } of rows) entries.push(text(`shots/${id}.json`, () => storedShot(manager, id)));
  for (const hash of await blobs.list()) if (named.has(hash)) entries.push(file(`samples/${hash}.json`, blobs.file(hash), true));
  if (what.media)
    for (const medium of media) {
      if (!(await frames.has(medium.hash))) continue;
      entries.push(
        text(`media/${medium.hash}.json`, () => ({ hash: medium.hash, name: medium.name, created: medium.created.toISOString() })),
      );
      for (const name of (await readdir(join(folders.frames, medium.hash))).sort())
        entries.push(file(`media/${medium.hash}/${name}`, join(folders.frames, medium.hash, name), true));
    }
  if (what.renders)
    for (const job of await manager.find(Job, { where: { kind: 'render', state: 'done', deleted: IsNull() } })) {
      if (!everything && !rows.some((r) => r.id === job.shotId)) continue;
      const name = String(job.result?.file);
      entries.push(
        text(`renders/${job.id}.json`, () => {
          const { document: _, ...input } = job.input;
          return {
            id: job.id,
            shot: job.shotId,
            title: job.title,
            input,
            total: job.total,
            result: job.result,
            created: job.created.toISOString(),
          };
        }),
        file(`renders/${job.id}/${name}`, join(folders.renders, job.id, name), false),
      );
    }
  return entries;
}

/** All hashes that documents and revisions of these shots name. */
async function hashesIn(manager: EntityManager, shots: readonly string[]): Promise<Set<string>> {
  const found = new Set<string>();
  for (const id of shots) {
    const texts = (await manager.query(
      'SELECT document AS t FROM shots WHERE id = ? UNION ALL SELECT CONCAT(patches, inverse, COALESCE(snapshot, "")) FROM revisions WHERE shot_id = ?',
      [id, id],
    )) as { t: string }[];
    for (const { t } of texts) for (const hash of t.match(HASH) ?? []) found.add(hash);
  }
  return found;
}

async function storedShot(manager: EntityManager, id: string) {
  const row = await manager.findOneByOrFail(ShotEntity, { id }),
    revisions = await manager.find(Revision, { where: { shotId: id }, order: { revision: 'ASC' } });
  return {
    id,
    production: row.productionId,
    revision: row.revision,
    document: await documentOf(manager, row),
    created: row.created.toISOString(),
    updated: row.updated.toISOString(),
    revisions: revisions.map((r) => ({
      revision: r.revision,
      name: r.name,
      kind: r.kind,
      patches: r.patches,
      inverse: r.inverse,
      snapshot: r.snapshot,
      created: r.created.toISOString(),
    })),
  };
}
