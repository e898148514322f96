/**
 * Draws the demo's media again: `npm run demo:generate [-- CODE …] [-- --frames A-B --out DIR]`. Frames are drawn by worker threads; the same
 * content comes out each time, because every pixel is a function of its place, its frame and fixed seeds. With --frames only those are drawn,
 * as PNG files, to look at; with --stills only a shot's clean plates and the like.
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import sharp from 'sharp';
import { Arena } from '@wraithos/core/image';
import { writeStrip } from '@wraithos/runtime';
import { develop } from './camera';
import { encode } from './encode';
import { HEIGHT, WIDTH, type StillSet } from './film';
import type { Filmed } from './filmed';
import { drawings, type Drawing } from './drawings';
import { tw010 } from './tw010';
import { tw020 } from './tw020';
import { tw025 } from './tw025';
import { takeTwo040, tw040 } from './tw040';
import { tw050 } from './tw050';

const filmed: Filmed[] = [tw010, tw020, tw025, tw040, takeTwo040, tw050];
const shotOf = (code: string): Filmed => filmed.find((s) => s.code === code)!;

type Task =
  | { kind: 'set'; code: string; rows: [number, number] }
  | { kind: 'frame'; code: string; frame: number; set: StillSet }
  | { kind: 'drawing'; name: string; frame: number };
interface Frame {
  rgb: Uint8Array;
  matte: Uint8Array;
  parts: Uint8Array;
}
const codes = (cover: Float32Array) => Uint8Array.from(cover, (v) => Math.round(Math.min(1, v) * 255));

const asRgb = (grey: Uint8Array): Uint8Array => {
  const out = new Uint8Array(grey.length * 3);
  for (let p = 0; p < grey.length; p++) out.fill(grey[p]!, p * 3, p * 3 + 3);
  return out;
};

function work(): void {
  const arena = new Arena(24 * WIDTH * HEIGHT * 16);
  parentPort!.on('message', (task: Task) => {
    if (task.kind === 'set') parentPort!.postMessage(shotOf(task.code).set(task.rows));
    else if (task.kind === 'drawing') parentPort!.postMessage(drawings.find((d) => d.name === task.name)!.draw(task.frame));
    else {
      const take = shotOf(task.code).frame(task.set, task.frame, arena),
        rgb = develop(take.picture, task.frame, 1);
      arena.give(take.picture);
      parentPort!.postMessage({ rgb, matte: codes(take.matte), parts: codes(take.parts) } satisfies Frame);
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

const BANDS = 24;
const raw = { width: WIDTH, height: HEIGHT, channels: 3 as const };

async function buildSet({ code, rows: [first, end] }: Filmed): Promise<StillSet> {
  const step = (end - first) / BANDS,
    parts = await inThreads<StillSet>(
      Array.from({ length: BANDS }, (_, i) => ({
        kind: 'set',
        code,
        rows: [first + Math.round(i * step), first + Math.round((i + 1) * step)],
      })),
    );
  const joined = {} as Record<keyof StillSet, Float32Array>;
  for (const key of Object.keys(parts[0]!) as (keyof StillSet)[]) {
    const whole = new Float32Array(new SharedArrayBuffer(parts.reduce((n, p) => n + p[key].byteLength, 0)));
    let at = 0;
    for (const part of parts) {
      whole.set(part[key], at);
      at += part[key].length;
    }
    joined[key] = whole;
  }
  return joined;
}

async function film(shot: Filmed, out: string, frames: number[] | null, stillsOnly: boolean): Promise<void> {
  mkdirSync(out, { recursive: true });
  console.error(`${shot.code}: the empty set`);
  const set = await buildSet(shot),
    list = frames ?? Array.from({ length: shot.frames }, (_, i) => i);
  if (!frames) {
    const arena = new Arena(24 * WIDTH * HEIGHT * 16);
    for (const { name, picture, cover, allColours } of shot.stills(set, arena)) {
      // A still plate is the mean of many takes: next to no grain is left in it.
      const image = picture ? sharp(develop(picture, 5000, 0.25), { raw }) : sharp(codes(cover!), { raw: { ...raw, channels: 1 } });
      await image.png({ compressionLevel: 9, effort: 10, palette: !allColours }).toFile(join(out, `${name}.png`));
    }
    if (stillsOnly) return;
  }
  let count = 0;
  const takes = await inThreads<Frame>(
    list.map((frame): Task => ({ kind: 'frame', code: shot.code, frame, set })),
    async (index, take) => {
      if (++count % 12 === 0 || frames) console.error(`${shot.code}: ${count} of ${list.length}`);
      if (frames)
        await sharp(take.rgb, { raw })
          .png()
          .toFile(join(out, `${shot.code}-${frames[index]}.png`));
    },
  );
  if (frames) return;
  const of = (key: keyof Frame) => takes.map((t) => t[key]);
  const name = (what: string) => join(out, shot.take ? `${shot.take.name}-${what}` : what),
    film = shot.take ? join(out, `${shot.take.name}.mp4`) : name('performance.mp4');
  await encode('film', of('rgb'), WIDTH, HEIGHT, film, shot.rate);
  await encode('truth', of('matte').map(asRgb), WIDTH, HEIGHT, name('truth-matte.mp4'), shot.rate);
  await encode('truth', of('parts'), WIDTH, HEIGHT, name('truth-parts.mp4'), shot.rate);
  if (shot.reference) {
    const clip = shot.reference(of('matte'));
    await encode('film', clip.frames, clip.width, clip.height, join(out, 'reference.mp4'));
  }
  writeFileSync(name('truth.json'), JSON.stringify(shot.truth()));
}

/** Numbered pictures with alpha. */
async function draw(drawing: Drawing, out: string, frames: number[] | null): Promise<void> {
  const folder = frames ? out : join(out, drawing.name),
    list = frames ?? Array.from({ length: drawing.frames }, (_, i) => i);
  mkdirSync(folder, { recursive: true });
  const seen = new Map<number, Buffer>();
  await inThreads<Uint8Array>(
    list.map((frame): Task => ({ kind: 'drawing', name: drawing.name, frame })),
    async (index, rgba) => {
      const image = sharp(rgba, { raw: { width: drawing.width, height: drawing.height, channels: 4 } });
      if (drawing.opaque) image.removeAlpha();
      // Elements are soft, and a twelfth of the size as WebP; its alpha loses nothing.
      seen.set(
        index,
        drawing.shelf
          ? await image.webp({ quality: 90, alphaQuality: 100, effort: 2, smartSubsample: true }).toBuffer()
          : await image.png({ compressionLevel: 9, palette: drawing.kind === 'flat' }).toBuffer(),
      );
    },
  );
  for (const [index, file] of seen) {
    const ending = drawing.shelf ? 'webp' : 'png',
      name = drawing.frames > 1 ? `${String(drawing.first + list[index]!).padStart(4, '0')}.${ending}` : `still.${ending}`;
    writeFileSync(join(folder, frames ? `${drawing.name.replace('/', '-')}-${name}` : name), file);
  }
  if (drawing.shelf && !frames) {
    mkdirSync(join(out, 'stockroom', 'strips'), { recursive: true });
    await writeStrip(join(out, 'stockroom', 'strips', `${drawing.name.split('/')[1]}.png`), drawing.frames, (i) =>
      Promise.resolve(sharp(seen.get(i)!)),
    );
  }
  if (drawing.truth && !frames) writeFileSync(join(folder, '..', 'truth.json'), JSON.stringify(drawing.truth()));
}

async function main(): Promise<void> {
  const given = process.argv.slice(2),
    option = (name: string) => (given.includes(name) ? given[given.indexOf(name) + 1] : undefined),
    span = option('--frames'),
    frames = span
      ? span.split(',').flatMap((part) => {
          const [from, to] = part.split('-').map(Number) as [number, number?];
          return Array.from({ length: (to ?? from) - from + 1 }, (_, i) => from + i);
        })
      : null;
  const out = option('--out') ?? join(process.cwd(), 'packages', 'demo', 'media'),
    wanted = given.filter((word, i) => !word.startsWith('--') && !given[i - 1]?.startsWith('--'));
  const asked = (name: string) => wanted.length === 0 || wanted.some((w) => name === w || name.startsWith(`${w}/`));
  const begun = Date.now();
  for (const shot of filmed.filter((s) => asked(s.code)))
    await film(shot, frames ? out : join(out, shot.take?.folder ?? shot.code), frames, given.includes('--stills'));
  for (const drawing of drawings.filter((d) => asked(d.name))) await draw(drawing, out, frames);
  if (!frames && drawings.some((d) => d.shelf && asked(d.name)))
    // What the server reads of the elements: without the pictures.
    writeFileSync(
      join(out, 'stockroom', 'index.json'),
      `${JSON.stringify(
        drawings.flatMap(({ name, shelf, loops = false, width, height, frames: count }) =>
          shelf ? [{ id: name.split('/')[1], ...shelf, loops, width, height, frames: count }] : [],
        ),
        null,
        1,
      )}\n`,
    );
  console.error(`done in ${Math.round((Date.now() - begun) / 1000)} s`);
}

if (isMainThread) await main();
else if ((workerData as { drawing?: boolean })?.drawing) work();
