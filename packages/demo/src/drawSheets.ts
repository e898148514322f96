/**
 * One frame and a contact sheet of each shot of the demo for docs/demo.md, from its clip: `npm run docs:demo [-- CODE …]`. Finished documents get
 * theirs beside them, drawn by the engine.
 */
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { encodeCodes, type Codes } from '@wraithos/core/image';
import { FrameRenderer } from '@wraithos/core/render';
import { readShot } from '@wraithos/core/shot';
import { bandThreads, computingThreads, fileSources, openMedium } from '@wraithos/runtime';

const media = join(process.cwd(), 'packages', 'demo', 'media'),
  out = join(process.cwd(), 'docs', 'demo');
interface Sheet {
  code: string;
  clip: string;
  /** The frame that is shown large, of the clip and of the finished document. */
  frame: number;
  frames: readonly number[];
  finished?: { frame: number; frames: readonly number[] };
}
const sheets: Sheet[] = [
  {
    code: 'TW_010',
    clip: 'performance.mp4',
    frame: 66,
    frames: [0, 8, 14, 20, 26, 32, 38, 46, 52, 58, 66, 80],
    finished: { frame: 1080, frames: [1058, 1062, 1064, 1067, 1070, 1073, 1076, 1080, 1084, 1088, 1092, 1096] },
  },
  {
    code: 'TW_020',
    clip: 'performance.mp4',
    frame: 98,
    frames: [8, 20, 28, 36, 46, 58, 70, 78, 84, 92, 100, 118],
    finished: { frame: 1050, frames: [1036, 1039, 1041, 1043, 1046, 1047, 1048, 1050, 1053, 1058, 1062, 1066] },
  },
  {
    code: 'TW_025',
    clip: 'performance.mp4',
    frame: 30,
    frames: [0, 4, 8, 11, 13, 15, 18, 22, 26, 30, 34, 44],
    finished: { frame: 1029, frames: [1001, 1006, 1010, 1012, 1014, 1018, 1022, 1026, 1030, 1035, 1038, 1046] },
  },
  {
    code: 'TW_030',
    clip: 'performance',
    frame: 57,
    frames: [2, 8, 14, 20, 24, 28, 32, 36, 40, 48, 52, 58],
    finished: { frame: 1038, frames: [1006, 1014, 1022, 1027, 1031, 1035, 1037, 1040, 1045, 1051, 1054, 1060] },
  },
  {
    code: 'TW_040',
    clip: 'performance.mp4',
    frame: 43,
    frames: [0, 10, 20, 27, 33, 37, 40, 42, 45, 51, 63, 79],
    finished: { frame: 1048, frames: [1038, 1041, 1043, 1046, 1050, 1056, 1062, 1067, 1070, 1074, 1080, 1096] },
  },
  {
    code: 'TW_050',
    clip: 'performance.mp4',
    frame: 80,
    frames: [0, 10, 20, 30, 40, 50, 60, 70, 80, 90, 100, 110],
    finished: { frame: 1052, frames: [1004, 1008, 1012, 1018, 1026, 1034, 1040, 1046, 1052, 1060, 1070, 1082] },
  },
];

/** What drawings with alpha are shown on. */
const GREY = '#26272b';
/** Codes on that grey. */
const picture = ({ data, width, height, channels }: Codes) =>
  sharp(Buffer.from(data.buffer, data.byteOffset, data.byteLength), { raw: { width, height, channels } }).flatten({
    background: GREY,
  });
/** Lays pictures side by side in rows, each in a cell of its own, and writes them as one JPEG. */
async function tiled(name: string, pictures: Sharp[], cell: readonly [number, number], across: number, gap = 0): Promise<void> {
  const [wide, tall] = cell,
    clear = { r: 0, g: 0, b: 0, alpha: 0 },
    tiles = await Promise.all(
      pictures.map(async (picture, i) => ({
        input: await picture
          .resize(wide - 2 * gap, tall - 2 * gap, { fit: 'contain', background: clear })
          .png()
          .toBuffer(),
        left: (i % across) * wide + gap,
        top: Math.floor(i / across) * tall + gap,
      })),
    );
  await sharp({ create: { width: across * wide, height: Math.ceil(pictures.length / across) * tall, channels: 3, background: GREY } })
    .composite(tiles)
    .jpeg({ quality: 80 })
    .toFile(join(out, `${name}.jpg`));
}
async function write(name: string, large: Sharp, small: Sharp[]): Promise<void> {
  await large.jpeg({ quality: 84 }).toFile(join(out, `${name}.jpg`));
  await tiled(`${name}-sheet`, small, [426, 240], 4);
}
/** One frame of each element of the stockroom, from where there is most of it. */
async function shelf(): Promise<void> {
  const items = JSON.parse(readFileSync(join(media, 'stockroom', 'index.json'), 'utf8')) as { id: string; frames: number }[],
    most = (frames: number) => 1 + Math.floor(frames * (frames <= 32 ? 0.25 : 0.6));
  await tiled(
    'stockroom',
    items.map(({ id, frames }) => sharp(join(media, 'stockroom', id, `${String(most(frames)).padStart(4, '0')}.webp`))),
    [320, 200],
    5,
    6,
  );
}

mkdirSync(out, { recursive: true });
const asked = process.argv.slice(2),
  helpers = bandThreads(computingThreads() - 1);
try {
  if (!asked.length || asked.includes('stockroom')) await shelf();
  for (const { code, clip, frame, frames, finished } of sheets) {
    if (asked.length && !asked.includes(code)) continue;
    const { store, hash } = await openMedium(join(media, code, clip)),
      of = async (f: number) => picture(await store.codes(hash, f));
    await write(code, await of(frame), await Promise.all(frames.map(of)));
    if (!finished) continue;
    const path = join(media, code, 'finished.json'),
      shot = readShot(JSON.parse(readFileSync(path, 'utf8'))),
      renderer = new FrameRenderer(fileSources(path), shot, 500 * 2 ** 20, undefined, false, helpers),
      drawn = async (f: number) => {
        const data = await renderer.renderFrame({ shot, frame: f }, (p, _, pictures) =>
          Uint8Array.from(encodeCodes(p, { bits: 8, channels: 3, frame: f }, pictures)),
        );
        return picture({ data, width: shot.width, height: shot.height, channels: 3, bits: 8 });
      },
      small: Sharp[] = [];
    for (const f of finished.frames) small.push(await drawn(f));
    await write(`${code}-finished`, await drawn(finished.frame), small);
    console.error(code);
  }
} finally {
  await helpers.close();
}
