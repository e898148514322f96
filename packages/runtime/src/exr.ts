import { writeFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import { toHalf, type Picture } from '@wraithos/core/image';
import { atomically } from './write';

/*
 * OpenEXR 2, one part of scan lines, half floats, ZIP (blocks of 16 lines): "The OpenEXR File Layout" and "Technical Introduction to OpenEXR" of the
 * Academy Software Foundation. Colours are linear with the primaries of Rec. 709, which is what a file without chromaticities means, and premultiplied.
 */

const BLOCK = 16,
  pack = promisify(deflate);

const text = (s: string): Buffer => Buffer.from(`${s}\0`, 'latin1');
function int32(...values: number[]): Buffer {
  const out = Buffer.alloc(4 * values.length);
  values.forEach((v, i) => out.writeInt32LE(v, 4 * i));
  return out;
}
function float32(...values: number[]): Buffer {
  const out = Buffer.alloc(4 * values.length);
  values.forEach((v, i) => out.writeFloatLE(v, 4 * i));
  return out;
}
const attribute = (name: string, type: string, value: Buffer): Buffer =>
  Buffer.concat([text(name), text(type), int32(value.length), value]);

/** Bytes as ZIP wants them: those of even places first, each as the difference to the one before. */
function predicted(raw: Buffer): Buffer {
  const out = Buffer.alloc(raw.length),
    middle = (raw.length + 1) >> 1;
  for (let i = 0; i < raw.length; i++) out[(i & 1 ? middle : 0) + (i >> 1)] = raw[i]!;
  for (let i = raw.length - 1; i > 0; i--) out[i] = out[i]! - out[i - 1]! + 128;
  return out;
}

/** A picture as the bytes of an OpenEXR file, with or without its alpha; values above 1 and below 0 stay. */
export async function exrBytes(picture: Picture, alpha: boolean): Promise<Buffer> {
  const { width, height, data } = picture,
    // Channels lie in the order of their names.
    channels = [...(alpha ? [['A', 3] as const] : []), ['B', 2] as const, ['G', 1] as const, ['R', 0] as const],
    HALF = 1,
    header = Buffer.concat([
      int32(20000630, 2),
      attribute(
        'channels',
        'chlist',
        Buffer.concat([
          ...channels.map(([name]) => Buffer.concat([text(name), int32(HALF), Buffer.alloc(4), int32(1, 1)])),
          Buffer.alloc(1),
        ]),
      ),
      attribute('compression', 'compression', Buffer.from([3])),
      attribute('dataWindow', 'box2i', int32(0, 0, width - 1, height - 1)),
      attribute('displayWindow', 'box2i', int32(0, 0, width - 1, height - 1)),
      attribute('lineOrder', 'lineOrder', Buffer.from([0])),
      attribute('pixelAspectRatio', 'float', float32(1)),
      attribute('screenWindowCenter', 'v2f', float32(0, 0)),
      attribute('screenWindowWidth', 'float', float32(1)),
      Buffer.alloc(1),
    ]),
    count = Math.ceil(height / BLOCK);
  const blocks = await Promise.all(
    Array.from({ length: count }, async (_, b) => {
      const y0 = b * BLOCK,
        y1 = Math.min(height, y0 + BLOCK),
        raw = Buffer.alloc((y1 - y0) * width * channels.length * 2);
      let at = 0;
      for (let y = y0; y < y1; y++)
        for (const [, c] of channels)
          for (let x = 0; x < width; x++, at += 2) raw.writeUInt16LE(toHalf(data[(y * width + x) * 4 + c]!), at);
      const packed = await pack(predicted(raw));
      // What does not become smaller is stored as it is.
      return Buffer.concat([int32(y0, Math.min(packed.length, raw.length)), packed.length < raw.length ? packed : raw]);
    }),
  );
  const offsets = Buffer.alloc(8 * count);
  let place = header.length + offsets.length;
  blocks.forEach((block, i) => {
    offsets.writeBigUInt64LE(BigInt(place), 8 * i);
    place += block.length;
  });
  return Buffer.concat([header, offsets, ...blocks]);
}

/** Writes a picture as OpenEXR; it appears whole or not at all. */
export async function writeExr(path: string, picture: Picture, alpha: boolean): Promise<void> {
  const bytes = await exrBytes(picture, alpha);
  await atomically(path, (part) => writeFile(part, bytes));
}
