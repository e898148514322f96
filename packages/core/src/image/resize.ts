import { channelsOf, type Picture, type Plane, type Raster } from './picture';
import type { Pictures } from './arena';

/** Size of a raster at 1/`factor`; a part of a pixel at the edge counts as one. */
export const reducedSize = (size: number, factor: number): number => Math.ceil(size / factor);

export function takeLike<R extends Raster>(pictures: Pictures, like: R, width = like.width, height = like.height): R {
  return (like.kind === 'picture' ? pictures.takePicture(width, height) : pictures.takePlane(width, height)) as R;
}

/** Mean of blocks of `factor` x `factor` pixels, in linear light; edge blocks take the mean of what there is. */
export function reduce<R extends Picture | Plane>(source: R, factor: number, pictures: Pictures): R {
  const width = reducedSize(source.width, factor),
    height = reducedSize(source.height, factor),
    channels = channelsOf(source);
  const out = takeLike(pictures, source, width, height),
    from = source.data,
    to = out.data;
  to.fill(0);
  const stride = source.width * channels;
  for (let y = 0; y < height; y++) {
    const rows = Math.min(factor, source.height - y * factor);
    for (let r = 0; r < rows; r++) {
      const row = (y * factor + r) * stride;
      for (let x = 0; x < width; x++) {
        const columns = Math.min(factor, source.width - x * factor),
          at = (y * width + x) * channels,
          k = 1 / (rows * columns);
        for (let q = 0; q < columns; q++) {
          const p = row + (x * factor + q) * channels;
          for (let c = 0; c < channels; c++) to[at + c]! += from[p + c]! * k;
        }
      }
    }
  }
  return out;
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
