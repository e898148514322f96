import { readFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { spawnConfined } from '../confine';
import { isDiskTrouble } from '../explained';
import { ended } from '../ffmpeg';
import { atomically } from '../write';
import type { FilmOptions, FilmWriter } from './describe';

/**
 * A film that ffmpeg makes of PNG files in order; it appears whole or not at all. The files are sent down a pipe, so that names and frame numbers mean
 * nothing.
 * @param args what comes between input and output: filters, encoder, container.
 */
export const piped =
  (args: (options: FilmOptions) => readonly string[]): FilmWriter =>
  async (path, files, rate, options = {}) => {
    await atomically(path, async (part) => {
      const child = spawnConfined(
        'ffmpeg',
        [
          ...['-v', 'error', '-nostdin', '-y', '-f', 'image2pipe', '-c:v', 'png', '-framerate', `${rate.num}/${rate.den}`, '-i', 'pipe:0'],
          ...args(options),
          ...['-progress', 'pipe:1', part],
        ],
        { memory: 4 * 2 ** 30 },
        { stdio: ['pipe', 'pipe', 'pipe'] },
      );
      options.signal?.addEventListener('abort', () => child.kill('SIGKILL'), { once: true });
      child.stdout!.on('data', (chunk: Buffer) => {
        const m = [...chunk.toString().matchAll(/frame=(\d+)/g)].pop();
        if (m) options.onFrame?.(Number(m[1]));
      });
      const over = ended(child);
      over.catch(() => undefined);
      // An encoder that ended early breaks the pipe; why it did is what `over` says.
      const sent = pipeline(Readable.from(contents(files)), child.stdin!, { signal: options.signal }).catch((error: unknown) => {
        if (isDiskTrouble(error)) throw error;
      });
      await Promise.all([sent, over]);
    });
  };

async function* contents(files: readonly string[]): AsyncGenerator<Buffer> {
  for (const file of files) yield await readFile(file);
}

/** Odd sizes are cut by their last row or column, since the codec halves colours; a side of one pixel is doubled. */
export const EVEN =
  'scale=w=max(2\\,iw):h=max(2\\,ih):out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int,crop=trunc(iw/2)*2:trunc(ih/2)*2';
/** What the codes of these films mean. */
export const MEANS = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'iec61966-2-1', '-color_range', 'tv'] as const;
