import { createReadStream } from 'node:fs';
import { createHash } from 'node:crypto';
import { readdir, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { MediumFacts } from '@wraithos/core/shot';
import { MediaError, MOST_FRAMES, MOST_PIXELS, MOST_SIDE, run, SAFE_INPUT } from './ffmpeg';
import { stillFormat, stillMetadata } from './stills';

export interface MediaInfo extends MediumFacts {
  codec: string;
  kind: 'video' | 'still' | 'sequence';
}

const STILLS = new Set(['png', 'jpeg', 'jpg', 'webp', 'tiff', 'tif']);
const extensionOf = (name: string): string => (name.split('.').pop() ?? '').toLowerCase();
export const isStillName = (name: string): boolean => STILLS.has(extensionOf(name));

/** Files of a numbered sequence in a folder, in order of their numbers. @throws MediaError when there is none or there are several. */
export async function sequenceFiles(folder: string): Promise<string[]> {
  return orderSequence((await readdir(folder)).filter((n) => !n.startsWith('.'))).map((n) => join(folder, n));
}

/** Names in order of the last number in them. @throws MediaError where they are not one sequence. */
export function orderSequence(names: string[]): string[] {
  const parts = names.filter(isStillName).map((name) => {
    const m = /^(.*?)(\d+)(\D*)$/.exec(name);
    return m ? { name, stem: m[1]! + m[3]!, number: Number(m[2]) } : null;
  });
  if (parts.length === 0) throw new MediaError('there is no numbered sequence of pictures in it');
  if (parts.some((p) => p === null)) throw new MediaError('some picture files carry no number');
  const all = parts as { name: string; stem: string; number: number }[];
  if (new Set(all.map((p) => p.stem)).size > 1) throw new MediaError('it holds more than one sequence');
  return all.sort((a, b) => a.number - b.number).map((p) => p.name);
}

async function probeStill(path: string): Promise<MediaInfo> {
  const meta = await stillMetadata(path);
  return {
    width: meta.width,
    height: meta.height,
    frames: 1,
    frameRate: { num: 24, den: 1 },
    alpha: meta.hasAlpha ?? false,
    bitDepth: meta.depth === 'ushort' ? 16 : 8,
    codec: meta.format ?? 'picture',
    kind: 'still',
    transfer: 'srgb',
  };
}

const ALPHA = /^(yuva|rgba|bgra|argb|abgr|gbrap|ya|pal8)/;

async function probeVideo(path: string): Promise<MediaInfo> {
  const text = await run(
    'ffprobe',
    [
      '-v',
      'error',
      ...SAFE_INPUT,
      '-select_streams',
      'v:0',
      '-count_packets',
      '-show_entries',
      'stream=codec_name,width,height,r_frame_rate,avg_frame_rate,nb_read_packets,pix_fmt,bits_per_raw_sample,color_transfer:stream_tags=alpha_mode',
      '-of',
      'json',
      path,
    ],
    { timeoutMs: 60_000 },
  );
  const stream = (JSON.parse(text.toString()) as { streams?: Record<string, unknown>[] }).streams?.[0];
  if (!stream) throw new MediaError('it holds no picture');
  const [num, den] = String(stream.r_frame_rate ?? stream.avg_frame_rate ?? '24/1')
      .split('/')
      .map(Number),
    frames = Number(stream.nb_read_packets ?? 0),
    width = Number(stream.width),
    height = Number(stream.height);
  if (!(width > 0 && height > 0)) throw new MediaError('its size cannot be read');
  if (width * height > MOST_PIXELS || width > MOST_SIDE || height > MOST_SIDE)
    throw new MediaError(`at ${width} x ${height} it is larger than ${MOST_SIDE} x ${MOST_SIDE}`);
  if (!(frames > 0)) throw new MediaError('it holds no frames');
  if (frames > MOST_FRAMES) throw new MediaError(`it holds ${frames} frames, more than ${MOST_FRAMES}`);
  const pixels = String(stream.pix_fmt ?? ''),
    deep = /(10|12|14|16)(le|be)$|48|64|f32|p010/.test(pixels);
  const tags = (stream.tags ?? {}) as Record<string, string>;
  return {
    width,
    height,
    frames,
    frameRate: { num: num && den ? num : 24, den: num && den ? den : 1 },
    alpha: ALPHA.test(pixels) || tags.alpha_mode === '1',
    bitDepth: deep ? 16 : 8,
    codec: String(stream.codec_name ?? 'video'),
    kind: 'video',
    transfer: stream.color_transfer === 'linear' ? 'linear' : stream.color_transfer === 'bt709' ? 'rec709' : 'srgb',
  };
}

/** What a medium is: a file, or a folder with one numbered sequence. @throws MediaError in plain words, beginning with the name. */
export async function probe(path: string): Promise<MediaInfo> {
  const say = (error: unknown) => {
    if (error instanceof MediaError) return new MediaError(`${basename(path)}: ${error.message}`);
    return error;
  };
  try {
    const info = await stat(path).catch(() => {
      throw new MediaError('there is no such file or folder');
    });
    if (info.isDirectory()) {
      const files = await sequenceFiles(path);
      if (files.length > MOST_FRAMES) throw new MediaError(`it holds ${files.length} pictures, more than ${MOST_FRAMES}`);
      for (const file of files)
        if ((await stillFormat(file)) === null)
          throw new MediaError(`picture ${files.indexOf(file) + 1} of it is not PNG, JPEG, WebP or TIFF`);
      const first = await probeStill(files[0]!);
      return { ...first, frames: files.length, kind: 'sequence' };
    }
    return (await stillFormat(path)) ? await probeStill(path) : await probeVideo(path);
  } catch (error) {
    throw say(error);
  }
}

/** SHA-256 of a file, or of a sequence's files in order. `onBytes` hears how many bytes were read so far. */
export async function hashMedium(path: string, onBytes?: (read: number) => void): Promise<string> {
  const info = await stat(path),
    files = info.isDirectory() ? await sequenceFiles(path) : [path],
    hash = createHash('sha256');
  let read = 0;
  for (const file of files)
    for await (const chunk of createReadStream(file)) {
      hash.update(chunk as Buffer);
      onBytes?.((read += (chunk as Buffer).length));
    }
  return hash.digest('hex');
}
