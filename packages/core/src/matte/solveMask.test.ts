import { Arena } from '../image';
import { cellAt, emptySystem, solveMask, type MaskSystem } from './solveMask';

const arena = new Arena(16 * 2 ** 20);
afterEach(() => arena.reset());

const W = 40,
  H = 30;
/** A grid that holds together everywhere and says nothing, but at the places that are given. */
function grid(says: readonly [x: number, y: number, value: number][]): MaskSystem {
  const s = emptySystem(W, H, arena);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const p = cellAt(s, x, y);
      s.weight.data[p] = 1e-6;
      s.right.data[p] = x + 1 < W ? 1 : 0;
      s.below.data[p] = y + 1 < H ? 1 : 0;
    }
  for (const [x, y, value] of says) {
    s.said.data[cellAt(s, x, y)] = value * 100;
    s.weight.data[cellAt(s, x, y)] = 100;
  }
  return s;
}

test('what says nothing takes the value of what it holds together with; a cut parts two sides', () => {
  const s = grid(
    [4, 12, 20, 26].flatMap((y): [number, number, number][] => [
      [3, y, 1],
      [36, y, 0],
    ]),
  );
  for (let y = 0; y < H; y++) s.right.data[cellAt(s, 19, y)] = 0;
  const u = solveMask(s, arena).data;
  for (let y = 0; y < H; y += 3) {
    expect(u[y * W + 10]!).toBeGreaterThan(0.9);
    expect(u[y * W + 30]!).toBeLessThan(0.1);
  }
});

test('between two sides that nothing parts it goes over evenly, and never beyond 0 and 1', () => {
  const columns = Array.from({ length: H }, (_, y): [number, number, number][] => [
      [0, y, 0],
      [W - 1, y, 1],
    ]).flat(),
    u = solveMask(grid(columns), arena).data;
  for (let x = 0; x < W; x += 3) expect(Math.abs(u[15 * W + x]! - x / (W - 1))).toBeLessThan(0.05);
  for (const v of u) expect(v >= 0 && v <= 1).toBe(true);
});
