import { open } from 'node:fs/promises';
import { primariesOf, type Primaries } from '@wraithos/core/image';
import { MediaError, MOST_PIXELS, MOST_SIDE } from './ffmpeg';

/** What is read of an OpenEXR file before its pixels. */
export interface ExrHeader {
  width: number;
  height: number;
  alpha: boolean;
  /** One channel of brightness in place of three of colour. */
  grey: boolean;
  /** The layer whose colours are read; empty for those that belong to none. */
  layer: string;
  primaries: Primaries;
  /** What is different from what its author may expect, for people. */
  note: string;
}
const MOST_HEADER = 1 << 20,
  SEVERAL_PARTS = 0x1000,
  DEEP = 0x800;

/** Compressions that the decoder reads: none, RLE, ZIPS, ZIP, PIZ, PXR24, B44, B44A, DWAA, DWAB. */
const COMPRESSIONS = 10;

/**
 * Reads the header of an OpenEXR file ("The OpenEXR File Layout", Academy Software Foundation).
 * @throws MediaError in words that follow its name.
 */
export async function exrHeader(path: string): Promise<ExrHeader> {
  const file = await open(path);
  let bytes: Buffer;
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(MOST_HEADER), 0, MOST_HEADER, 0);
    bytes = buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
  try {
    return parsed(bytes);
  } catch (error) {
    if (error instanceof MediaError) throw error;
    throw new MediaError('its header breaks off', { cause: error });
  }
}

function parsed(bytes: Buffer): ExrHeader {
  const flags = bytes.readUInt32LE(4);
  if (flags & DEEP) throw new MediaError('it holds deep pixels, which are not read; write it flat');
  if (flags & SEVERAL_PARTS) throw new MediaError('it holds several parts; write each part to a file of its own');
  let at = 8;
  const word = () => {
      const end = bytes.indexOf(0, at);
      if (end < 0) throw new RangeError('no end');
      const text = bytes.toString('latin1', at, end);
      at = end + 1;
      return text;
    },
    attributes = new Map<string, Buffer>();
  while (bytes[at] !== 0) {
    const name = word();
    word();
    const size = bytes.readInt32LE(at);
    at += 4;
    if (size < 0 || at + size > bytes.length) throw new RangeError('no end');
    attributes.set(name, bytes.subarray(at, at + size));
    at += size;
  }
  const need = (name: string): Buffer => {
      const value = attributes.get(name);
      if (!value) throw new MediaError(`its header says no ${name}`);
      return value;
    },
    window = need('displayWindow'),
    [left, top, right, bottom] = [0, 4, 8, 12].map((i) => window.readInt32LE(i)) as [number, number, number, number],
    width = right - left + 1,
    height = bottom - top + 1;
  if (!(width > 0 && height > 0)) throw new MediaError('its size cannot be read');
  if (width * height > MOST_PIXELS || width > MOST_SIDE || height > MOST_SIDE)
    throw new MediaError(`at ${width} x ${height} it is larger than ${MOST_SIDE} x ${MOST_SIDE}`);
  if (need('compression')[0]! >= COMPRESSIONS) throw new MediaError('its compression is not read; write it with ZIP or PIZ');
  const names = channelNames(need('channels')),
    { layer, grey } = chosenLayer(names),
    prefix = layer ? `${layer}.` : '',
    others = [...new Set(names.map((n) => n.slice(0, Math.max(0, n.lastIndexOf('.')))))].filter((l) => l && l !== layer),
    given = attributes.get('chromaticities'),
    own = given && given.length >= 32 ? Array.from({ length: 8 }, (_, i) => given.readFloatLE(4 * i)) : null,
    primaries = own ? primariesOf(own) : 'rec709',
    notes = [
      layer ? `Its layer ${layer} was read.` : others.length ? `Its layers ${others.slice(0, 4).join(', ')} are not read.` : '',
      primaries ? '' : 'Its primaries are none of those known here; Rec.709 was taken.',
    ].filter(Boolean);
  return {
    width,
    height,
    alpha: !grey && names.includes(`${prefix}A`),
    grey,
    layer,
    primaries: primaries ?? 'rec709',
    note: notes.join(' '),
  };
}
function channelNames(list: Buffer): string[] {
  const out: string[] = [];
  for (let at = 0; list[at] !== 0;) {
    const end = list.indexOf(0, at);
    if (end < 0) throw new RangeError('no end');
    out.push(list.toString('latin1', at, end));
    at = end + 17;
  }
  return out;
}
/** The layer that has red, green and blue (one without a name first), or brightness alone. @throws MediaError where none has. */
function chosenLayer(names: readonly string[]): { layer: string; grey: boolean } {
  const has = (prefix: string, ...channels: string[]) => channels.every((c) => names.includes(prefix + c));
  if (has('', 'R', 'G', 'B')) return { layer: '', grey: false };
  for (const name of names)
    if (name.endsWith('.R')) {
      const layer = name.slice(0, -2);
      if (has(`${layer}.`, 'R', 'G', 'B')) return { layer, grey: false };
    }
  if (names.includes('Y') && !names.includes('RY')) return { layer: '', grey: true };
  throw new MediaError(`it has no red, green and blue; its channels are ${names.slice(0, 8).join(', ')}`);
}
