import { Arena, blur, type Picture } from '../image';
import { emptyRegion, placed, regionAround } from './region';

const arena = new Arena(64 * 2 ** 20);
const [width, height] = [413, 271];

test.each([0.6, 3, 9, 17])('a blur of sigma %d in a region is that of the whole picture, to the bit', (sigma) => {
  const box = [170, 120, 201, 149] as const,
    whole = emptyRegion({ width, height }, arena),
    region = regionAround(box, sigma, width, height),
    part = emptyRegion(region, arena),
    put = (to: Picture, x: number, y: number, i: number) => (to.data[(y * to.width + x) * 4 + (i % 4)] = (((i * 7919) % 997) / 997) * 2);
  for (let y = box[1], i = 0; y < box[3]; y++)
    for (let x = box[0]; x < box[2]; x++, i++) {
      put(whole, x, y, i);
      put(part, x - region.x, y - region.y, i);
    }
  const all = blur(whole, sigma, arena),
    some = placed(blur(part, sigma, arena), region.x, region.y, width, height, arena);
  expect(sigma > 9 || region.width < width).toBe(true);
  let most = 0;
  for (let i = 0; i < all.data.length; i++) most = Math.max(most, Math.abs(all.data[i]! - some.data[i]!));
  expect(most).toBe(0);
  expect(all.data.some((v) => v > 0.01)).toBe(true);
});
