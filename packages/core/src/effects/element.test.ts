import { drawOn, give, standing } from '../../test/effects';
import { Arena, newPicture, type Picture } from '../image';
import { AffineFrame } from '../motion';
import { defaultsOf, valuesAt, type StoredValue } from '../params';
import { element } from './element';

const arena = new Arena(64 * 2 ** 20);
afterEach(() => arena.reset());
const W = 80,
  H = 60;
/** A clip of one colour, or of what `at` says. */
function clip(width: number, height: number, at: (x: number, y: number) => readonly [number, number, number, number]): Picture {
  const out = newPicture(width, height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i += 4) out.data.set(at(x, y), i);
  return out;
}
const white = clip(20, 10, () => [1, 1, 1, 1]);
function shown(set: Record<string, StoredValue>, moment: Picture | null = white, mount = standing(40, 30), begun = mount): Picture {
  return give(element, set, { moment, mount, begun, before: mount, next: mount }, drawOn(arena, W, H)).layer!;
}
const at = (p: Picture, x: number, y: number) => [...p.data.slice((y * W + x) * 4, (y * W + x) * 4 + 4)];
const covered = (p: Picture) => {
  let sum = 0;
  for (let i = 3; i < p.data.length; i += 4) sum += p.data[i]!;
  return sum;
};

test('stands about its mount, pixel for pixel, and nowhere else', () => {
  const p = shown({});
  expect(covered(p)).toBeCloseTo(200, 3);
  expect(at(p, 30, 25)).toEqual([1, 1, 1, 1]);
  expect(at(p, 49, 34)).toEqual([1, 1, 1, 1]);
  for (const [x, y] of [
    [29, 25],
    [50, 30],
    [40, 24],
    [40, 35],
  ] as const)
    expect(at(p, x, y)).toEqual([0, 0, 0, 0]);
});
test('drawn between pixels, its edges are smooth and its area stays', () => {
  const p = shown({ place: [0.5, 0.25], turn: 30 });
  expect(covered(p)).toBeCloseTo(200, 0);
  expect([...p.data].some((v, i) => (i & 3) === 3 && v > 0.05 && v < 0.95)).toBe(true);
  const large = shown({ size: 300 });
  expect(covered(large)).toBeCloseTo(1800, 0);
});
test('much smaller, thin lines become grey instead of some that are there and some that are not', () => {
  const lines = clip(64, 64, (x) => (x & 1 ? [1, 1, 1, 1] : [0, 0, 0, 1])),
    p = shown({ size: 25 }, lines);
  for (let x = 34; x < 46; x++) expect(at(p, x, 30)[0]).toBeCloseTo(0.5, 1);
});
test('black and white are taken out, what is left over a ground is what it was', () => {
  const fire = clip(20, 10, (x) => (x < 10 ? [0.4, 0.2, 0, 1] : [0, 0, 0, 1])),
    light = shown({ takesOut: 'black' }, fire);
  expect(at(light, 32, 30)).toEqual([expect.closeTo(0.4), expect.closeTo(0.2), 0, expect.closeTo(0.4)]);
  expect(at(light, 46, 30)).toEqual([0, 0, 0, 0]);
  const ink = clip(20, 10, (x) => (x < 10 ? [0.3, 0.4, 0.5, 1] : [1, 1, 1, 1])),
    dark = shown({ takesOut: 'white' }, ink),
    [r, g, b, a] = at(dark, 32, 30) as [number, number, number, number];
  expect(at(dark, 46, 30)).toEqual([0, 0, 0, 0]);
  // Over white it is what it was.
  expect([r + 1 - a, g + 1 - a, b + 1 - a].map((v) => Number(v.toFixed(5)))).toEqual([0.3, 0.4, 0.5]);
});
test('its mean colour goes to a matched one', () => {
  const half = clip(20, 10, (x) => (x < 10 ? [0.2, 0.1, 0.1, 1] : [0.6, 0.3, 0.1, 1])),
    p = shown({ match: 100, towards: '#bcbcbc' }, half),
    mean = [0, 1, 2].map((c) => (at(p, 32, 30)[c]! + at(p, 46, 30)[c]!) / 2);
  for (const v of mean) expect(v).toBeCloseTo(0.5029, 2);
  expect(at(p, 46, 30)[0]! / at(p, 32, 30)[0]!).toBeCloseTo(3, 4);
});
test('it rides, goes along, or stays where it began', () => {
  const now = AffineFrame.turned(50, 34, 90, 1),
    begun = standing(20, 20),
    box = (carried: string) => {
      const p = shown({ carried }, white, now, begun),
        xs: number[] = [],
        ys: number[] = [];
      for (let y = 0; y < H; y++)
        for (let x = 0; x < W; x++)
          if (at(p, x, y)[3]! > 0.5) {
            xs.push(x);
            ys.push(y);
          }
      return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
    };
  expect(box('rides on the mount')).toEqual([45, 24, 54, 43]);
  expect(box('goes with its place only')).toEqual([40, 29, 59, 38]);
  expect(box('stays where it began')).toEqual([10, 15, 29, 24]);
});
test('four corners, mirrored or not; nothing where there is no clip', () => {
  const corners = {
      placedBy: 'four corners',
      topLeft: [-20, -10],
      topRight: [20, -15],
      bottomRight: [15, 20],
      bottomLeft: [-15, 10],
    } as Record<string, StoredValue>,
    left = clip(20, 10, (x) => (x < 10 ? [1, 0, 0, 1] : [0, 0, 1, 1])),
    p = shown(corners, left),
    m = shown({ ...corners, mirror: 'left to right' }, left);
  expect(at(p, 28, 28).slice(0, 3)).toEqual([1, 0, 0]);
  expect(at(p, 50, 30).slice(0, 3)).toEqual([0, 0, 1]);
  expect(at(m, 28, 28).slice(0, 3)).toEqual([0, 0, 1]);
  expect(covered(p)).toBeGreaterThan(800);
  expect(shown({}, null)).toBeUndefined();
});
test('strength thins the cover, and beyond 100 % gives more light', () => {
  expect(at(shown({ strength: 50 }), 40, 30)).toEqual([0.5, 0.5, 0.5, 0.5]);
  expect(at(shown({ strength: 200 }), 40, 30)).toEqual([2, 2, 2, 1]);
});
test('is blurred by its own curve and by its mount, and is as sharp as before without a shutter', () => {
  const bar = clip(30, 12, () => [1, 1, 1, 1]),
    v = (place: [number, number]) => valuesAt(element.params, { ...defaultsOf(element.params), place }, {}, 0, 1),
    draw = (shutter: number, around: [number, number][], mounts: number[]) =>
      give(
        element,
        { shutter },
        {
          moment: bar,
          mount: standing(40, 30),
          begun: standing(40, 30),
          before: standing(mounts[0]!, 30),
          next: standing(mounts[1]!, 30),
        },
        drawOn(arena, W, H, { around: around.map(v) }),
      ).layer!,
    soft = (p: Picture) => Array.from({ length: W }, (_, x) => p.data[4 * (30 * W + x) + 3]!).filter((a) => a > 0.02 && a < 0.98).length,
    still = draw(
      360,
      [
        [0, 0],
        [0, 0],
      ],
      [40, 40],
    );
  expect(soft(still)).toBe(0);
  expect(
    soft(
      draw(
        180,
        [
          [-20, 0],
          [20, 0],
        ],
        [40, 40],
      ),
    ),
  ).toBeGreaterThanOrEqual(16);
  expect(
    soft(
      draw(
        180,
        [
          [0, 0],
          [0, 0],
        ],
        [20, 60],
      ),
    ),
  ).toBeGreaterThanOrEqual(16);
  // The mount takes back what the curve gives.
  expect(
    soft(
      draw(
        180,
        [
          [20, 0],
          [-20, 0],
        ],
        [20, 60],
      ),
    ),
  ).toBe(0);
  expect([
    ...draw(
      0,
      [
        [-20, 0],
        [20, 0],
      ],
      [20, 60],
    ).data,
  ]).toEqual([...still.data]);
});
