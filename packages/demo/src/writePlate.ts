/**
 * Builds TW_020's clean plate as the page does, from the run-in before she comes to her place, and writes it beside the clip, with how it came to be in
 * plate020.ts: `node scripts/run.mjs packages/demo/src/writePlate.ts`, after the clip was drawn anew.
 */
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { MadePlate } from '@wraithos/core/shot';
import { FrameStore, hashMedium, plateOf, probe } from '@wraithos/runtime';
import { encode } from './encode';

/** The last frame that is looked at: after it she stands in the way of what is behind her. */
const LAST = 38;
const media = join(process.cwd(), 'packages', 'demo', 'media', 'TW_020'),
  path = join(media, 'performance.mp4'),
  folder = await mkdtemp(join(tmpdir(), 'wraithos-plate-')),
  store = new FrameStore(folder),
  hash = await hashMedium(path);
await store.add(hash, path, await probe(path));
const built = await plateOf(
    store,
    hash,
    { camera: 'measured', flicker: true, grain: false, use: Array.from({ length: LAST + 1 }, (_, f) => f) },
    { tell: (done, what) => console.error(`${what}, ${Math.round(100 * done)} %`) },
  ),
  frames: Uint8Array[] = [];
for (let f = 0; f < built.count; f++) {
  const { data, bits } = await built.frame(f);
  frames.push(bits === 8 ? (data as Uint8Array) : Uint8Array.from(data, (v) => Math.round(v / 257)));
}
await encode('film', frames, built.info.width, built.info.height, join(media, 'clean.mp4'));
await rm(folder, { recursive: true });
const { report } = built,
  made: MadePlate = {
    ...{ clip: 'c1', camera: 'measured', flicker: true, grain: false, first: 0, last: LAST, matte: null, doubt: null },
    frames: report.frames,
    drift: Number(report.drift.toFixed(2)),
    flickered: Number(report.flicker.toFixed(2)),
    unsure: Number(report.unsure.toFixed(4)),
    areas: report.areas,
  };
await writeFile(
  join(process.cwd(), 'packages', 'demo', 'src', 'plate020.ts'),
  `import type { MadePlate } from '@wraithos/core/shot';\n\n/** How TW_020's clean plate came to be. Written by writePlate.ts. */\nexport const PLATE_020: MadePlate = ${JSON.stringify(made, null, 2)};\n`,
);
console.error(`unsure ${(100 * report.unsure).toFixed(2)} %, drift ${made.drift} px, ${built.count} frames`);
