import { randomUUID } from 'node:crypto';
import { rename, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import sharp from 'sharp';
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
export const pictureCodes = (picture: Picture, bits: 8 | 16, frame: number, pictures: Pictures): Uint8Array | Uint16Array =>
  encodeCodes(picture, { bits, channels: 3, frame }, pictures);

/** A matte as 16-bit grey codes. */
export const matteCodes = (matte: Plane): Uint16Array =>
  Uint16Array.from(matte.data, (v) => Math.round(Math.min(1, Math.max(0, v)) * 65535));
