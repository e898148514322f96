/**
 * Draws the demo's media again: `npm run demo:generate [-- --only A-B] [-- --out DIR]`. Frames are drawn by worker threads; the
 * same content comes out each time, because every pixel is a function of its place, its frame and fixed seeds.
 */
import { spawn } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { availableParallelism } from 'node:os';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import sharp from 'sharp';
import { Arena } from '@wraithos/core/image';
import { develop } from './camera';
import { Harbour, HEIGHT, WIDTH } from './harbour';
import { FEET, FRAMES, HEIGHT_METRES, HEIGHT_PIXELS, poseAt } from './pose';
import { buildSet, cleanPlate, performance as perform, type StillSet } from './warden010';

type Task = { kind: 'set'; rows: [number, number] } | { kind: 'frame'; frame: number; set: StillSet };
const shared = (from: Float32Array): Float32Array => {
  const to = new Float32Array(new SharedArrayBuffer(from.byteLength));
  to.set(from);
  return to;
};

function work(): void {
  const arena = new Arena(24 * WIDTH * HEIGHT * 16);
  let harbour: Harbour | undefined;
  parentPort!.on('message', (task: Task) => {
    if (task.kind === 'set') parentPort!.postMessage(buildSet((harbour ??= new Harbour()), task.rows));
    else {
      const take = perform(task.set, task.frame, arena),
        rgb = develop(take.picture, task.frame, 1);
      arena.give(take.picture);
      parentPort!.postMessage({ rgb, matte: Uint8Array.from(take.matte, (v) => Math.round(v * 255)) });
    }
  });
}

/** Hands tasks to `threads` workers and gives back the answers in order. */
async function inThreads<T>(tasks: Task[], done?: (index: number, answer: T) => void | Promise<void>): Promise<T[]> {
  const answers: T[] = [];
  let next = 0;
  await Promise.all(
    Array.from({ length: Math.min(availableParallelism(), tasks.length) }, async () => {
      const worker = new Worker(fileURLToPath(import.meta.url), { workerData: { drawing: true } });
      while (next < tasks.length) {
        const index = next++;
        worker.postMessage(tasks[index]);
        answers[index] = await new Promise<T>((resolve, reject) => {
          worker.once('error', reject);
          worker.once('message', (answer: T) => {
            worker.off('error', reject);
            resolve(answer);
          });
        });
        await done?.(index, answers[index]!);
      }
      await worker.terminate();
    }),
  );
  return answers;
}

async function main(): Promise<void> {
  const option = (name: string) => {
    const i = process.argv.indexOf(name);
    return i > 0 ? process.argv[i + 1] : undefined;
  };
  const out = option('--out') ?? join(process.cwd(), 'packages', 'demo', 'media', 'TW_010');
  const only = option('--only')?.split('-').map(Number);
  const frames = only
    ? Array.from({ length: (only[1] ?? only[0]!) - only[0]! + 1 }, (_, i) => only[0]! + i)
    : Array.from({ length: FRAMES }, (_, i) => i);
  mkdirSync(out, { recursive: true });
  const bands = 24,
    rows = HEIGHT / bands;
  console.error('drawing the empty set');
  const parts = await inThreads<StillSet>(Array.from({ length: bands }, (_, i) => ({ kind: 'set', rows: [i * rows, (i + 1) * rows] })));
  const joinParts = (key: keyof StillSet) => {
    const all = parts.map((part) => part[key]),
      whole = new Float32Array(all.reduce((n, a) => n + a.length, 0));
    let at = 0;
    for (const a of all) {
      whole.set(a, at);
      at += a.length;
    }
    return shared(whole);
  };
  const set: StillSet = { light: joinParts('light'), deck: joinParts('deck'), front: joinParts('front') };

  const arena = new Arena(12 * WIDTH * HEIGHT * 16);
  // A clean plate is the mean of many takes of nothing: next to no grain is left in it.
  const clean = develop(cleanPlate(set, arena).picture, 5000, 0.25);
  const raw = { width: WIDTH, height: HEIGHT, channels: 3 as const };
  await sharp(clean, { raw }).png({ compressionLevel: 9, effort: 10 }).toFile(join(out, 'clean.png'));
  const occluder = new Uint8Array(WIDTH * HEIGHT);
  for (let p = 0; p < occluder.length; p++) occluder[p] = Math.round(Math.min(1, set.front[p * 4 + 3]!) * 255);
  await sharp(occluder, { raw: { ...raw, channels: 1 } })
    .png({ compressionLevel: 9 })
    .toFile(join(out, 'occluder.png'));

  const pictures = frames.map((frame): Task => ({ kind: 'frame', frame, set }));
  const takes: { rgb: Uint8Array; matte: Uint8Array }[] = [];
  let count = 0;
  await inThreads<{ rgb: Uint8Array; matte: Uint8Array }>(pictures, async (index, take) => {
    takes[index] = take;
    console.error(`frame ${++count} of ${frames.length}`);
    if (only)
      await sharp(take.rgb, { raw })
        .png()
        .toFile(join(out, `frame${frames[index]}.png`));
  });
  if (only) return;
  await encode(
    ['-pix_fmt', 'rgb24', '-c:v', 'libx264', '-crf', '15', '-preset', 'veryslow', '-pix_fmt', 'yuv420p'],
    takes.map((t) => t.rgb),
    'rgb24',
    join(out, 'performance.mp4'),
  );
  await encode(
    ['-c:v', 'libx264', '-qp', '0', '-preset', 'veryslow', '-pix_fmt', 'gray'],
    takes.map((t) => t.matte),
    'gray',
    join(out, 'truth-matte.mp4'),
  );
  const round = (p: { x: number; y: number }) => [Math.round(p.x * 1000) / 1000, Math.round(p.y * 1000) / 1000];
  const truth = {
    about: 'TW_010: where things truly are, in pixels of the picture (x right, y down, pixel centres at +0.5), for frames 0 to 95.',
    subject: { feet: round(FEET), heightMetres: HEIGHT_METRES, heightPixels: HEIGHT_PIXELS },
    pin: frames.map((f) => round(poseAt(f).pin)),
    lantern: frames.map((f) => round(poseAt(f).lantern)),
    hand: frames.map((f) => round(poseAt(f).hand)),
  };
  writeFileSync(join(out, 'truth.json'), JSON.stringify(truth));
}

/** Pipes raw frames through ffmpeg, bit-exact, with the matrix and range written into the file. */
async function encode(codec: string[], frames: Uint8Array[], pixels: string, path: string): Promise<void> {
  const colour =
    pixels === 'rgb24'
      ? [
          '-vf',
          'scale=out_color_matrix=bt709:out_range=tv:flags=bitexact+accurate_rnd+full_chroma_int',
          '-colorspace',
          'bt709',
          '-color_primaries',
          'bt709',
          '-color_trc',
          'iec61966-2-1',
          '-color_range',
          'tv',
        ]
      : [];
  const args = [
    '-v',
    'error',
    '-y',
    '-f',
    'rawvideo',
    '-pix_fmt',
    pixels,
    '-s',
    `${WIDTH}x${HEIGHT}`,
    '-r',
    '24',
    '-i',
    '-',
    ...colour,
    ...codec.slice(codec[0] === '-pix_fmt' ? 2 : 0),
    '-fflags',
    '+bitexact',
    '-flags:v',
    '+bitexact',
    '-threads',
    '1',
    path,
  ];
  const child = spawn('ffmpeg', args, { stdio: ['pipe', 'inherit', 'inherit'] });
  const ended = new Promise<void>((resolve, reject) =>
    child.on('close', (code) => (code ? reject(new Error(`ffmpeg ended with ${code}`)) : resolve())),
  );
  for (const frame of frames) if (!child.stdin.write(frame)) await new Promise((resolve) => child.stdin.once('drain', resolve));
  child.stdin.end();
  await ended;
}

if (isMainThread) await main();
else if ((workerData as { drawing?: boolean })?.drawing) work();
