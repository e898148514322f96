import { basename } from 'node:path';
import sharp from 'sharp';
import { drawLabel } from '../label';
import { atomically } from '../write';
import type { FilmWriter } from './describe';

/** Pictures in a row, and how wide each is made, pixels. */
const ACROSS = 4,
  WIDE = 480,
  LINE = 30,
  GAP = 8,
  GROUND = { r: 23, g: 24, b: 27 };

/** A contact sheet: all files in one picture, each with its frame below it. */
export const sheet: FilmWriter = async (path, files, _rate, options = {}) => {
  const { width = 16, height = 9 } = await sharp(files[0]!).metadata(),
    tall = Math.max(1, Math.round((WIDE * height) / width)),
    across = Math.min(ACROSS, files.length),
    tiles: { input: Buffer; left: number; top: number; raw?: { width: number; height: number; channels: 4 } }[] = [];
  for (const [i, file] of files.entries()) {
    options.signal?.throwIfAborted();
    const left = GAP + (i % across) * (WIDE + GAP),
      top = GAP + Math.floor(i / across) * (tall + LINE + GAP),
      label = drawLabel(String(Number(basename(file, '.png'))), LINE),
      letters = Buffer.alloc(label.width * label.height * 4, 225);
    label.cover.forEach((a, p) => (letters[4 * p + 3] = a));
    tiles.push({
      input: await sharp(file).flatten({ background: '#000' }).resize(WIDE, tall, { fit: 'fill' }).png().toBuffer(),
      left,
      top,
    });
    tiles.push({ input: letters, raw: { width: label.width, height: label.height, channels: 4 }, left, top: top + tall });
    options.onFrame?.(i + 1);
  }
  await atomically(path, (part) =>
    sharp({
      create: {
        width: GAP + across * (WIDE + GAP),
        height: GAP + Math.ceil(files.length / across) * (tall + LINE + GAP),
        channels: 3,
        background: GROUND,
      },
    })
      .composite(tiles)
      .removeAlpha()
      .png({ compressionLevel: 9 })
      .toFile(part),
  );
};
