/** Writes TW_010's documents beside its media, with paths, for the command line: `node scripts/run.mjs packages/demo/src/writeDocuments.ts`. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { finished, startHere } from './documents';

const folder = process.argv[2] ?? join(process.cwd(), 'packages', 'demo', 'media', 'TW_010');
const media = {
  performance: { path: 'performance.mp4' },
  clean: { path: 'clean.png' },
  occluder: { path: 'occluder.png' },
  reference: { path: 'reference.mp4' },
};
writeFileSync(join(folder, 'start-here.json'), `${JSON.stringify(startHere(media), null, 1)}\n`);
writeFileSync(
  join(folder, 'finished.json'),
  `${JSON.stringify(finished(media, { pin: 'track-pin.json', lantern: 'track-lantern.json' }), null, 1)}\n`,
);
