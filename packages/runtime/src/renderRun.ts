import { mkdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Helpers, Picture } from '@wraithos/core/image';
import { FrameRenderer, passOf, type AlphaMode, type Factor, type Sources } from '@wraithos/core/render';
import type { Shot } from '@wraithos/core/shot';
import { burnIn, drawLabel, labelSize } from './label';
import { readAhead } from './readAhead';
import { writeExr } from './exr';
import { matteCodes, pictureCodes, writePng } from './write';

/** File name of a frame: four digits or more, with a minus sign before them where it needs one. */
export const frameName = (frame: number, ending: 'png' | 'exr' = 'png'): string =>
  `${frame < 0 ? '-' : ''}${String(Math.abs(frame)).padStart(4, '0')}.${ending}`;
export interface RunResult {
  drawn: number;
  kept: number;
  milliseconds: number;
  cost: Record<string, number>;
}

/**
 * Renders frames to numbered files, in order, with one renderer. Frames that are there already are kept when `resume` is set:
 * every file appears whole, so one that exists is complete.
 */
export async function renderRun(
  shot: Shot,
  sources: Sources,
  frames: number[],
  folder: string,
  options: {
    bits: 8 | 16 | 'half';
    /** Alpha in the files; none where nothing is said. */
    alpha?: AlphaMode;
    /** What of the shot is drawn (see core/render/pass.ts); all of it where nothing is said. */
    only?: string;
    factor?: Factor;
    /** Burns a line into each frame; it stands in files alone, never in a picture that is compared. OpenEXR takes none. */
    burn?: (frame: number) => string;
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
    result: RunResult = { drawn: 0, kept: 0, milliseconds: 0, cost: {} },
    { bits, alpha = 'none' } = options,
    ending = bits === 'half' ? 'exr' : 'png',
    pass = passOf(shot, options.only ?? 'all');
  let writing: Promise<void> = Promise.resolve();
  for (const frame of frames) {
    if (options.cancelled?.()) break;
    const path = join(folder, frameName(frame, ending));
    if (options.resume && (await stat(path).catch(() => null))) {
      result.kept++;
      options.onFrame?.(frame, true);
      continue;
    }
    const begun = performance.now(),
      png = (codes: Uint8Array | Uint16Array, width: number, height: number, channels: 1 | 3 | 4): Promise<void> => {
        const line = options.burn?.(frame);
        if (line) burnIn(codes, width, height, drawLabel(line, labelSize(height)));
        return writePng(path, codes, width, height, channels);
      };
    const write = pass.matte
      ? await renderer.renderMatte(pass.shot, pass.matte, frame, options.factor ?? 1, (matte) => {
          const { width, height } = matte,
            grey = matteCodes(matte);
          return () =>
            bits === 'half'
              ? writeExr(path, greyPicture(grey, width, height), false)
              : png(bits === 8 ? Uint8Array.from(grey, (v) => Math.round(v / 257)) : grey, width, height, 1);
        })
      : await renderer.renderFrame(
          { shot: pass.shot, frame, factor: options.factor, cancelled: options.cancelled },
          (picture, report, arena) => {
            for (const [row, ms] of Object.entries(report.cost)) result.cost[row] = (result.cost[row] ?? 0) + ms;
            const { width, height } = picture;
            if (bits === 'half') {
              const copy = { ...picture, data: Float32Array.from(picture.data) };
              return () => writeExr(path, copy, alpha !== 'none');
            }
            const codes = pictureCodes(picture, bits, frame, arena, alpha);
            return () => png(codes, width, height, alpha === 'none' ? 3 : 4);
          },
        );
    // The last file is written while the next frame is drawn.
    await writing;
    // A frame is told of when its file is there: whoever hears of it may end this process.
    writing = write().then(() => options.onFrame?.(frame, false));
    writing.catch(() => undefined);
    result.milliseconds += performance.now() - begun;
    result.drawn++;
  }
  await writing;
  return result;
}

/** Grey codes of 16 bits as a picture, 0..1. */
function greyPicture(codes: Uint16Array, width: number, height: number): Picture {
  const data = new Float32Array(width * height * 4);
  codes.forEach((v, p) => data.fill(v / 65535, 4 * p, 4 * p + 4));
  return { kind: 'picture', width, height, data };
}
