import { randomUUID } from 'node:crypto';
import { readFile, rename, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import sharp from 'sharp';
import { encodeCodes, type Picture, type Pictures, type Plane } from '@wraithos/core/image';
import { spawnConfined } from './confine';
import { isDiskTrouble } from './explained';
import { ended } from './ffmpeg';

async function atomically(path: string, write: (part: string) => Promise<unknown>): Promise<void> {
  const part = join(dirname(path), `.part-${randomUUID()}`);
  try {
    await write(part);
    await rename(part, path);
  } finally {
    await rm(part, { force: true });
  }
}

/** Writes codes as a PNG of 8 or 16 bit that appears whole or not at all. */
export async function writePng(
  path: string,
  codes: Uint8Array | Uint16Array,
  width: number,
  height: number,
  channels: 1 | 3 | 4,
): Promise<void> {
  const image = sharp(codes, { raw: { width, height, channels } }),
    deep = codes instanceof Uint16Array;
  await atomically(path, (part) =>
    image
      .toColourspace(channels === 1 ? (deep ? 'grey16' : 'b-w') : deep ? 'rgb16' : 'srgb')
      .png({ compressionLevel: 1, adaptiveFiltering: false })
      .toFile(part),
  );
}
export const pictureCodes = (picture: Picture, bits: 8 | 16, frame: number, pictures: Pictures): Uint8Array | Uint16Array =>
  encodeCodes(picture, { bits, channels: 3, frame }, pictures);

/** A matte as 16-bit grey codes. */
export const matteCodes = (matte: Plane): Uint16Array =>
  Uint16Array.from(matte.data, (v) => Math.round(Math.min(1, Math.max(0, v)) * 65535));

/**
 * Makes a WebM (VP9) of PNG files in order; it appears whole or not at all. Odd sizes are cut by their last row or column, since the
 * codec halves colours; a side of one pixel is doubled. The files are sent down a pipe, so that names and frame numbers mean nothing.
 * @param onFrame hears how many frames are written.
 */
export async function writeWebm(
  path: string,
  files: readonly string[],
  rate: { num: number; den: number },
  options: { onFrame?: (done: number) => void; signal?: AbortSignal } = {},
): Promise<void> {
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
}
async function* contents(files: readonly string[]): AsyncGenerator<Buffer> {
  for (const file of files) yield await readFile(file);
}
