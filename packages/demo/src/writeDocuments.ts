/** Writes the demo's documents beside their media, with paths, for the command line: `node scripts/run.mjs packages/demo/src/writeDocuments.ts`. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Shot } from '@wraithos/core/shot';
import { finished, startHere } from './documents';
import { finished020 } from './document020';
import { faceFiles, finished025, type FaceSamples } from './document025';
import { finished030 } from './document030';
import { finished040 } from './document040';
import { finished050 } from './document050';

const media = process.argv[2] ?? join(process.cwd(), 'packages', 'demo', 'media'),
  write = (code: string, name: string, shot: Shot) =>
    writeFileSync(join(media, code, `${name}.json`), `${JSON.stringify(shot, null, 1)}\n`);
const clips = {
  performance: { path: 'performance.mp4' },
  clean: { path: 'clean.png' },
  occluder: { path: 'occluder.png' },
  reference: { path: 'reference.mp4' },
};
write('TW_010', 'start-here', startHere(clips));
write('TW_010', 'finished', finished(clips, { pin: 'track-pin.json', lantern: 'track-lantern.json' }));
write(
  'TW_020',
  'finished',
  finished020(
    { performance: clips.performance, clean: { path: 'clean.mp4' } },
    {
      lantern: 'track-lantern.json',
      buoy: 'track-buoy.json',
      bollard: 'track-bollard.json',
      cuff: 'track-cuff.json',
      camera: 'track-camera.json',
    },
  ),
);
const fileOf = (name: string) => `track-${name}.json`,
  filesOf = <K extends string>(names: Record<K, string>) =>
    Object.fromEntries(Object.entries<string>(names).map(([part, name]) => [part, fileOf(name)])) as Record<K, string>,
  face: FaceSamples<string> = { face: fileOf(faceFiles.face), parts: filesOf(faceFiles.parts), lids: filesOf(faceFiles.lids) };
write('TW_025', 'finished', finished025({ performance: clips.performance, clean: clips.clean }, face));
write(
  'TW_030',
  'finished',
  finished030(
    { performance: { path: 'performance' }, ground: { path: 'ground/still.png' } },
    { near: 'track-near-eye.json', far: 'track-far-eye.json', open: 'track-near-eye-open.json' },
  ),
);
const shelf = (id: string) => ({ path: `../stockroom/${id}` });
write(
  'TW_040',
  'finished',
  finished040({
    performance: { path: 'performance.mp4' },
    takeTwo: { path: 'take-two.mp4' },
    matte: { path: 'truth-matte.mp4' },
    strike: shelf('strike'),
    dust: shelf('dust-puff'),
    smoke: shelf('smoke-burst'),
  }),
);
write(
  'TW_050',
  'finished',
  finished050({
    performance: { path: 'performance.mp4' },
    room: { path: 'chart-room.png' },
    splash: shelf('splash'),
    tideRing: shelf('tide-ring'),
  }),
);
