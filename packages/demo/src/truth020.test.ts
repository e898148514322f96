import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Codes } from '@wraithos/core/image';
import type { TrackSample } from '@wraithos/core/motion';
import { FrameRenderer, type Sources } from '@wraithos/core/render';
import { FrameStore, hashMedium, probe } from '@wraithos/runtime';
import { finished020 } from './document020';
import { judgeMatte, verdictWords } from './judgeMatte';
import { RUN_IN } from './walk020';

const media = join(process.cwd(), 'packages', 'demo', 'media', 'TW_020'),
  hashes: Record<string, string> = {};
let folder = '',
  store: FrameStore;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'wraithos-truth020-'));
  store = new FrameStore(folder);
  for (const file of ['performance.mp4', 'clean.mp4', 'truth-matte.mp4']) {
    hashes[file] = await hashMedium(join(media, file));
    await store.add(hashes[file], join(media, file), await probe(join(media, file)));
  }
}, 120_000);
afterAll(() => rm(folder, { recursive: true, force: true }));
const codes = (file: string, frame: number): Promise<Codes> => store.codes(hashes[file]!, frame),
  json = async <T>(file: string) => JSON.parse(await readFile(join(media, file), 'utf8')) as T;

test.each(['lantern', 'buoy'] as const)(
  'the stored track of the %s is right where it claims to be, once the warden stands',
  async (what) => {
    const truth = (await json<Record<string, [number, number][]>>('truth.json'))[what]!,
      stored = (await json<TrackSample[]>(`track-${what}.json`)).filter((s) => s.state === 'good' && s.frame >= RUN_IN);
    expect(stored.length).toBeGreaterThanOrEqual(68);
    for (const s of stored) expect(Math.hypot(s.x! - truth[s.frame]![0], s.y! - truth[s.frame]![1])).toBeLessThan(1);
  },
);

test('the warden is gone from the built clean plate, and it drifts as the camera does', async () => {
  const plate = await codes('clean.mp4', 96),
    filmed = await codes('performance.mp4', 96),
    { data: matte, channels } = await codes('truth-matte.mp4', 96),
    luma = ({ data, channels: n }: Codes, p: number) => 0.2126 * data[p * n]! + 0.7152 * data[p * n + 1]! + 0.0722 * data[p * n + 2]!;
  // The sky, the shore and the far planks are as they were filmed; the lamp lights what is near her.
  let [off, count, inside, body] = [0, 0, 0, 0];
  for (let y = 60; y < 310; y++)
    for (let x = 700; x < 1240; x++) {
      const p = y * plate.width + x;
      off += Math.abs(luma(plate, p) - luma(filmed, p));
      count++;
    }
  for (let p = 0; p < plate.width * plate.height; p++)
    if (matte[p * channels]! > 250) {
      body++;
      if (Math.abs(luma(plate, p) - luma(filmed, p)) < 3) inside++;
    }
  expect(off / count).toBeLessThan(2);
  expect(inside / body).toBeLessThan(0.1);
});

test('the matte from the built plate is the true matte: soft edge, few holes, little beside it', async () => {
  const shot = finished020(
      { performance: { path: 'performance.mp4' }, clean: { path: 'clean.mp4' } },
      {
        lantern: 'track-lantern.json',
        buoy: 'track-buoy.json',
        bollard: 'track-bollard.json',
        cuff: 'track-cuff.json',
        camera: 'track-camera.json',
      },
    ),
    sources: Sources = {
      frame: (clip, frame) => codes('path' in clip.media ? clip.media.path : '', frame),
      samples: (name) => json<TrackSample[]>(name),
    },
    renderer = new FrameRenderer(sources, shot, 128 * 2 ** 20, undefined, false);
  for (const frame of [1048, 1056, 1066]) {
    const matte = await renderer.renderMatte(shot, 'k1', frame, 1, (m) => new Float32Array(m.data)),
      verdict = judgeMatte(matte, await codes('truth-matte.mp4', RUN_IN + frame - 1001));
    console.info(verdictWords(frame, verdict));
    expect(verdict.off / verdict.edge).toBeLessThanOrEqual(0.14);
    expect(verdict.holes).toBeLessThanOrEqual(0.02);
    expect(verdict.beside).toBeLessThanOrEqual(0.003);
  }
}, 120_000);
