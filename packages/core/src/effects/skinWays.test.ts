import { Arena } from '../image';
import { APART, skinWays } from './skinWays';

const arena = new Arena(32 * 2 ** 20);
afterEach(() => arena.reset());
const [WIDTH, HEIGHT, MIDDLE, RADIUS] = [240, 320, 120, 60];
/** An upright post. */
function post() {
  const matte = arena.takePlane(WIDTH, HEIGHT);
  matte.data.forEach((_, p) => (matte.data[p] = Math.abs((p % WIDTH) + 0.5 - MIDDLE) < RADIUS ? 1 : 0));
  return matte;
}
const whole = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
const at = (ways: ReturnType<typeof skinWays>, x: number, y: number) => {
  const p = 2 * (Math.floor(y / APART) * ways.width + Math.floor(x / APART));
  return [ways.data[p]!, ways.data[p + 1]!] as const;
};

test('on a round post the ways are its arcs, and its length down', () => {
  const ways = skinWays(post(), [MIDDLE, 160], whole, arena);
  for (const degrees of [-50, -30, 10, 30, 50]) {
    const angle = (degrees * Math.PI) / 180,
      // The middle of its cell.
      x = Math.floor((MIDDLE + RADIUS * Math.sin(angle)) / APART) * APART + APART / 2,
      true0 = RADIUS * Math.asin((x - MIDDLE) / RADIUS),
      [along, down] = at(ways, x, 202);
    expect(Math.abs(along - true0)).toBeLessThan(0.05 * RADIUS);
    expect(down).toBeCloseTo(42, 0);
  }
});

test('what rides on the skin of a post that turns keeps its place there: the same spark, though the picture of it has moved', () => {
  const matte = post(),
    onSkin = (degrees: number) => MIDDLE + RADIUS * Math.sin((degrees * Math.PI) / 180),
    // A mark 25 degrees to the right of the mount, before and after a turn by 30 degrees.
    ways = [10, 40].map((turn) => at(skinWays(matte, [onSkin(turn), 160], whole, arena), onSkin(turn + 25), 160)[0]),
    flat = [10, 40].map((turn) => onSkin(turn + 25) - onSkin(turn));
  expect(Math.abs(ways[1]! - ways[0]!)).toBeLessThan(4);
  expect(Math.abs(flat[1]! - flat[0]!)).toBeGreaterThan(7);
  expect(ways[0]).toBeGreaterThan(0.35 * RADIUS);
});

test('off the body a way is as long as it looks, and a region is the same part of it', () => {
  const ways = skinWays(post(), [20, 100], whole, arena),
    part = skinWays(post(), [20, 100], { x: 32, y: 64, width: 100, height: 90 }, arena),
    [x, y] = at(ways, 42, 142);
  expect(x).toBeCloseTo(22, 3);
  expect(y).toBeCloseTo(42, 3);
  // Of a place beside the region the nearest one of it counts: only where ways begin differs.
  const steps = (w: typeof ways, left: number, top: number) => [100, 110, 120].map((px) => at(w, px - left, 120 - top)[0]);
  const [a, b] = [steps(ways, 0, 0), steps(part, 32, 64)];
  expect(a[1]! - a[0]!).toBeCloseTo(b[1]! - b[0]!, 3);
  expect(a[2]! - a[1]!).toBeCloseTo(b[2]! - b[1]!, 3);
});
