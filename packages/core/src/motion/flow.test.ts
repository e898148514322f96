import { Arena, newPlane, noise2, type Plane } from '../image';
import { followPoints, givePyramid, pyramidOf } from './flow';

const arena = new Arena(8 * 2 ** 20);

/** A cloudy surface, moved by (dx, dy). */
function surface(dx: number, dy: number, flat = false): Plane {
  const plane = newPlane(200, 150);
  for (let y = 0; y < 150; y++)
    for (let x = 0; x < 200; x++)
      plane.data[y * 200 + x] = flat ? 0.5 : 0.6 * noise2((x - dx) / 9, (y - dy) / 9, 3) + 0.4 * noise2((x - dx) / 4, (y - dy) / 4, 8);
  return plane;
}
const points: [number, number][] = Array.from({ length: 20 }, (_, i) => [40 + 6 * i, 40 + ((i * 37) % 70)]);

test.each([
  [0.3, -0.45],
  [3.3, -2.1],
  [-11.6, 8.2],
])('points are followed to a part of a pixel over a shift of %d, %d', (dx, dy) => {
  const followed = followPoints(pyramidOf(surface(0, 0), 3, arena), pyramidOf(surface(dx, dy), 3, arena), points, 21);
  followed.forEach((p, i) => {
    expect(p.found).toBe(true);
    expect(Math.abs(p.x - points[i]![0] - dx)).toBeLessThan(0.06);
    expect(Math.abs(p.y - points[i]![1] - dy)).toBeLessThan(0.06);
  });
});

test('where there is no structure, or the point leaves the picture, nothing is claimed', () => {
  const flat = pyramidOf(surface(0, 0, true), 3, arena);
  expect(followPoints(flat, flat, points, 21).some((p) => p.found)).toBe(false);
  const [gone] = followPoints(pyramidOf(surface(0, 0), 3, arena), pyramidOf(surface(-9, 0), 3, arena), [[6, 60]], 21);
  expect(gone!.found).toBe(false);
});

test('a pyramid halves as long as something is left, and gives everything back', () => {
  const own = new Arena(2 ** 20),
    pyramid = pyramidOf(surface(0, 0), 9, own);
  expect(pyramid.map((p) => [p.width, p.height])).toEqual([
    [200, 150],
    [100, 75],
    [50, 37],
    [25, 18],
  ]);
  givePyramid(pyramid, own);
  expect(own.inUse).toBe(0);
});
