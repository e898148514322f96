import { testMemory } from './testMemory';
import { coreNoiseTwin, coreUniformTwin } from './twins';

const { kernels, fresh, random, floats } = testMemory(93);
beforeEach(fresh);

const uniform = coreUniformTwin,
  noise = coreNoiseTwin,
  unit = (t: number) => Math.min(1, Math.max(0, t)),
  smooth = (t: number) => unit(t) * unit(t) * (3 - 2 * unit(t));

test.each([
  ['as the mount turns it', false],
  ['along a skin', true],
])('drawArcs: sparks where the two nearest points of the cells are as far away as each other, %s', (_, skin) => {
  const [width, height, cell, half, reach, lit, drawing, seed, rough] = [64, 44, 9, 1, 30, 0.7, 12, 8, 431],
    [cx, cy, turn] = [30.4, 21.7, [0.9, 0.3, -0.3, 0.9]] as const,
    [first, top, columns, rows] = [-8, -8, 17, 17],
    points = floats(2 * columns * rows, (i) => {
      const q = i >> 1;
      return ((i & 1 ? top + Math.floor(q / columns) : first + (q % columns)) + 0.3 + 0.4 * random()) * cell;
    }),
    [wide, high] = [width / 4, height / 4],
    ways = floats(2 * wide * high, (i) => {
      const q = i >> 1,
        x = 4 * (q % wide) + 2 - cx,
        y = 4 * Math.floor(q / wide) + 2 - cy;
      return i & 1 ? 0.8 * y : 1.2 * x;
    }),
    held = floats(width * height, (i) => (i % width < 50 ? 0.9 : 0)),
    params = floats(
      24,
      (i) => [...[cx, cy, ...turn, reach, cell, 4, rough, half, 1, 1.4, 0.8], ...[first, top, lit, drawing, seed, 0.5, 1, 0.25, 4, 0]][i]!,
    ),
    out = floats(width * height * 4, () => 0),
    run = (y0: number, y1: number) =>
      kernels.drawArcs(
        ...([points.at, columns, skin ? ways.at : 0, wide, high, held.at] as const),
        ...([params.at, out.at, width, 2, width - 3, 1, y0, y1] as const),
      );
  run(20, height - 1);
  run(0, 20);
  let [other, sparks] = [0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [ox, oy] = [x + 0.5 - cx, y + 0.5 - cy],
        [dx, dy] = [ox * turn[0] + oy * turn[2], ox * turn[1] + oy * turn[3]],
        far = Math.hypot(dx, dy) / reach,
        keeps = 0.2 + 0.8 * unit(held.data[y * width + x]!),
        // The ways are straight but for the outermost half cell.
        [sx, sy] = skin
          ? [1.2 * Math.min(width - 2 - cx, Math.max(2 - cx, ox)), 0.8 * Math.min(height - 2 - cy, Math.max(2 - cy, oy))]
          : [dx, dy],
        n = (k: number) => cell * (0.5 * noise(sx / 4, sy / 4, rough + k) + 0.22 * noise(sx / 1.6, sy / 1.6, rough + k + 1) - 0.36),
        [wx, wy] = [sx + n(0), sy + n(2)],
        near = Array.from({ length: columns * rows }, (_, q) => ({
          q,
          d: (points.data[2 * q]! - wx) ** 2 + (points.data[2 * q + 1]! - wy) ** 2,
        })).sort((a, b) => a.d - b.d),
        [a, b] = [near[0]!, near[1]!],
        edge =
          (b.d - a.d) /
          2 /
          Math.hypot(points.data[2 * a.q]! - points.data[2 * b.q]!, points.data[2 * a.q + 1]! - points.data[2 * b.q + 1]!),
        named = (q: number) => (skin ? ((Math.floor(q / columns) + top) << 16) ^ (((q % columns) + first) & 0xffff) : q),
        [low, more] = [Math.min(named(a.q), named(b.q)), Math.max(named(a.q), named(b.q))],
        shown = x >= 2 && x < width - 3 && y >= 1 && far < 1 && edge <= half + 1 && uniform(low, more, drawing, seed) <= lit,
        value = shown
          ? 1.4 *
            keeps *
            smooth((1 - far) / 0.65) *
            smooth((half + 0.7 - edge) / (half + 0.7 - 0.3)) *
            (0.45 + 0.55 * uniform(more, low, drawing, 9))
          : 0;
      sparks += value > 0.1 ? 1 : 0;
      // Rounding may put a pixel on the other side of an edge.
      if (Math.abs(out.data[4 * (y * width + x) + 1]! - value) > 2e-3) other++;
    }
  expect(sparks).toBeGreaterThan(80);
  expect(other).toBeLessThan(4);
});
