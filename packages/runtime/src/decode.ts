import { stat } from 'node:fs/promises';
import type { Codes } from '@wraithos/core/image';
import { ended, MediaError, MOST_FRAMES, SAFE_INPUT, startDecoder } from './ffmpeg';
import { sequenceFiles, type MediaInfo } from './probe';
import { openStill } from './stills';

async function readStill(path: string, info: MediaInfo): Promise<Codes> {
  const image = await openStill(path);
  const prepared = info.bitDepth === 16 ? image.toColourspace('rgb16') : image.toColourspace('srgb');
  const { data, info: got } = await (info.alpha ? prepared.ensureAlpha() : prepared.removeAlpha())
    .raw({ depth: info.bitDepth === 16 ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true });
  if (got.width !== info.width || got.height !== info.height)
    throw new MediaError(`a picture of ${got.width} x ${got.height} stands among pictures of ${info.width} x ${info.height}`);
  const values =
    info.bitDepth === 16 ? new Uint16Array(data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength)) : new Uint8Array(data);
  return { width: got.width, height: got.height, channels: got.channels as 1 | 3 | 4, bits: info.bitDepth, data: values };
}

/** Longest wait for the next bytes of a film. */
const STALL_MS = 60_000;

/**
 * All frames of a medium in order, as source codes: ffmpeg with exact flags, the file's own matrix and range, for video; sharp for
 * stills. @throws MediaError where the medium is broken, or ends before the frames that it promised.
 */
export async function* decode(path: string, info: MediaInfo, signal?: AbortSignal): AsyncGenerator<Codes> {
  if (info.kind !== 'video') {
    const files = (await stat(path)).isDirectory() ? await sequenceFiles(path) : [path];
    for (const file of files) {
      if (signal?.aborted) throw new MediaError('cancelled');
      yield await readStill(file, info).catch((error: unknown) => {
        throw error instanceof MediaError ? error : new MediaError('a picture of it is broken');
      });
    }
    return;
  }
  const channels = info.alpha ? 4 : 3,
    deep = info.bitDepth === 16,
    pixels = deep ? (info.alpha ? 'rgba64le' : 'rgb48le') : info.alpha ? 'rgba' : 'rgb24';
  const decoder =
    info.alpha && info.codec === 'vp9' ? ['-c:v', 'libvpx-vp9'] : info.alpha && info.codec === 'vp8' ? ['-c:v', 'libvpx'] : [];
  const child = startDecoder('ffmpeg', [
    '-v',
    'error',
    '-nostdin',
    '-flags',
    '+bitexact',
    ...decoder,
    ...SAFE_INPUT,
    '-i',
    path,
    '-map',
    '0:v:0',
    '-fps_mode',
    'passthrough',
    '-sws_flags',
    'bitexact+accurate_rnd+full_chroma_int+full_chroma_inp',
    '-vf',
    [...(info.filters ?? []), `scale=in_range=auto:out_range=pc,format=${pixels}`].join(','),
    '-frames:v',
    String(info.varies ? MOST_FRAMES : info.frames),
    '-f',
    'rawvideo',
    '-',
  ]);
  const finish = ended(child);
  finish.catch(() => undefined);
  const stop = () => child.kill('SIGKILL');
  signal?.addEventListener('abort', stop, { once: true });
  // A film that makes the decoder hang is given up; the clock runs only while we wait for its next bytes.
  let stalled = false;
  const watch = () =>
    setTimeout(() => {
      stalled = true;
      stop();
    }, STALL_MS).unref();
  let timer = watch();
  const size = info.width * info.height * channels * (deep ? 2 : 1);
  let buffer = Buffer.allocUnsafeSlow(size),
    filled = 0,
    count = 0;
  try {
    for await (const chunk of child.stdout!) {
      clearTimeout(timer);
      let at = 0;
      const piece = chunk as Buffer;
      while (at < piece.length) {
        const n = Math.min(size - filled, piece.length - at);
        piece.copy(buffer, filled, at, at + n);
        filled += n;
        at += n;
        if (filled < size) continue;
        count++;
        yield {
          width: info.width,
          height: info.height,
          channels,
          bits: info.bitDepth,
          data: deep ? new Uint16Array(buffer.buffer, buffer.byteOffset, size / 2) : new Uint8Array(buffer.buffer, buffer.byteOffset, size),
        };
        buffer = Buffer.allocUnsafeSlow(size);
        filled = 0;
      }
      timer = watch();
    }
    if (signal?.aborted) throw new MediaError('cancelled');
    if (stalled) throw new MediaError(`nothing more of it could be decoded within ${STALL_MS / 1000} s`);
    await finish;
    if (count === 0) throw new MediaError('no frame of it could be decoded');
  } finally {
    clearTimeout(timer);
    signal?.removeEventListener('abort', stop);
    stop();
  }
}
