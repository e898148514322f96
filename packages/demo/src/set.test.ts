import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Codes } from '@wraithos/core/image';
import { FrameStore, hashMedium, probe } from '@wraithos/runtime';
import { Performance } from './figure/act';
import { drawIlse, MOMENTS } from './figure/shutter';
import { duskLights, SIZE } from './film';
import { glassOf } from './figure/ilse';
import { CAMERA as MOLE, driftAt } from './tw020';
import { RUN_IN, warden020 } from './walk020';

const media = join(process.cwd(), 'packages', 'demo', 'media');
let folder = '',
  store: FrameStore;
const hashes: Record<string, string> = {};
const films = ['TW_010', 'TW_020', 'TW_040'],
  files = ['performance.mp4', 'truth-matte.mp4', 'truth-parts.mp4'];
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'wraithos-set-'));
  store = new FrameStore(folder);
  for (const film of films)
    for (const file of files) {
      const name = `${film}/${file}`;
      hashes[name] = await hashMedium(join(media, name));
      await store.add(hashes[name], join(media, name), await probe(join(media, name)));
    }
}, 120_000);
afterAll(() => rm(folder, { recursive: true, force: true }));
const codes = (name: string, frame: number): Promise<Codes> => store.codes(hashes[name]!, frame);
type Places = Record<string, [number, number][]>;
const truthOf = async (film: string) => JSON.parse(await readFile(join(media, film, 'truth.json'), 'utf8')) as Places;

/**
 * The middle of what is as bright as `share` of the brightest about a place, weighed by how much brighter it is. In blue: the flame fills the other
 * two to the top, and the pin is the only thing about it that is white.
 */
function centroid({ data, width, channels }: Codes, [x, y]: [number, number], reach: number, share: number) {
  const value = (px: number, py: number) => data[(py * width + px) * channels + 2]!;
  let most = 0;
  const inside: [number, number, number][] = [];
  for (let py = Math.floor(y - reach); py <= y + reach; py++)
    for (let px = Math.floor(x - reach); px <= x + reach; px++) {
      if (Math.hypot(px + 0.5 - x, py + 0.5 - y) > reach) continue;
      inside.push([px + 0.5, py + 0.5, value(px, py)]);
      most = Math.max(most, value(px, py));
    }
  let sum = 0,
    sx = 0,
    sy = 0;
  for (const [px, py, v] of inside) {
    const w = Math.max(0, Math.min(1, (v / most - share) * 8));
    sum += w;
    sx += w * px;
    sy += w * py;
  }
  return [sx / sum, sy / sum] as const;
}

test.each([
  ['TW_020', 'lantern', 12, 0.4, [48, 92, 100, 108, 116]],
  ['TW_010', 'lantern', 12, 0.4, [68, 74, 80, 86, 92]],
  ['TW_010', 'pin', 7, 0.45, [44, 62, 70, 80, 90]],
] as const)('%s: the %s is found where the truth says, by its centroid', async (film, what, reach, share, frames) => {
  const truth = (await truthOf(film))[what]!,
    off: number[] = [];
  for (const f of frames) {
    const [x, y] = centroid(await codes(`${film}/performance.mp4`, f), truth[f]!, reach, share);
    off.push(Math.hypot(x - truth[f]![0], y - truth[f]![1]));
  }
  console.info(`${film} ${what}: ${off.map((d) => d.toFixed(2)).join(', ')} px off`);
  expect(off.reduce((a, b) => a + b) / off.length).toBeLessThanOrEqual(0.2);
});

test('truth is there for every frame, within reason, and moves as a body does', async () => {
  for (const [film, frames] of [
    ['TW_010', 96],
    ['TW_020', 120],
    ['TW_040', 84],
  ] as const) {
    const truth = await truthOf(film);
    expect((await store.info(hashes[`${film}/performance.mp4`]!)).frames).toBe(frames);
    for (const name of ['pin', 'rightHand', 'leftHand', 'rightEye', 'leftEye', 'rightFoot', 'leftFoot']) {
      expect(truth[name]).toHaveLength(frames);
      truth[name]!.slice(1).forEach((p, i) => expect(Math.hypot(p[0] - truth[name]![i]![0], p[1] - truth[name]![i]![1])).toBeLessThan(60));
    }
  }
});

test('what the program draws today is what is committed: coverage of a frame of TW_020', async () => {
  const number = 78,
    frame = number - RUN_IN,
    play = new Performance(warden020),
    drift = driftAt(frame),
    drawn = drawIlse(
      MOMENTS.map(({ time }) => play.at(frame + time)),
      (s) => duskLights(glassOf(s)),
      { ...MOLE, centre: [MOLE.centre[0] + drift.x, MOLE.centre[1] + drift.y] },
      SIZE,
      MOMENTS.map(({ time }) => {
        const d = driftAt(frame + time);
        return { x: d.x - drift.x, y: d.y - drift.y };
      }),
    ),
    truth = await codes('TW_020/truth-matte.mp4', number),
    parts = await codes('TW_020/truth-parts.mp4', number);
  let wrong = 0,
    covered = 0;
  for (let y = 0; y < SIZE.height; y++)
    for (let x = 0; x < SIZE.width; x++) {
      const p = y * SIZE.width + x,
        dx = x - drawn.x0,
        dy = y - drawn.y0,
        inside = dx >= 0 && dy >= 0 && dx < drawn.width && dy < drawn.height,
        q = dy * drawn.width + dx,
        a = inside ? Math.round(Math.min(1, drawn.matte[q]!) * 255) : 0;
      if (a > 0) covered++;
      if (truth.data[p * truth.channels]! !== a) wrong++;
      for (let c = 0; c < 3; c++) if (inside && parts.data[p * 3 + c] !== Math.round(Math.min(1, drawn.parts[q * 3 + c]!) * 255)) wrong++;
    }
  expect(covered).toBeGreaterThan(20000);
  expect(wrong).toBe(0);
}, 120_000);
