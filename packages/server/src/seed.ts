import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { finished, startHere } from '@wraithos/demo';
import { hashMedium, probe, samplesSchema } from '@wraithos/runtime';
import { Medium, Production } from './database/entities';
import type { Services } from './services';
import { createShot } from './shots';

/** Puts the demo production in on the first start. A production that people deleted or changed is left as it is. */
export async function seed(services: Services, demoFolder: string, say: (line: string) => void): Promise<void> {
  const { manager } = services.database,
    folder = join(demoFolder, 'TW_010');
  if (!existsSync(folder)) return;
  const bring = async (file: string) => {
    const path = join(folder, file),
      hash = await hashMedium(path);
    if (!(await services.frames.has(hash))) {
      say(`reading ${file}`);
      await services.frames.add(hash, path, await probe(path));
    }
    await manager.upsert(Medium, { hash, name: file, info: await services.frames.info(hash), created: new Date() }, ['hash']);
    return { hash };
  };
  // The frames of the demo are read again where somebody emptied the store.
  const media = {
    performance: await bring('performance.mp4'),
    clean: await bring('clean.png'),
    occluder: await bring('occluder.png'),
    reference: await bring('reference.mp4'),
  };
  if (await manager.count(Production)) return;
  const samples = async (name: string) =>
    services.blobs.put(samplesSchema.parse(JSON.parse(await readFile(join(folder, `track-${name}.json`), 'utf8'))));
  const production = { id: randomUUID(), name: 'Tidewatch', created: new Date() };
  await manager.insert(Production, production);
  await createShot(services, production.id, finished(media, { pin: await samples('pin'), lantern: await samples('lantern') }));
  await createShot(services, production.id, startHere(media));
}
