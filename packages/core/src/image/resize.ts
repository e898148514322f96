import { channelsOf, type Picture, type Raster } from './picture';
import type { Pictures } from './arena';

/** Size of a raster at 1/`factor`; a part of a pixel at the edge counts as one. */
export const reducedSize = (size: number, factor: number): number => Math.ceil(size / factor);

export function takeLike<R extends Raster>(pictures: Pictures, like: R, width = like.width, height = like.height): R {
  return (like.kind === 'picture' ? pictures.takePicture(width, height) : pictures.takePlane(width, height)) as R;
}

/** Bilinear copy of a picture at another size. */
export function fitTo(source: Picture, width: number, height: number, pictures: Pictures): Picture {
  const out = pictures.takePicture(width, height),
    from = source.data,
    to = out.data,
    kx = source.width / width,
    ky = source.height / height;
  const edge = (v: number, size: number) => (v < 0 ? 0 : v > size - 1 ? size - 1 : v);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const sx = edge((x + 0.5) * kx - 0.5, source.width),
        sy = edge((y + 0.5) * ky - 0.5, source.height),
        xi = Math.floor(sx),
        yi = Math.floor(sy),
        tx = sx - xi,
        ty = sy - yi;
      const a = (yi * source.width + xi) * 4,
        right = xi + 1 < source.width ? 4 : 0,
        down = yi + 1 < source.height ? source.width * 4 : 0;
      for (let c = 0; c < 4; c++) {
        const top = from[a + c]! + (from[a + right + c]! - from[a + c]!) * tx,
          bottom = from[a + down + c]! + (from[a + down + right + c]! - from[a + down + c]!) * tx;
        to[(y * width + x) * 4 + c] = top + (bottom - top) * ty;
      }
    }
  return out;
}

/** A part of a picture that is worked on by itself: its upper left pixel, and its size. */
export interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A part of a raster, as one of its own. */
export function partOf<R extends Raster>(source: R, region: Region, pictures: Pictures): R {
  const out = takeLike(pictures, source, region.width, region.height),
    channels = channelsOf(source),
    long = region.width * channels;
  for (let row = 0; row < region.height; row++) {
    const from = ((region.y + row) * source.width + region.x) * channels;
    out.data.set(source.data.subarray(from, from + long), row * long);
  }
  return out;
}
