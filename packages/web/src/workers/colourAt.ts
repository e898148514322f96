import type { Shot } from '@wraithos/core/shot';
import { drawer } from './pool';
import type { WorkerAnswer } from './protocol';

/** The colour of the base (or of one clip) at a place of the picture, as #rrggbb; null beside the picture. It is the mean of a few pixels, so that grain matters little. */
export async function colourAt(shot: Shot, frame: number, x: number, y: number, clip?: string): Promise<string | null> {
  if (x < 0 || y < 0 || x >= shot.width || y >= shot.height) return null;
  const { codes, width, height } = (await drawer().ask(
      { kind: 'codes', shot: { ...shot, rows: {} }, frame, plain: clip ?? true },
      10,
    )) as Extract<WorkerAnswer, { kind: 'codes' }>,
    channels = codes.length / (width * height),
    sums = [0, 0, 0];
  let n = 0;
  for (let py = Math.max(0, Math.floor(y) - 1); py <= Math.min(height - 1, Math.floor(y) + 1); py++)
    for (let px = Math.max(0, Math.floor(x) - 1); px <= Math.min(width - 1, Math.floor(x) + 1); px++, n++)
      for (let c = 0; c < 3; c++) sums[c]! += codes[(py * width + px) * channels + c]!;
  return `#${sums
    .map((s) =>
      Math.round(s / n / 257)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}
