import { solveMask, type MaskSystem } from './solveMask';

const W = 40,
  H = 30;
/** A grid that holds together everywhere and says nothing, but at the places that are given. */
function grid(says: readonly [x: number, y: number, value: number][]): MaskSystem {
  const n = W * H,
    s: MaskSystem = {
      ...{ width: W, height: H, says: new Float32Array(n), weight: new Float32Array(n).fill(1e-6) },
      ...{ right: new Float32Array(n).fill(1), below: new Float32Array(n).fill(1) },
    };
  for (const [x, y, value] of says) {
    s.says[y * W + x] = value;
    s.weight[y * W + x] = 100;
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
  for (let y = 0; y < H; y++) s.right[y * W + 19] = 0;
  const u = solveMask(s);
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
    u = solveMask(grid(columns));
  for (let x = 0; x < W; x += 3) expect(Math.abs(u[15 * W + x]! - x / (W - 1))).toBeLessThan(0.05);
  for (const v of u) expect(v >= 0 && v <= 1).toBe(true);
});
