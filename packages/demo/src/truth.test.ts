import { createHash } from 'node:crypto';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeCodes, lumaOfCodes, newPlane, type Codes } from '@wraithos/core/image';
import { PointTracker, type TrackSample } from '@wraithos/core/motion';
import { ENGINE_VERSION, FrameRenderer, type Sources } from '@wraithos/core/render';
import { addMatte, applyEdit, readShot } from '@wraithos/core/shot';
import { FrameStore, hashMedium, probe } from '@wraithos/runtime';
import { finished020 } from './document020';
import { finished030 } from './document030';
import { finished040 } from './document040';
import { finished050 } from './document050';
import { finished, startHere } from './documents';
import { judgeMatte, verdictWords } from './judgeMatte';

const media = join(process.cwd(), 'packages', 'demo', 'media', 'TW_010'),
  WIDTH = 1280,
  HEIGHT = 720;
let folder = '',
  store: FrameStore;
const hashes: Record<string, string> = {};
const codes = (file: string, frame: number): Promise<Codes> => store.codes(hashes[file]!, frame);
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'wraithos-truth-'));
  store = new FrameStore(folder);
  for (const file of ['performance.mp4', 'truth-matte.mp4', 'clean.png', 'occluder.png']) {
    hashes[file] = await hashMedium(join(media, file));
    await store.add(hashes[file], join(media, file), await probe(join(media, file)));
  }
}, 60_000);
afterAll(() => rm(folder, { recursive: true, force: true }));
/** TW_010 finished, and what its frames and tracks are read from. */
const film = () =>
    finished(
      {
        performance: { path: 'performance.mp4' },
        clean: { path: 'clean.png' },
        occluder: { path: 'occluder.png' },
        reference: { path: 'reference.mp4' },
      },
      { pin: 'pin', lantern: 'lantern' },
    ),
  sources: Sources = {
    frame: (clip, frame) => codes('path' in clip.media ? clip.media.path : '', frame),
    samples: (name) => json<TrackSample[]>(`track-${name}.json`),
  };
const json = async <T>(file: string) => JSON.parse(await readFile(join(media, file), 'utf8')) as T;

test.each([
  // Standing still from frame 58 on; then the whole clip, in which she walks, turns, and the light on her changes.
  ['pin', 19, 58, { good: 37, rms: 0.15, worst: 0.3 }],
  ['lantern', 27, 58, { good: 37, rms: 0.25, worst: 0.5 }],
  ['pin', 19, 0, { good: 80, rms: 0.5, worst: 1 }],
  ['lantern', 27, 0, { good: 85, rms: 0.5, worst: 1 }],
] as const)(
  'the tracker follows the %s (pattern %i px) from frame %i to the end',
  async (what, pattern, from, most) => {
    const truth = (await json<Record<string, [number, number][]>>('truth.json'))[what]!,
      luma = async (frame: number) => lumaOfCodes(await codes('performance.mp4', frame), newPlane(WIDTH, HEIGHT));
    const begin = truth[from]!.map((v) => Math.round(v * 100) / 100) as [number, number],
      tracker = new PointTracker(await luma(from), from, begin, { pattern, search: 81 }),
      errors: number[] = [];
    for (let f = from + 1; f < truth.length; f++) {
      const s = tracker.step(await luma(f), f);
      if (s.state === 'good') errors.push(Math.hypot(s.x! - truth[f]![0], s.y! - truth[f]![1]));
    }
    const rms = Math.sqrt(errors.reduce((n, e) => n + e * e, 0) / errors.length);
    console.info(`${what}: ${errors.length} good, rms ${rms.toFixed(3)} px, worst ${Math.max(...errors).toFixed(2)} px`);
    expect(errors.length).toBeGreaterThanOrEqual(most.good);
    expect(rms).toBeLessThanOrEqual(most.rms);
    expect(Math.max(...errors)).toBeLessThan(most.worst);
  },
  60_000,
);

test.each(['pin', 'lantern'] as const)('the stored track of the %s is right where it claims to be', async (what) => {
  const truth = (await json<Record<string, [number, number][]>>('truth.json'))[what]!,
    stored = (await json<TrackSample[]>(`track-${what}.json`)).filter((s) => s.state === 'good');
  expect(stored.length).toBeGreaterThan(50);
  expect(stored.filter((s) => s.frame >= 58).length).toBeGreaterThanOrEqual(37);
  // No silent slip, on the walk neither.
  for (const s of stored) expect(Math.hypot(s.x! - truth[s.frame]![0], s.y! - truth[s.frame]![1])).toBeLessThan(1);
});

test("the difference matte of TW_010 is the body's true matte: soft edge, few holes, little beside it", async () => {
  const shot = film(),
    renderer = new FrameRenderer(sources, shot, 128 * 2 ** 20, undefined, false);
  const occluder = await codes('occluder.png', 0),
    late = { off: 0, edge: 0 };
  // Where she comes apart.
  for (const [frame, most] of [
    [66, { edge: 0.125, beside: 0.003 }],
    [70, { edge: 0.125, beside: 0.003 }],
    [82, { edge: 0.125, beside: 0.003 }],
    [92, { edge: 0.125, beside: 0.003 }],
  ] as const) {
    const matte = await renderer.renderMatte(shot, 'k1', 1001 + frame, 1, (m) => new Float32Array(m.data)),
      verdict = judgeMatte(matte, await codes('truth-matte.mp4', frame), occluder),
      { off, edge, holes, beside } = verdict;
    console.info(verdictWords(1001 + frame, verdict));
    expect(off / edge).toBeLessThanOrEqual(most.edge);
    if (frame >= 40) {
      late.off += off;
      late.edge += edge;
    }
    expect(holes).toBeLessThanOrEqual(0.02);
    expect(beside).toBeLessThanOrEqual(most.beside);
  }
  // Over the frames where she comes apart.
  expect(late.off / late.edge).toBeLessThanOrEqual(0.12);
}, 60_000);

test('the whole body of TW_010 with no outline: the light of the lamp on the planks is not taken with it', async () => {
  const bare = film(),
    { shot } = applyEdit(bare, addMatte({ id: 'whole', name: 'Whole', source: 'difference', clip: 'c1' })),
    renderer = new FrameRenderer(sources, shot, 128 * 2 ** 20, undefined, false),
    occluder = await codes('occluder.png', 0);
  for (const [frame, most] of [
    [20, { edge: 0.225, holes: 0.01, beside: 0.005 }],
    // Its halo in the air is, and glints that move on the sea.
    [66, { edge: 0.25, holes: 0.025, beside: 0.025 }],
    [82, { edge: 0.25, holes: 0.035, beside: 0.028 }],
  ] as const) {
    const matte = await renderer.renderMatte(shot, 'whole', 1001 + frame, 1, (m) => new Float32Array(m.data)),
      verdict = judgeMatte(matte, await codes('truth-matte.mp4', frame), occluder);
    console.info(`no outline, ${verdictWords(1001 + frame, verdict)}`);
    expect(verdict.off / verdict.edge).toBeLessThanOrEqual(most.edge);
    expect(verdict.holes).toBeLessThanOrEqual(most.holes);
    expect(verdict.beside).toBeLessThanOrEqual(most.beside);
  }
}, 60_000);

test('the picture is the one that was looked at; it changes only together with the version of the engine', async () => {
  const shot = film(),
    renderer = new FrameRenderer(sources, shot, 128 * 2 ** 20, undefined, false),
    stored = JSON.parse(await readFile(join(process.cwd(), 'packages', 'demo', 'src', 'pictures.json'), 'utf8')) as {
      engine: number;
      pictures: Record<string, string>;
    };
  const now: Record<string, string> = {};
  for (const frame of [1020, 1078]) {
    const values = await renderer.renderFrame(
      { shot, frame, factor: 4 },
      (picture, _, arena) => encodeCodes(picture, { bits: 16, channels: 3 }, arena) as Uint16Array,
    );
    now[`TW_010 ${frame} at 1/4`] = createHash('sha256').update(new Uint8Array(values.buffer)).digest('hex');
  }
  expect({ engine: ENGINE_VERSION, pictures: now }).toEqual(stored);
}, 60_000);

test('the documents are valid, and those beside the media are what the program writes', async () => {
  const paths = {
    performance: { path: 'performance.mp4' },
    clean: { path: 'clean.png' },
    occluder: { path: 'occluder.png' },
    reference: { path: 'reference.mp4' },
  };
  expect(readShot(await json('finished.json'))).toEqual(finished(paths, { pin: 'track-pin.json', lantern: 'track-lantern.json' }));
  expect(readShot(await json('start-here.json'))).toEqual(startHere(paths));
  const other = async (code: string) => readShot(JSON.parse(await readFile(join(media, '..', code, 'finished.json'), 'utf8')));
  expect(await other('TW_020')).toEqual(
    finished020(
      { performance: paths.performance, clean: { path: 'clean.mp4' } },
      {
        lantern: 'track-lantern.json',
        buoy: 'track-buoy.json',
        bollard: 'track-bollard.json',
        cuff: 'track-cuff.json',
        camera: 'track-camera.json',
      },
    ),
  );
  expect(await other('TW_030')).toEqual(
    finished030(
      { performance: { path: 'performance' }, ground: { path: 'ground/still.png' } },
      { near: 'track-near-eye.json', far: 'track-far-eye.json', open: 'track-near-eye-open.json' },
    ),
  );
  const shelf = (id: string) => ({ path: `../stockroom/${id}` });
  expect(await other('TW_040')).toEqual(
    finished040({
      performance: paths.performance,
      takeTwo: { path: 'take-two.mp4' },
      matte: { path: 'truth-matte.mp4' },
      strike: shelf('strike'),
      dust: shelf('dust-puff'),
      smoke: shelf('smoke-burst'),
    }),
  );
  expect(await other('TW_050')).toEqual(
    finished050({
      performance: paths.performance,
      room: { path: 'chart-room.png' },
      splash: shelf('splash'),
      tideRing: shelf('tide-ring'),
    }),
  );
});
