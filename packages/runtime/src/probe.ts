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
  /** What was done to it so that it is frames of one size at one rate, in sentences for people; not there where nothing was. */
  notes?: string[];
  /** Filters of the decoder that do it. */
  filters?: string[];
  /** Its rate varies, so that how many frames there will be is only an estimate. */
  varies?: boolean;
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

/** Rates that films have. */
const RATES: readonly (readonly [number, number])[] = [
  ...([
    [24000, 1001],
    [24, 1],
    [25, 1],
    [30000, 1001],
    [30, 1],
    [48, 1],
    [50, 1],
    [60000, 1001],
    [60, 1],
  ] as const),
];
const fractionOf = (text: unknown): { num: number; den: number } | null => {
  const [num, den] = String(text ?? '')
    .split('/')
    .map(Number);
  return num && den ? { num, den } : null;
};
/** Nominal and mean rate this far apart (as a share) are a rate that varies. */
const VARIES = 0.02,
  FASTEST = 120;
/** The rate of films that is nearest to a mean rate. */
function steadyRate(mean: number): { num: number; den: number } {
  const off = ([num, den]: readonly [number, number]) => Math.abs(num / den / mean - 1),
    [num, den] = RATES.reduce((best, rate) => (off(rate) < off(best) ? rate : best));
  return off([num, den]) < 0.05 ? { num, den } : { num: Math.max(1, Math.round(mean)), den: 1 };
}

async function probeVideo(path: string): Promise<MediaInfo> {
  const text = await run(
    'ffprobe',
    [
      '-v',
      'error',
      ...SAFE_INPUT,
      '-count_packets',
      '-show_entries',
      'stream=codec_type,codec_name,width,height,r_frame_rate,avg_frame_rate,nb_read_packets,pix_fmt,bits_per_raw_sample,color_transfer,field_order:stream_tags=alpha_mode:stream_side_data=rotation:format=duration',
      '-of',
      'json',
      path,
    ],
    { timeoutMs: 60_000 },
  );
  const { streams = [], format = {} } = JSON.parse(text.toString()) as {
      streams?: Record<string, unknown>[];
      format?: { duration?: string };
    },
    stream = streams.find((s) => s.codec_type === 'video');
  if (!stream) throw new MediaError('it holds no picture');
  const nominal = fractionOf(stream.r_frame_rate),
    mean = fractionOf(stream.avg_frame_rate) ?? nominal,
    packets = Number(stream.nb_read_packets ?? 0),
    // The decoder turns pictures as the file says; then their sides change places.
    turned = Number((stream.side_data_list as { rotation?: number }[] | undefined)?.find((d) => d.rotation !== undefined)?.rotation ?? 0),
    sides = [Number(stream.width), Number(stream.height)] as const,
    [width, height] = Math.abs(turned) % 180 === 90 ? [sides[1], sides[0]] : sides,
    notes: string[] = [],
    filters: string[] = [];
  if (!(width > 0 && height > 0)) throw new MediaError('its size cannot be read');
  if (width * height > MOST_PIXELS || width > MOST_SIDE || height > MOST_SIDE)
    throw new MediaError(`at ${width} x ${height} it is larger than ${MOST_SIDE} x ${MOST_SIDE}`);
  if (turned) notes.push(`It was turned by ${Math.abs(turned)}°, as its file says.`);
  const order = typeof stream.field_order === 'string' ? stream.field_order : 'progressive';
  if (['tt', 'bb', 'tb', 'bt'].includes(order)) {
    filters.push('bwdif=mode=send_frame');
    notes.push('Its interlaced fields were made whole pictures.');
  }
  let frames = packets,
    frameRate = nominal ?? { num: 24, den: 1 };
  const varies = packets > 1 && nominal && mean ? Math.abs(nominal.num / nominal.den / (mean.num / mean.den) - 1) > VARIES : false;
  if (varies) {
    const perSecond = mean!.num / mean!.den,
      seconds = Number(format.duration) || packets / perSecond;
    // A nominal rate that a film may have is the one that its pictures were meant for; anything else is a clock's.
    frameRate = nominal!.num / nominal!.den <= FASTEST ? nominal! : steadyRate(perSecond);
    frames = Math.max(1, Math.round((seconds * frameRate.num) / frameRate.den));
    filters.push(`fps=${frameRate.num}/${frameRate.den}`);
    notes.push(`Its rate varies; it was made steady at ${Number((frameRate.num / frameRate.den).toFixed(3))} frames a second.`);
  }
  if (streams.some((s) => s.codec_type === 'audio')) notes.push('Its sound is not read.');
  if (!(frames > 0)) throw new MediaError('it holds no frames');
  if (frames > MOST_FRAMES) throw new MediaError(`it holds ${frames} frames, more than ${MOST_FRAMES}`);
  const pixels = String(stream.pix_fmt ?? ''),
    deep = /(10|12|14|16)(le|be)$|48|64|f32|p010/.test(pixels);
  const tags = (stream.tags ?? {}) as Record<string, string>;
  return {
    width,
    height,
    frames,
    frameRate,
    alpha: ALPHA.test(pixels) || tags.alpha_mode === '1',
    bitDepth: deep ? 16 : 8,
    codec: String(stream.codec_name ?? 'video'),
    kind: 'video',
    transfer: stream.color_transfer === 'linear' ? 'linear' : stream.color_transfer === 'bt709' ? 'rec709' : 'srgb',
    ...(notes.length ? { notes } : {}),
    ...(filters.length ? { filters } : {}),
    ...(varies ? { varies } : {}),
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
