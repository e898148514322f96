import { samplesSchema } from '@wraithos/core/motion';
import { mkdir, readFile } from 'node:fs/promises';
import { homedir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import type { Clip } from '@wraithos/core/shot';
import type { Sources } from '@wraithos/core/render';
import { FrameStore, type StoredInfo } from './frameStore';
import { hashMedium, probe } from './probe';

/** Decoded frames are kept between calls here; the folder may be deleted at any time. */
export const cacheFolder = (): string =>
  process.env.WRAITH_CACHE ?? join(process.env.XDG_CACHE_HOME ?? join(homedir(), '.cache'), 'wraithos', 'frames');

/** Bytes of decoded frames that are kept there; `WRAITH_CACHE_GIB` says otherwise. */
const cacheLimit = (): number => (Number(process.env.WRAITH_CACHE_GIB) || 20) * 2 ** 30;
/** Media of this run, which never leave while it lasts. */
const inUse = new Set<string>();

/** Decodes a medium (once; known by its content) and gives its place in the store. */
export async function openMedium(path: string): Promise<{ store: FrameStore; hash: string; info: StoredInfo }> {
  const info = await probe(path),
    hash = await hashMedium(path);
  await mkdir(cacheFolder(), { recursive: true });
  const store = new FrameStore(cacheFolder());
  inUse.add(hash);
  if (await store.has(hash)) await store.touch(hash);
  else {
    await store.add(hash, path, info);
    await store.limitTo(cacheLimit(), inUse);
  }
  return { store, hash, info: await store.info(hash) };
}

/** Sources of a document that names its media by path, relative to its own folder; track samples lie beside it as JSON. */
export function fileSources(documentPath: string): Sources {
  const folder = dirname(documentPath),
    opened = new Map<string, Promise<{ store: FrameStore; hash: string }>>();
  const open = (clip: Clip) => {
    if (!('path' in clip.media)) throw new Error(`The clip "${clip.name}" is kept by a server; this document cannot be read without it.`);
    const path = resolve(folder, clip.media.path);
    let medium = opened.get(path);
    if (!medium) opened.set(path, (medium = openMedium(path)));
    return medium;
  };
  return {
    async frame(clip, frame) {
      const { store, hash } = await open(clip);
      return store.codes(hash, frame);
    },
    async samples(name) {
      const text = await readFile(resolve(folder, name), 'utf8').catch(() => {
        throw new Error(`The track samples "${name}" are not beside the document.`);
      });
      const data = JSON.parse(text) as { samples?: unknown };
      return samplesSchema.parse(Array.isArray(data) ? data : data.samples).map((s) => s);
    },
  };
}
