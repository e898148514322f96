import { createReadStream } from 'node:fs';
import { createHash } from 'node:crypto';
import { stat } from 'node:fs/promises';
import { basename } from 'node:path';
import type { Primaries, Transfer } from '@wraithos/core/image';
import type { MediumFacts } from '@wraithos/core/shot';
import { isTable, readTable } from './colourTable';
import { exrHeader } from './exrHeader';
import { MediaError, MOST_FRAMES, MOST_PIXELS, MOST_SIDE, run, SAFE_INPUT } from './ffmpeg';
import { primariesOfProfile } from './profile';
import { sequenceOf } from './sequence';
import { stillFormat, stillMetadata } from './stills';

export interface MediaInfo extends MediumFacts {
  codec: string;
  kind: 'video' | 'still' | 'sequence' | 'table';
  /** What was done to it so that it is frames of one size at one rate, in sentences for people; not there where nothing was. */
  notes?: string[];
  /** Filters of the decoder that do it. */
  filters?: string[];
  /** The values that the sides of a colour table stand for. */
  domain?: { low: [number, number, number]; high: [number, number, number]; curves: boolean };
  /** The layer of its file that is read, where it has more. */
  layer?: string;
  /** Its rate varies, so that how many frames there will be is only an estimate. */
  varies?: boolean;
}

/** Depth of a still's codes by how the library names it. */
const depthOf = (depth: string | undefined): MediaInfo['bitDepth'] =>
  depth === 'float' || depth === 'double' ? 32 : depth === 'ushort' ? 16 : 8;

async function probeExr(path: string): Promise<MediaInfo> {
  const { width, height, alpha, grey, layer, primaries, note } = await exrHeader(path);
  return {
    ...{ width, height, frames: 1, frameRate: { num: 24, den: 1 }, alpha, bitDepth: 32, codec: 'exr', kind: 'still' },
    ...{ transfer: 'linear', primaries, premultiplied: alpha },
    ...(grey ? { codec: 'exr grey' } : {}),
    ...(layer ? { layer } : {}),
    ...(note ? { notes: [note] } : {}),
  };
}
async function probeStill(path: string): Promise<MediaInfo> {
  if ((await stillFormat(path)) === 'exr') return probeExr(path);
  const meta = await stillMetadata(path),
    bitDepth = depthOf(meta.depth),
    primaries = meta.icc ? primariesOfProfile(meta.icc) : null;
  return {
    width: meta.width,
    height: meta.height,
    frames: 1,
    frameRate: { num: 24, den: 1 },
    alpha: meta.hasAlpha ?? false,
    bitDepth,
    codec: meta.format ?? 'picture',
    kind: 'still',
    transfer: bitDepth === 32 ? 'linear' : 'srgb',
    primaries: primaries ?? 'rec709',
  };
}

const ALPHA = /^(yuva|rgba|bgra|argb|abgr|gbrap|ya|pal8)/;

/** Curves and primaries as ffmpeg names the tags of a film (ITU-T H.273). */
const TRANSFERS: Readonly<Record<string, Transfer>> = {
  linear: 'linear',
  bt709: 'rec709',
  smpte170m: 'rec709',
  'bt2020-10': 'rec709',
  'bt2020-12': 'rec709',
  'iec61966-2-1': 'srgb',
  smpte2084: 'pq',
};
const PRIMARIES: Readonly<Record<string, Primaries>> = { bt709: 'rec709', bt2020: 'rec2020', smpte432: 'p3-d65' };

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
      'stream=codec_type,codec_name,width,height,r_frame_rate,avg_frame_rate,nb_read_packets,pix_fmt,bits_per_raw_sample,color_transfer,color_primaries,field_order:stream_tags=alpha_mode:stream_side_data=rotation:format=duration',
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
  if (stream.color_transfer === 'arib-std-b67') notes.push('Its HLG curve is not undone; a .cube table in its settings can do it.');
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
    transfer: TRANSFERS[String(stream.color_transfer)] ?? 'srgb',
    primaries: PRIMARIES[String(stream.color_primaries)] ?? 'rec709',
    ...(notes.length ? { notes } : {}),
    ...(filters.length ? { filters } : {}),
    ...(varies ? { varies } : {}),
  };
}

async function probeTable(path: string): Promise<MediaInfo> {
  const { kind, size, low, high } = await readTable(path);
  return {
    ...{ width: size, height: kind === 'cube' ? size * size : 1, frames: 1, frameRate: { num: 24, den: 1 }, alpha: false, bitDepth: 32 },
    ...{ codec: 'cube', kind: 'table', transfer: 'linear', domain: { low: [...low], high: [...high], curves: kind === 'curves' } },
  };
}
/** Which frames a sequence has no picture for, in a sentence. */
function tellMissing(missing: NonNullable<MediaInfo['missing']>, frames: number): string {
  const count = missing.reduce((n, [first, last]) => n + last - first + 1, 0),
    list = missing.slice(0, 4).map(([first, last]) => (first === last ? `${first + 1}` : `${first + 1} to ${last + 1}`));
  return `Its numbers leave out ${count} of ${frames} pictures (${list.join(', ')}${missing.length > 4 ? ', …' : ''}); the one before stands there, or black if you choose so in its settings.`;
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
      const { files, frames, missing } = await sequenceOf(path);
      if (frames > MOST_FRAMES) throw new MediaError(`it holds ${frames} pictures, more than ${MOST_FRAMES}`);
      for (const { path: file, frame } of files)
        if ((await stillFormat(file)) === null) throw new MediaError(`picture ${frame + 1} of it is not PNG, JPEG, WebP, TIFF or EXR`);
      const first = await probeStill(files[0]!.path),
        notes = [...(first.notes ?? []), ...(missing.length ? [tellMissing(missing, frames)] : [])];
      return { ...first, frames, kind: 'sequence', ...(missing.length ? { missing } : {}), ...(notes.length ? { notes } : {}) };
    }
    if (await stillFormat(path)) return await probeStill(path);
    return (await isTable(path)) ? await probeTable(path) : await probeVideo(path);
  } catch (error) {
    throw say(error);
  }
}

/** SHA-256 of a file, or of a sequence's files in order. `onBytes` hears how many bytes were read so far. */
export async function hashMedium(path: string, onBytes?: (read: number) => void): Promise<string> {
  const info = await stat(path),
    sequence = info.isDirectory() ? await sequenceOf(path) : null,
    files = sequence ? sequence.files.map((f) => f.path) : [path],
    hash = createHash('sha256');
  // The same pictures with other gaps between them are another medium.
  if (sequence?.missing.length) hash.update(JSON.stringify(sequence.missing));
  let read = 0;
  for (const file of files)
    for await (const chunk of createReadStream(file)) {
      hash.update(chunk as Buffer);
      onBytes?.((read += (chunk as Buffer).length));
    }
  return hash.digest('hex');
}
