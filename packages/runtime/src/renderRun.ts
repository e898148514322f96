import { mkdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Helpers } from '@wraithos/core/image';
import { FrameRenderer, type Factor, type Sources } from '@wraithos/core/render';
import type { Shot } from '@wraithos/core/shot';
import { readAhead } from './readAhead';
import { pictureCodes, writePng } from './write';

/** File name of a frame: four digits or more, with a minus sign before them where it needs one. */
export const frameName = (frame: number): string => `${frame < 0 ? '-' : ''}${String(Math.abs(frame)).padStart(4, '0')}.png`;
export interface RunResult {
  drawn: number;
  kept: number;
  milliseconds: number;
  cost: Record<string, number>;
}

/**
 * Renders frames to numbered PNG files, in order, with one renderer. Frames that are there already are kept when `resume` is set:
 * every file appears whole, so one that exists is complete.
 */
export async function renderRun(
  shot: Shot,
  sources: Sources,
  frames: number[],
  folder: string,
  options: {
    bits: 8 | 16;
    factor?: Factor;
    resume?: boolean;
    memoryLimit?: number;
    /** Threads that help with every kernel. */
    helpers?: Helpers;
    renderer?: FrameRenderer;
    onFrame?: (frame: number, kept: boolean) => void;
    cancelled?: () => boolean;
  },
): Promise<RunResult> {
  await mkdir(folder, { recursive: true });
  const renderer =
      options.renderer ??
      new FrameRenderer(readAhead(sources), shot, options.memoryLimit ?? 512 * 2 ** 20, () => performance.now(), false, options.helpers),
    result: RunResult = { drawn: 0, kept: 0, milliseconds: 0, cost: {} };
  let writing: Promise<void> = Promise.resolve();
  for (const frame of frames) {
    if (options.cancelled?.()) break;
    const path = join(folder, frameName(frame));
    if (options.resume && (await stat(path).catch(() => null))) {
      result.kept++;
      options.onFrame?.(frame, true);
      continue;
    }
    const begun = performance.now();
    const drawn = await renderer.renderFrame(
      { shot, frame, factor: options.factor, cancelled: options.cancelled },
      (picture, report, arena) => {
        for (const [row, ms] of Object.entries(report.cost)) result.cost[row] = (result.cost[row] ?? 0) + ms;
        return { codes: pictureCodes(picture, options.bits, frame, arena), width: picture.width, height: picture.height };
      },
    );
    // The last file is written while the next frame is drawn.
    await writing;
    // A frame is told of when its file is there: whoever hears of it may end this process.
    writing = writePng(path, drawn.codes, drawn.width, drawn.height, 3).then(() => options.onFrame?.(frame, false));
    writing.catch(() => undefined);
    result.milliseconds += performance.now() - begun;
    result.drawn++;
  }
  await writing;
  return result;
}
