import { readFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { spawnConfined } from '../confine';
import { isDiskTrouble } from '../explained';
import { ended } from '../ffmpeg';
import { atomically } from '../write';
import type { FilmWriter } from './describe';

/**
 * Makes a WebM (VP9) of PNG files in order; it appears whole or not at all. Odd sizes are cut by their last row or column, since the
 * codec halves colours; a side of one pixel is doubled. The files are sent down a pipe, so that names and frame numbers mean nothing.
 * @param onFrame hears how many frames are written.
 */
export const webm: FilmWriter = async (path, files, rate, options = {}) => {
  await atomically(path, async (part) => {
    const child = spawnConfined(
      'ffmpeg',
      [
        ...['-v', 'error', '-nostdin', '-y', '-f', 'image2pipe', '-c:v', 'png', '-framerate', `${rate.num}/${rate.den}`, '-i', 'pipe:0'],
        '-vf',
        'scale=w=max(2\\,iw):h=max(2\\,ih):out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int,crop=trunc(iw/2)*2:trunc(ih/2)*2',
        ...['-c:v', 'libvpx-vp9', '-crf', '20', '-b:v', '0', '-deadline', 'good', '-cpu-used', '5', '-row-mt', '1', '-pix_fmt', 'yuv420p'],
        ...['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'iec61966-2-1', '-color_range', 'tv'],
        ...['-progress', 'pipe:1', '-f', 'webm', part],
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
