import type { Shot } from '@wraithos/core/shot';
import { drawer } from './pool';
import type { WorkerAnswer } from './protocol';

/** Left, top, right and bottom of a part of the picture, whole-shot pixels. */
export type PictureBox = readonly [number, number, number, number];
/** Pixels of a box that are looked at, at the most; of a larger one every so many. */
const LOOKED_AT = 20_000;

/** The box of a few pixels about a place, so that grain matters little. */
export const boxAt = (x: number, y: number): PictureBox => [Math.floor(x) - 1, Math.floor(y) - 1, Math.floor(x) + 2, Math.floor(y) + 2];

/**
 * The colour of the base (or of one clip) in a box of the picture, as #rrggbb; null beside the picture. It is the middle value of its pixels, channel by channel, so
 * that a mark or a crease in it does not count.
 */
export async function colourIn(shot: Shot, frame: number, box: PictureBox, clip?: string): Promise<string | null> {
  const [left, top, right, bottom] = [
    Math.max(0, Math.floor(box[0])),
    Math.max(0, Math.floor(box[1])),
    Math.min(shot.width, Math.ceil(box[2])),
    Math.min(shot.height, Math.ceil(box[3])),
  ];
  if (right <= left || bottom <= top) return null;
  const { codes, width, height } = (await drawer().ask(
      { kind: 'codes', shot: { ...shot, rows: {} }, frame, plain: clip ?? true },
      10,
    )) as Extract<WorkerAnswer, { kind: 'codes' }>,
    channels = codes.length / (width * height),
    step = Math.max(1, Math.ceil(Math.sqrt(((right - left) * (bottom - top)) / LOOKED_AT)));
  return `#${[0, 1, 2]
    .map((c) => {
      const values: number[] = [];
      for (let y = top; y < bottom; y += step) for (let x = left; x < right; x += step) values.push(codes[(y * width + x) * channels + c]!);
      values.sort((a, b) => a - b);
      // Of a few pixels the mean of the middle ones.
      const cut = Math.floor(values.length / 3),
        middle = values.slice(cut, values.length - cut);
      return Math.round(middle.reduce((sum, v) => sum + v, 0) / middle.length / 257)
        .toString(16)
        .padStart(2, '0');
    })
    .join('')}`;
}
