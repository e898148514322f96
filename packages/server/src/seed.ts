import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { faceFiles, finished, finished020, finished025, finished030, finished040, finished050, startHere } from '@wraithos/demo';
import { samplesSchema } from '@wraithos/core/motion';
import { hashMedium, probe } from '@wraithos/runtime';
import { Medium, Production } from './database/entities';
import { usesOfMedia } from './folder/uses';
import type { Services } from './services';

/** Puts the demo production in on the first start. A production that people deleted or changed is left as it is. */
export async function seed(services: Omit<Services, 'jobs'>, demoFolder: string, say: (line: string) => void): Promise<void> {
  const { manager } = services.database;
  if (!existsSync(join(demoFolder, 'TW_010'))) return;
  const first = (await manager.count(Production)) === 0;
  // The frames of the demo are read again where somebody emptied the store; what nobody uses any more is not brought back.
  const bring = async (code: string, file: string, name = file) => {
    const path = join(demoFolder, code, file),
      hash = await hashMedium(path),
      wanted = first || (await usesOfMedia(services, [hash])).size > 0;
    if (!wanted) return { hash };
    if (!(await services.frames.has(hash))) {
      say(`reading ${code} ${file}`);
      await services.frames.add(hash, path, await probe(path));
    }
    if (!(await manager.existsBy(Medium, { hash })))
      await manager.insert(Medium, {
        hash,
        name,
        info: await services.frames.info(hash),
        created: new Date(),
        deleted: null,
        told: false,
      } as never);
    return { hash };
  };
  const media = {
      performance: await bring('TW_010', 'performance.mp4'),
      clean: await bring('TW_010', 'clean.png'),
      occluder: await bring('TW_010', 'occluder.png'),
      reference: await bring('TW_010', 'reference.mp4'),
    },
    lantern = { performance: await bring('TW_020', 'performance.mp4'), clean: await bring('TW_020', 'clean.mp4') },
    close = { performance: await bring('TW_025', 'performance.mp4'), clean: await bring('TW_025', 'clean.png') },
    fox = {
      performance: await bring('TW_030', 'performance', 'tw030_fox'),
      ground: await bring('TW_030', 'ground/still.png', 'tw030_ground'),
    },
    shelf = (id: string, name: string) => bring('stockroom', id, name),
    bell = {
      performance: await bring('TW_040', 'performance.mp4'),
      takeTwo: await bring('TW_040', 'take-two.mp4'),
      matte: await bring('TW_040', 'truth-matte.mp4', 'tw040_matte'),
      strike: await shelf('strike', 'Strike'),
      dust: await shelf('dust-puff', 'Dust puff'),
      smoke: await shelf('smoke-burst', 'Smoke burst'),
    },
    chart = {
      performance: await bring('TW_050', 'performance.mp4'),
      room: await bring('TW_050', 'chart-room.png'),
      splash: await shelf('splash', 'Splash'),
      tideRing: await shelf('tide-ring', 'Tide ring'),
    };
  if (!first) return;
  const samples = async (code: string, name: string) =>
    services.blobs.put(samplesSchema.parse(JSON.parse(await readFile(join(demoFolder, code, `track-${name}.json`), 'utf8'))));
  const eachOf = async <K extends string>(names: Record<K, string>) =>
    Object.fromEntries(
      await Promise.all(Object.entries<string>(names).map(async ([part, name]) => [part, await samples('TW_025', name)] as const)),
    ) as Record<K, string>;
  const shots = [
    finished(media, { pin: await samples('TW_010', 'pin'), lantern: await samples('TW_010', 'lantern') }),
    startHere(media),
    finished020(lantern, {
      lantern: await samples('TW_020', 'lantern'),
      buoy: await samples('TW_020', 'buoy'),
      bollard: await samples('TW_020', 'bollard'),
      cuff: await samples('TW_020', 'cuff'),
      camera: await samples('TW_020', 'camera'),
    }),
    finished025(close, {
      face: await samples('TW_025', faceFiles.face),
      parts: await eachOf(faceFiles.parts),
      lids: await eachOf(faceFiles.lids),
    }),
    finished030(fox, {
      near: await samples('TW_030', 'near-eye'),
      far: await samples('TW_030', 'far-eye'),
      open: await samples('TW_030', 'near-eye-open'),
    }),
    finished040(bell),
    finished050(chart),
  ];
  // All or nothing: a start that is cut off leaves no half of a production behind.
  await services.database.transaction(async (into) => {
    const production = { id: randomUUID(), name: 'Tidewatch', created: new Date() };
    await into.insert(Production, production);
    for (const shot of shots) await services.shots.create(production.id, shot, into);
  });
  // Only now are they there for others.
  services.shots.changed();
}
