import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, readdir, readFile, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { text } from 'node:stream/consumers';
import yauzl from 'yauzl';
import { z } from 'zod';
import { readRecipe } from '@wraithos/core/recipes';
import { readShot } from '@wraithos/core/shot';
import { samplesSchema } from '@wraithos/core/motion';
import { Explained, type StoredInfo } from '@wraithos/runtime';
import {
  CONTENTS,
  contentsSchema,
  ENTRY,
  isEntry,
  productionSchema,
  storedMediumSchema,
  storedRecipeSchema,
  storedStockSchema,
  storedRenderSchema,
  storedShotSchema,
} from './format';

/** An archive to be laid out in a folder and checked, before anything of it is taken over. */
export interface UnpackTask {
  kind: 'unpack';
  path: string;
  folder: string;
}
export interface Unpacked {
  shots: number;
  media: number;
}
const MOST_ENTRIES = 500_000,
  MOST_TEXT = 512 * 2 ** 20;
const wrong = (why: string): never => {
  throw new Explained(`This is not an archive of Wraithos, or it is damaged: ${why}. Nothing of it was taken over.`);
};

/** Lays an archive out and checks every entry by its size and SHA-256, and every document by its schema. @throws Explained. */
export async function unpack(task: UnpackTask, progress: (value: { done: number; total: number }) => void): Promise<Unpacked> {
  const zip = await yauzl
    .openPromise(task.path, { autoClose: false, lazyEntries: true })
    .catch(() => wrong('it cannot be opened as a ZIP file'));
  try {
    if (zip.entryCount > MOST_ENTRIES) wrong('it has too many entries');
    const entries = new Map<string, yauzl.Entry>();
    try {
      for await (const entry of zip.eachEntry()) entries.set(entry.fileName, entry);
    } catch {
      wrong('its list of entries is damaged');
    }
    const open = async (entry: yauzl.Entry): Promise<Readable> =>
      zip.openReadStreamPromise(entry).catch(() => wrong(`${entry.fileName} cannot be read`));
    const last = entries.get(CONTENTS) ?? wrong('its list of contents is missing; it was not finished');
    if (last.uncompressedSize > MOST_TEXT) wrong('its list of contents is too long');
    const contents = contentsSchema.safeParse(parsed(await text(await open(last)).catch(() => wrong('its list of contents is damaged'))));
    if (!contents.success) return wrong('its list of contents is of another form');
    entries.delete(CONTENTS);
    const named = Object.entries(contents.data.entries);
    for (const name of entries.keys())
      if (!Object.hasOwn(contents.data.entries, name)) wrong(`${name.slice(0, 80)} is not in its list of contents`);
    let done = 0;
    for (const [name, { bytes, sha256 }] of named) {
      const entry = entries.get(name) ?? wrong(`${name.slice(0, 80)} is missing`);
      if (!isEntry(name)) wrong(`${name.slice(0, 80)} is nothing that belongs in it`);
      if (entry.uncompressedSize !== bytes) wrong(`${name} is not as long as it should be`);
      const target = join(task.folder, name);
      await mkdir(dirname(target), { recursive: true });
      const got = await copied(await open(entry), target, name);
      if (got.sha256 !== sha256 || got.bytes !== bytes) wrong(`${name} is not what was written`);
      progress({ done: ++done, total: named.length });
    }
    return { shots: await checkTexts(task.folder), media: await checkMedia(task.folder) };
  } finally {
    zip.close();
  }
}

async function copied(from: Readable, target: string, name: string): Promise<{ sha256: string; bytes: number }> {
  const hash = createHash('sha256');
  let bytes = 0;
  const count = new Transform({
    transform(chunk: Buffer, _, next) {
      hash.update(chunk);
      bytes += chunk.length;
      next(null, chunk);
    },
  });
  await pipeline(from, count, createWriteStream(target)).catch((error: NodeJS.ErrnoException) => {
    // A full disk is no fault of the archive.
    if (error.code?.startsWith('E')) throw error;
    wrong(`${name} is damaged`);
  });
  return { sha256: hash.digest('hex'), bytes };
}

const parsed = (content: string): unknown => {
  try {
    return JSON.parse(content);
  } catch {
    return wrong('a text of it is no JSON');
  }
};
async function read<S extends z.ZodType>(path: string, schema: S, what: string): Promise<z.infer<S> | null> {
  if (!(await stat(path).catch(() => null))) return null;
  const result = schema.safeParse(parsed(await readFile(path, 'utf8')));
  return result.success ? result.data : wrong(`${what} is of another form`);
}
const listed = async (folder: string): Promise<string[]> => (await readdir(folder).catch(() => [])).sort();

/** Reads what was laid out. @throws Explained where a text is not what it should be. */
export async function readProductions(folder: string) {
  return (await read(join(folder, ENTRY.productions), z.array(productionSchema), 'its list of productions')) ?? [];
}
export async function readRecipes(folder: string) {
  return (await read(join(folder, ENTRY.recipes), z.array(storedRecipeSchema), 'its list of recipes')) ?? [];
}
export async function readStock(folder: string) {
  return (await read(join(folder, ENTRY.stock), z.array(storedStockSchema), 'its list of elements')) ?? [];
}
export async function* readShots(folder: string) {
  for (const name of await listed(join(folder, 'shots'))) yield (await read(join(folder, 'shots', name), storedShotSchema, 'a shot'))!;
}
export async function* readMedia(folder: string) {
  for (const name of await listed(join(folder, 'media')))
    if (name.endsWith('.json')) yield (await read(join(folder, 'media', name), storedMediumSchema, 'a medium'))!;
}
export async function* readRenders(folder: string) {
  for (const name of await listed(join(folder, 'renders')))
    if (name.endsWith('.json')) yield (await read(join(folder, 'renders', name), storedRenderSchema, 'a render'))!;
}

async function checkTexts(folder: string): Promise<number> {
  const productions = new Set((await readProductions(folder)).map((p) => p.id));
  let shots = 0;
  for await (const shot of readShots(folder)) {
    if (!productions.has(shot.production)) wrong('a shot belongs to no production of it');
    try {
      readShot(shot.document);
    } catch (error) {
      wrong((error as Error).message.replace(/\.$/, ''));
    }
    if (shot.revisions.at(-1)?.revision !== shot.revision || !shot.revisions[0]?.snapshot) wrong('the revisions of a shot are not whole');
    shots++;
  }
  for (const { recipe } of await readRecipes(folder))
    try {
      readRecipe(recipe);
    } catch (error) {
      wrong((error as Error).message.replace(/\.$/, ''));
    }
  for (const name of await listed(join(folder, 'samples'))) {
    const content = await readFile(join(folder, 'samples', name), 'utf8');
    if (createHash('sha256').update(content).digest('hex') !== name.slice(0, 64) || !samplesSchema.safeParse(parsed(content)).success)
      wrong('track samples are not what their name says');
  }
  return shots;
}

async function checkMedia(folder: string): Promise<number> {
  let count = 0;
  for await (const { hash } of readMedia(folder)) {
    const place = join(folder, 'media', hash),
      info = parsed(await readFile(join(place, 'info.json'), 'utf8').catch(() => wrong('a medium has no facts'))) as StoredInfo;
    const whole =
      [info.width, info.height, info.frames].every((n) => Number.isInteger(n) && n > 0) &&
      [1, 3, 4].includes(info.channels) &&
      [8, 16].includes(info.bitDepth);
    if (!whole) wrong('the facts of a medium are of another form');
    let bytes = 0;
    for (const name of await listed(place)) if (name.endsWith('.raw')) bytes += (await stat(join(place, name))).size;
    if (bytes !== info.width * info.height * info.channels * (info.bitDepth / 8) * info.frames) wrong('frames of a medium are missing');
    count++;
  }
  return count;
}
