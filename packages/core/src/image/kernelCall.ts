import type { Pictures } from './arena';
import type { Raster } from './picture';
import { takeLike } from './resize';

/**
 * Runs `work` with the addresses of rasters in the kernels' memory. Rasters that are kept outside of it (remembered ones) are copied
 * in for as long as that takes.
 * @throws Error where the pictures' own memory gives no addresses.
 */
export function withAddresses<R>(pictures: Pictures, rasters: readonly Raster[], work: (...addresses: number[]) => R): R {
  const copies: Raster[] = [];
  const addresses = rasters.map((raster) => {
    if (raster.address !== undefined) return raster.address;
    const copy = takeLike(pictures, raster);
    if (copy.address === undefined) throw new Error('withAddresses: these pictures have no memory that kernels can reach');
    copy.data.set(raster.data);
    copies.push(copy);
    return copy.address;
  });
  const result = work(...addresses);
  for (const copy of copies) pictures.give(copy);
  return result;
}
