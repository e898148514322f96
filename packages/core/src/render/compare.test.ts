import { HEIGHT, smallShot, smallSources, WIDTH } from '../../test/smallShot';
import { Arena, newPicture } from '../image';
import { compared, compareWays, wipeLine, type Compare } from './compare';
import { FrameRenderer } from './renderFrame';

const even = (value: number, width = 8, height = 6) => {
  const picture = newPicture(width, height);
  for (let i = 0; i < picture.data.length; i += 4) picture.data.set([value, value, value, 1], i);
  return picture;
};
const arena = new Arena(4 << 20),
  how = (change: Partial<Compare>): Compare => ({ with: { kind: 'base' }, how: 'wipe', at: 0.5, angle: 0, ...change });

test.each([
  [0, 0.25, (x: number) => x < 2],
  [0, 0.75, (x: number) => x < 6],
  [90, 0.5, (_: number, y: number) => y < 3],
  [180, 0.25, (x: number) => x >= 6],
] as const)('a wipe at %i degrees, at %d: the picture before the line, the other behind it', (angle, at, near) => {
  const { data, width } = compared(even(0.2), even(0.8), how({ angle, at }), arena);
  for (let i = 0; i < data.length; i += 4) {
    const x = (i / 4) % width,
      y = Math.floor(i / 4 / width);
    expect(data[i]).toBeCloseTo((near as (x: number, y: number) => boolean)(x, y) ? 0.2 : 0.8, 6);
  }
});
test('a wipe goes from one corner to the other at any angle', () => {
  for (const angle of [0, 30, 135, 250]) {
    const [a, b, first] = wipeLine({ at: 0, angle }, 8, 6),
      [, , last] = wipeLine({ at: 1, angle }, 8, 6),
      of = [
        [0, 0],
        [8, 0],
        [0, 6],
        [8, 6],
      ].map(([x, y]) => a * x! + b * y!);
    expect(Math.min(...of)).toBeCloseTo(first, 9);
    expect(Math.max(...of)).toBeCloseTo(last, 9);
  }
});
test('side by side, difference, the other alone', () => {
  const sides = compared(even(0.2), even(0.8), how({ how: 'side by side' }), arena),
    at = (x: number, y: number) => sides.data[(y * 8 + x) * 4]!;
  expect([at(1, 2), at(6, 2), at(1, 0)].map((v) => Number(v.toFixed(3)))).toEqual([0.2, 0.8, 0]);
  expect(compared(even(0.25), even(0.25), how({ how: 'difference' }), arena).data[0]).toBe(0);
  expect(compared(even(0.25), even(0.16), how({ how: 'difference' }), arena).data[0]).toBeCloseTo(0.04, 5);
  expect(compared(even(0.2), even(0.8), how({ how: 'the other alone' }), arena).data[0]).toBeCloseTo(0.8, 6);
});
test('a frame is compared with another frame, with a clip and with the base; a whole wipe is the picture itself', async () => {
  const shot = smallShot(),
    renderer = new FrameRenderer(smallSources(8), { width: WIDTH, height: HEIGHT }, 64 * 2 ** 20, undefined, false),
    drawn = (frame: number, compare?: Compare, plain?: string | boolean) =>
      renderer.renderFrame({ shot, frame, compare, plain }, (p) => [...p.data]),
    own = await drawn(1003);
  expect(compareWays).toHaveLength(4);
  expect(await drawn(1003, how({ at: 1 }))).toEqual(own);
  expect(await drawn(1003, how({ how: 'the other alone', with: { kind: 'frame', frame: 1006 } }))).toEqual(await drawn(1006));
  expect(await drawn(1003, how({ how: 'the other alone', with: { kind: 'clip', clip: 'c2' } }))).toEqual(
    await drawn(1003, undefined, 'c2'),
  );
  expect(await drawn(1003, how({ how: 'the other alone' }))).toEqual(await drawn(1003, undefined, true));
  expect(await drawn(1003, how({ with: { kind: 'clip', clip: 'gone' } }))).toEqual(own);
});
