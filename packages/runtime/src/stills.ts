import { open } from 'node:fs/promises';
import sharp, { type Metadata, type Sharp } from 'sharp';
import { MediaError, MOST_PIXELS, MOST_SIDE } from './ffmpeg';

// Nothing but these may ever be loaded, whatever a file claims to be: drawings in SVG, PDF and the like can name other files.
sharp.block({ operation: ['VipsForeignLoad'] });
sharp.unblock({
  operation: ['VipsForeignLoadPng', 'VipsForeignLoadJpeg', 'VipsForeignLoadWebp', 'VipsForeignLoadTiff'],
});
// What was decoded once is kept by the frame store; a cache of the library's would only take memory.
sharp.cache(false);

/** Formats of still pictures, told by their first bytes. */
const MAGIC: readonly { format: string; begins: string; at8?: string }[] = [
  { format: 'png', begins: '89504e470d0a1a0a' },
  { format: 'jpeg', begins: 'ffd8ff' },
  { format: 'tiff', begins: '49492a00' },
  { format: 'tiff', begins: '4d4d002a' },
  { format: 'exr', begins: '762f3101' },
  { format: 'webp', begins: '52494646', at8: '57454250' },
];

/** The format of a still picture by its content, whatever its name says; null where it is none that is read here. @throws MediaError for an empty file. */
export async function stillFormat(path: string): Promise<string | null> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(4096), 0, 4096, 0);
    if (bytesRead === 0) throw new MediaError('the file is empty');
    const hex = buffer.subarray(0, bytesRead).toString('hex');
    // A PNG that moves says so before its first picture; it is a film.
    const moves = buffer.indexOf('acTL'),
      picture = buffer.indexOf('IDAT');
    if (hex.startsWith(MAGIC[0]!.begins) && moves > 0 && (picture < 0 || moves < picture)) return null;
    return MAGIC.find((m) => hex.startsWith(m.begins) && (!m.at8 || hex.slice(16, 24) === m.at8))?.format ?? null;
  } finally {
    await file.close();
  }
}

/**
 * Opens a still picture of an allowed format. Every file is looked at, also each of a sequence, before the library sees it.
 * @param ignoreIcc keeps the codes as they are, for pictures whose primaries the program itself takes into account.
 * @throws MediaError where its content is of another format.
 */
export async function openStill(path: string, ignoreIcc = false): Promise<Sharp> {
  if ((await stillFormat(path)) === null) throw new MediaError('a picture of it is not PNG, JPEG, WebP, TIFF or EXR');
  return sharp(path, { limitInputPixels: MOST_PIXELS, failOn: 'error', ignoreIcc });
}

/** Size, depth and format of a still. @throws MediaError in plain words. */
export async function stillMetadata(path: string): Promise<Metadata & { width: number; height: number }> {
  const picture = await openStill(path);
  let meta: Metadata;
  try {
    meta = await picture.metadata();
  } catch {
    throw new MediaError('it is damaged, or no picture that can be read');
  }
  const { width, height } = meta;
  if (!width || !height) throw new MediaError('it is no picture that can be read');
  if (width * height > MOST_PIXELS || width > MOST_SIDE || height > MOST_SIDE)
    throw new MediaError(`at ${width} x ${height} it is larger than ${MOST_SIDE} x ${MOST_SIDE}`);
  return { ...meta, width, height };
}
