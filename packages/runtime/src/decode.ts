import { stat } from 'node:fs/promises';
import type { Codes } from '@wraithos/core/image';
import { readTable, tableCodes } from './colourTable';
import { exrHeader } from './exrHeader';
import { ended, MediaError, MOST_FRAMES, run, SAFE_INPUT, startDecoder } from './ffmpeg';
import type { MediaInfo } from './probe';
import { sequenceOf } from './sequence';
import { openStill, stillFormat } from './stills';

/** Longest wait for the next bytes of a film. */
const STALL_MS = 60_000;

/** One EXR as interleaved floats: the decoder gives planes of green, blue, red and alpha. */
async function readExr(path: string, info: MediaInfo, signal?: AbortSignal): Promise<Codes> {
  const header = await exrHeader(path),
    { width, height } = info,
    n = width * height,
    channels = info.alpha ? 4 : 3,
    planes = info.codec === 'exr grey' ? 1 : channels,
    pixels = planes === 1 ? 'grayf32le' : planes === 4 ? 'gbrapf32le' : 'gbrpf32le';
  if (header.width !== width || header.height !== height || header.alpha !== info.alpha)
    throw new MediaError(`a picture of ${header.width} x ${header.height}${header.alpha ? ' with alpha' : ''} stands among others`);
  const layer = info.layer ? ['-layer', info.layer] : [],
    bytes = await run(
      'ffmpeg',
      [
        ...['-v', 'error', '-nostdin', '-flags', '+bitexact', ...SAFE_INPUT, '-f', 'exr_pipe', ...layer, '-i', path],
        ...['-frames:v', '1', '-vf', `format=${pixels}`, '-f', 'rawvideo', '-'],
      ],
      { timeoutMs: STALL_MS, mostBytes: 4 * n * planes, signal },
    );
  if (bytes.length !== 4 * n * planes) throw new MediaError('a picture of it breaks off');
  const from = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length)),
    data = new Float32Array(n * channels),
    [g, b, r, a] = planes === 1 ? [0, 0, 0, 0] : [0, n, 2 * n, 3 * n];
  for (let i = 0, o = 0; i < n; i++, o += channels) {
    data[o] = from[r! + i]!;
    data[o + 1] = from[g! + i]!;
    data[o + 2] = from[b! + i]!;
    if (channels === 4) data[o + 3] = from[a! + i]!;
  }
  return { width, height, channels, bits: 32, data };
}

async function readStill(path: string, info: MediaInfo, signal?: AbortSignal): Promise<Codes> {
  if ((await stillFormat(path)) === 'exr') return readExr(path, info, signal);
  const image = await openStill(path, info.primaries !== 'rec709'),
    depth = info.bitDepth,
    prepared = depth === 32 ? image.toColourspace('scrgb') : depth === 16 ? image.toColourspace('rgb16') : image.toColourspace('srgb');
  const { data, info: got } = await (info.alpha ? prepared.ensureAlpha() : prepared.removeAlpha())
    .raw({ depth: depth === 32 ? 'float' : depth === 16 ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true });
  if (got.width !== info.width || got.height !== info.height)
    throw new MediaError(`a picture of ${got.width} x ${got.height} stands among pictures of ${info.width} x ${info.height}`);
  const own = data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength),
    values = depth === 32 ? new Float32Array(own) : depth === 16 ? new Uint16Array(own) : new Uint8Array(data);
  return { width: got.width, height: got.height, channels: got.channels as 1 | 3 | 4, bits: depth, data: values };
}

/** Pictures of a sequence that are decoded at one time. */
const AT_ONCE = 3;
/** Pictures in order, the next ones already on their way; where a number is missing, the one before once more. */
async function* sequence(files: { path: string; frame: number }[], info: MediaInfo, signal?: AbortSignal): AsyncGenerator<Codes> {
  const coming: Promise<Codes>[] = [];
  let next = 0,
    frame = 0,
    before: Codes | null = null;
  const start = () => {
    const reading = readStill(files[next++]!.path, info, signal);
    reading.catch(() => undefined);
    coming.push(reading);
  };
  for (const file of files) {
    while (next < files.length && coming.length < AT_ONCE) start();
    if (signal?.aborted) throw new MediaError('cancelled');
    for (; frame < file.frame; frame++) yield before!;
    before = await coming.shift()!.catch((error: unknown) => {
      throw error instanceof MediaError ? error : new MediaError('a picture of it is broken');
    });
    yield before;
    frame++;
  }
}

/** Channels and depth of a film's codes. */
const shapeOf = (info: MediaInfo): { channels: 3 | 4; deep: boolean; bytes: number } => {
  const channels = info.alpha ? 4 : 3,
    deep = info.bitDepth === 16;
  return { channels, deep, bytes: info.width * info.height * channels * (deep ? 2 : 1) };
};

/**
 * All frames of a medium in order, as source codes: ffmpeg with exact flags, the file's own matrix and range, for video; sharp for
 * stills. @throws MediaError where the medium is broken, or ends before the frames that it promised.
 */
export async function* decode(path: string, info: MediaInfo, signal?: AbortSignal): AsyncGenerator<Codes> {
  if (info.kind === 'table') {
    yield tableCodes(await readTable(path));
    return;
  }
  if (info.kind !== 'video') {
    yield* sequence((await stat(path)).isDirectory() ? (await sequenceOf(path)).files : [{ path, frame: 0 }], info, signal);
    return;
  }
  const { channels, deep, bytes } = shapeOf(info);
  for await (const pieces of decodeFilm(path, info, signal)) {
    const frame = Buffer.allocUnsafeSlow(bytes);
    let at = 0;
    for (const piece of pieces) at += piece.copy(frame, at);
    yield {
      width: info.width,
      height: info.height,
      channels,
      bits: deep ? 16 : 8,
      data: deep ? new Uint16Array(frame.buffer, frame.byteOffset, bytes / 2) : new Uint8Array(frame.buffer, frame.byteOffset, bytes),
    };
  }
}

/**
 * The frames of a film as the decoder's bytes, each in the pieces in which it came: who only writes them down need not put them together, which takes
 * a fifth of the time of bringing a film in. @throws MediaError as `decode` does.
 */
export async function* decodeFilm(path: string, info: MediaInfo, signal?: AbortSignal): AsyncGenerator<Buffer[]> {
  const { deep, bytes: size } = shapeOf(info),
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
  const timer = setTimeout(() => {
    stalled = true;
    stop();
  }, STALL_MS).unref();
  let pieces: Buffer[] = [],
    filled = 0,
    count = 0;
  try {
    for await (const chunk of child.stdout!) {
      const piece = chunk as Buffer;
      for (let at = 0; at < piece.length;) {
        const n = Math.min(size - filled, piece.length - at);
        pieces.push(piece.subarray(at, at + n));
        filled += n;
        at += n;
        if (filled < size) continue;
        count++;
        yield pieces;
        pieces = [];
        filled = 0;
      }
      timer.refresh();
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
