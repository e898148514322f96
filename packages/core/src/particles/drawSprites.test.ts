import { Arena } from '../image';
import { Drawn, drawSprites } from './drawSprites';
import { sheetOf, type Sprite } from './stamps';

const arena = new Arena(32 * 2 ** 20);
afterEach(() => arena.reset());
const SIDE = 96;
/** One stamp in the middle, and what moves it while the shutter is open; alpha. */
function drawn(
  sprite: Exclude<Sprite, 'drawn'>,
  half: readonly [number, number],
  turn: number,
  at: readonly [number, number],
  moved?: readonly [number, number],
) {
  const sheet = sheetOf(sprite),
    one = new Drawn(sheet, 1);
  one.add(at[0], at[1], half, turn, 0, [1, 1, 1], 1, 1, false, false, moved);
  const { front } = drawSprites(one, sheet, SIDE, SIDE, arena);
  return Float64Array.from({ length: SIDE * SIDE }, (_, p) => front.data[4 * p + 3]!);
}
/** Sum, and spread along and across a direction (variances), about the middle. */
function spreadOf(a: Float64Array, [dx, dy]: readonly [number, number]) {
  let [sum, along, across] = [0, 0, 0];
  a.forEach((v, p) => {
    const [x, y] = [(p % SIDE) + 0.5 - SIDE / 2, Math.floor(p / SIDE) + 0.5 - SIDE / 2];
    sum += v;
    along += v * (x * dx + y * dy) ** 2;
    across += v * (x * dy - y * dx) ** 2;
  });
  return { sum, along: along / sum, across: across / sum };
}

test.each([
  ['disc', [7, 7], 0, 16],
  ['soft dot', [8, 8], 0, 30],
  ['square', [9, 5], 0.6, 14],
  ['shard', [10, 6], 1.9, 24],
] as const)('a %s that moves is as spread as the mean of its places, and covers as much in all', (sprite, half, turn, way) => {
  const middle = [SIDE / 2, SIDE / 2] as const,
    heads = [Math.cos(0.4), Math.sin(0.4)] as const,
    n = 32,
    mean = new Float64Array(SIDE * SIDE);
  for (let k = 0; k < n; k++) {
    const t = way * ((k + 0.5) / n - 0.5);
    drawn(sprite, half, turn, [middle[0] + t * heads[0], middle[1] + t * heads[1]]).forEach((v, p) => (mean[p]! += v / n));
  }
  const blurred = drawn(sprite, half, turn, middle, [way * heads[0], way * heads[1]]),
    sharp = drawn(sprite, half, turn, middle),
    [want, got] = [spreadOf(mean, heads), spreadOf(blurred, heads)],
    off = (a: Float64Array) => Math.sqrt(a.reduce((sum, v, p) => sum + (v - mean[p]!) ** 2, 0));
  expect(got.sum / want.sum).toBeCloseTo(1, 1);
  expect(Math.abs(got.along / want.along - 1)).toBeLessThan(0.25);
  expect(Math.abs(got.across / want.across - 1)).toBeLessThan(0.15);
  expect(off(blurred)).toBeLessThan(0.7 * off(sharp));
});

test('less than half a pixel blurs nothing', () => {
  const middle = [SIDE / 2, SIDE / 2] as const;
  expect(drawn('disc', [6, 6], 0, middle, [0.3, 0.2])).toEqual(drawn('disc', [6, 6], 0, middle));
});
