import { randomUUID } from 'node:crypto';
import { rename, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import sharp from 'sharp';
import type { AlphaMode } from '@wraithos/core/render';
import { encodeCodes, type Picture, type Pictures, type Plane } from '@wraithos/core/image';

/** Writes a file beside its place and moves it there: it appears whole or not at all. */
export async function atomically(path: string, write: (part: string) => Promise<unknown>): Promise<void> {
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
/**
 * A picture as codes for a file: on black; with straight alpha, where light that covers nothing gets as much cover as it is bright, or it would be lost;
 * or premultiplied.
 */
export function pictureCodes(
  picture: Picture,
  bits: 8 | 16,
  frame: number,
  pictures: Pictures,
  alpha: AlphaMode = 'none',
): Uint8Array | Uint16Array {
  if (alpha === 'none') return encodeCodes(picture, { bits, channels: 3, frame }, pictures);
  const { width, height, data } = picture;
  if (alpha === 'straight') {
    const covered = pictures.takePicture(width, height),
      to = covered.data;
    to.set(data);
    for (let i = 0; i < to.length; i += 4) to[i + 3] = Math.min(1, Math.max(to[i]!, to[i + 1]!, to[i + 2]!, to[i + 3]!));
    const out = encodeCodes(covered, { bits, channels: 4, frame }, pictures);
    pictures.give(covered);
    return out;
  }
  const colours = encodeCodes(picture, { bits, channels: 3, frame }, pictures),
    top = bits === 8 ? 255 : 65535,
    out = bits === 8 ? new Uint8Array(width * height * 4) : new Uint16Array(width * height * 4);
  for (let p = 0, i = 0, c = 0; p < width * height; p++, i += 4, c += 3) {
    for (let k = 0; k < 3; k++) out[i + k] = colours[c + k]!;
    out[i + 3] = Math.round(Math.min(1, Math.max(0, data[i + 3]!)) * top);
  }
  return out;
}

/** A matte as 16-bit grey codes. */
export const matteCodes = (matte: Plane): Uint16Array =>
  Uint16Array.from(matte.data, (v) => Math.round(Math.min(1, Math.max(0, v)) * 65535));
