import sharp, { type Sharp } from 'sharp';
import { STRIP_TILES } from '@wraithos/core/render';
import { atomically } from './write';

/** Size of a picture of a moving thumbnail, pixels: twice what a tile shows. */
const TILE = { width: 192, height: 108 },
  CLEAR = { r: 0, g: 0, b: 0, alpha: 0 };

/**
 * Writes a moving thumbnail: STRIP_TILES pictures of a clip side by side, PNG with alpha.
 * @param picture a frame of it, as an image.
 */
export async function writeStrip(path: string, frames: number, picture: (frame: number) => Promise<Sharp>): Promise<void> {
  const tiles = await Promise.all(
    Array.from({ length: STRIP_TILES }, async (_, i) => ({
      // From the middle of each tenth: what bursts begins with nothing.
      input: await (
        await picture(Math.floor(((i + 0.5) * frames) / STRIP_TILES))
      )
        .resize(TILE.width, TILE.height, { fit: 'contain', background: CLEAR })
        .toColourspace('srgb')
        .png()
        .toBuffer(),
      left: i * TILE.width,
      top: 0,
    })),
  );
  await atomically(path, (part) =>
    sharp({ create: { width: STRIP_TILES * TILE.width, height: TILE.height, channels: 4, background: CLEAR } })
      .composite(tiles)
      .png({ compressionLevel: 9 })
      .toFile(part),
  );
}
