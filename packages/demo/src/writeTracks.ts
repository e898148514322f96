/**
 * Tracks the scarf pin and the lantern of TW_010 as a person would, from a click on their middle, and writes the samples beside the clip:
 * `node scripts/run.mjs packages/demo/src/writeTracks.ts`, before writeDocuments.
 */
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { lumaOfCodes, newPlane } from '@wraithos/core/image';
import { PointTracker, type TrackSample } from '@wraithos/core/motion';
import { FrameStore, hashMedium, probe } from '@wraithos/runtime';
import { HEIGHT, WIDTH } from './measures';

const media = join(process.cwd(), 'packages', 'demo', 'media', 'TW_010'),
  clip = join(media, 'performance.mp4'),
  folder = await mkdtemp(join(tmpdir(), 'wraithos-tracks-')),
  store = new FrameStore(folder),
  hash = await hashMedium(clip),
  truth = JSON.parse(await readFile(join(media, 'truth.json'), 'utf8')) as Record<'pin' | 'lantern', [number, number][]>;
await store.add(hash, clip, await probe(clip));
const luma = async (frame: number) => lumaOfCodes(await store.codes(hash, frame), newPlane(WIDTH, HEIGHT));
/** Frame at which the lantern is up and a person would begin: forwards to the end, then back to the beginning. */
const BEGINS = 62;
for (const what of ['pin', 'lantern'] as const) {
  const [x, y] = truth[what][BEGINS]!,
    begin = async () =>
      new PointTracker(await luma(BEGINS), BEGINS, [Math.round(x * 100) / 100, Math.round(y * 100) / 100], {
        pattern: what === 'pin' ? 19 : 23,
        search: 81,
      }),
    forwards = await begin(),
    back = await begin(),
    samples: TrackSample[] = [forwards.start];
  for (let f = BEGINS + 1; f < truth[what].length; f++) samples.push(forwards.step(await luma(f), f));
  for (let f = BEGINS - 1; f >= 0; f--) samples.unshift(back.step(await luma(f), f));
  await writeFile(join(media, `track-${what}.json`), JSON.stringify(samples));
  const errors = samples.flatMap((s) =>
    s.state === 'good' ? [Math.hypot(s.x! - truth[what][s.frame]![0], s.y! - truth[what][s.frame]![1])] : [],
  );
  console.error(
    `${what}: ${errors.length} good, rms ${Math.sqrt(errors.reduce((n, e) => n + e * e, 0) / errors.length).toFixed(3)} px, worst ${Math.max(...errors).toFixed(2)} px`,
  );
}
await rm(folder, { recursive: true });
