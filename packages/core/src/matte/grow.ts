import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Plane } from '../image/picture';
import { between } from '../image/planeMath';

/** Grows (or, below 0, shrinks) a matte by `amount` pixels; parts of a pixel are mixed. In place. */
export function growMatte(matte: Plane, amount: number, pictures: Pictures): void {
  const size = Math.min(200, Math.abs(amount)),
    sign = amount > 0 ? 1 : -1,
    whole = Math.floor(size),
    part = size - whole;
  if (size < 1e-3) return;
  const { width, height } = matte,
    planes = [pictures.takePlane(width, height), pictures.takePlane(width, height)] as const;
  planes[0].data.set(matte.data);
  let now: 0 | 1 = 0;
  // Square and diamond steps in turn make an octagon, near enough a disc.
  withAddresses(pictures, planes, (first, second) => {
    const step = (i: number) =>
      pictures.run('growOnce', height, now ? second! : first!, now ? first! : second!, width, height, i % 2 === 1, sign < 0);
    for (let i = 0; i < whole; i++) {
      step(i);
      now = now ? 0 : 1;
    }
    if (part > 1e-3) step(whole);
  });
  const less = planes[now],
    more = planes[now ? 0 : 1];
  if (part > 1e-3) between(less, more, part, pictures, less);
  matte.data.set(less.data);
  for (const plane of planes) pictures.give(plane);
}
