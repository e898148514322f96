/**
 * Tracks what the demo's documents hang on as a person would, from a click on its middle, and writes the samples beside the clip:
 * `node scripts/run.mjs packages/demo/src/writeTracks.ts [CODE …]`, before writeDocuments.
 */
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { lumaOfCodes, newPlane } from '@wraithos/core/image';
import { PointTracker, type TrackSample } from '@wraithos/core/motion';
import { FrameStore, hashMedium, probe } from '@wraithos/runtime';
import { HEIGHT, WIDTH } from './measures';

type Place = readonly [number, number];
interface Wanted {
  shot: string;
  clip: string;
  what: string;
  /** Frames at which a person would begin, and the last frame that each is followed to; both ways from each. */
  begins: readonly { at: number; until: number }[];
  pattern: number;
  search?: number;
  /** Where the truth has it at a frame; null where it is not to be seen. */
  truth(data: Record<string, unknown>, frame: number): Place | null;
}
const named =
  (name: string) =>
  (data: Record<string, unknown>, frame: number): Place | null =>
    (data[name] as Place[])[frame] ?? null;
const eye =
  (n: number) =>
  (data: Record<string, unknown>, frame: number): Place | null =>
    (data.eyes as Place[][])[frame]?.[n] ?? null;

/** The bollard stands still before the camera, which drifts. */
const bollard = (data: Record<string, unknown>, frame: number): Place | null => {
  const drift = (data.camera as Place[])[frame];
  return drift ? [644 + drift[0], 575 + drift[1]] : null;
};

const wanted: Wanted[] = [
  { shot: 'TW_010', clip: 'performance.mp4', what: 'pin', begins: [{ at: 62, until: 999 }], pattern: 19, truth: named('pin') },
  { shot: 'TW_010', clip: 'performance.mp4', what: 'lantern', begins: [{ at: 0, until: 999 }], pattern: 27, truth: named('lantern') },
  { shot: 'TW_020', clip: 'performance.mp4', what: 'lantern', begins: [{ at: 88, until: 999 }], pattern: 27, truth: named('lantern') },
  { shot: 'TW_020', clip: 'performance.mp4', what: 'buoy', begins: [{ at: 88, until: 999 }], pattern: 31, truth: named('buoy') },
  { shot: 'TW_020', clip: 'performance.mp4', what: 'bollard', begins: [{ at: 88, until: 999 }], pattern: 61, truth: bollard },
  {
    shot: 'TW_030',
    clip: 'performance',
    what: 'near-eye',
    begins: [
      { at: 44, until: 47 },
      { at: 50, until: 999 },
    ],
    pattern: 25,
    search: 201,
    truth: eye(0),
  },
  { shot: 'TW_030', clip: 'performance', what: 'far-eye', begins: [{ at: 50, until: 999 }], pattern: 25, search: 121, truth: eye(1) },
];
const asked = process.argv.slice(2),
  folder = await mkdtemp(join(tmpdir(), 'wraithos-tracks-')),
  store = new FrameStore(folder);
for (const { shot, clip, what, begins, pattern, search = 81, truth } of wanted) {
  if (asked.length && !asked.includes(shot)) continue;
  const media = join(process.cwd(), 'packages', 'demo', 'media', shot),
    path = join(media, clip),
    hash = await hashMedium(path),
    data = JSON.parse(await readFile(join(media, 'truth.json'), 'utf8')) as Record<string, unknown>;
  if (!(await store.has(hash))) await store.add(hash, path, await probe(path));
  const { frames } = await store.info(hash),
    luma = async (frame: number) => lumaOfCodes(await store.codes(hash, frame), newPlane(WIDTH, HEIGHT)),
    samples: TrackSample[] = [];
  for (const { at, until } of begins) {
    const [x, y] = truth(data, at)!,
      first = samples.length,
      begin = async () => new PointTracker(await luma(at), at, [Math.round(x * 100) / 100, Math.round(y * 100) / 100], { pattern, search }),
      forwards = await begin(),
      back = await begin(),
      part: TrackSample[] = [forwards.start];
    for (let f = at + 1; f <= Math.min(until, frames - 1); f++) part.push(forwards.step(await luma(f), f));
    for (let f = at - 1; f >= first; f--) part.unshift(back.step(await luma(f), f));
    samples.push(...part);
  }
  await writeFile(join(media, `track-${what}.json`), JSON.stringify(samples));
  const errors = samples.flatMap((s) => {
    const t = truth(data, s.frame);
    return s.state === 'good' && t ? [Math.hypot(s.x! - t[0], s.y! - t[1])] : [];
  });
  console.error(
    `${shot} ${what}: ${errors.length} of ${frames} good, rms ${Math.sqrt(errors.reduce((n, e) => n + e * e, 0) / errors.length).toFixed(3)} px, worst ${Math.max(...errors).toFixed(2)} px`,
  );
}
await rm(folder, { recursive: true });
