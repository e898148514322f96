import { testMemory } from './testMemory';

const { kernels, fresh, random, floats } = testMemory(618);
beforeEach(fresh);
const [width, height, wide, high] = [22, 15, 6, 4],
  same = (p: number) => p % width < 9 || Math.floor(p / width) < 4;

test('grainAbout and lackingGrain: blocks that are not the plate, the grain that they have, and what they lack of it', () => {
  const plate = floats(width * height * 4, () => 0.2 + 0.1 * random()),
    below = floats(width * height * 4, (i) => ((i & 3) === 3 ? plate.data[i]! : same(i >> 2) ? plate.data[i]! : 0.5 + 0.02 * random())),
    [energy, weight] = [floats(wide * high, () => -1), floats(wide * high, () => -1)],
    most = 0.0004,
    root = (a: ArrayLike<number>, x: number, y: number) => {
      const p = 4 * (Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x)));
      return Math.sqrt(0.2126 * a[p]! + 0.7152 * a[p + 1]! + 0.0722 * a[p + 2]!);
    };
  kernels.grainAbout(below.at, plate.at, most, energy.at, weight.at, wide, width, height, 2, high);
  kernels.grainAbout(below.at, plate.at, most, energy.at, weight.at, wide, width, height, 0, 2);
  let other = 0;
  for (let by = 0; by < high; by++)
    for (let bx = 0; bx < wide; bx++) {
      let [differs, sum] = [false, 0];
      for (let y = by * 4; y < by * 4 + 4; y++)
        for (let x = bx * 4; x < bx * 4 + 4; x++) {
          if (x < width && y < height && !same(y * width + x)) differs = true;
          let f = 0;
          // Pixels beyond the picture are those of its edge, each for itself.
          const [cx, cy] = [Math.min(width - 1, x), Math.min(height - 1, y)];
          for (let j = -1; j <= 1; j++)
            for (let i = -1; i <= 1; i++)
              f += (i ? 1 : -2) * (j ? 1 : -2) * root(below.data, i < 0 ? x - 1 : i > 0 ? x + 1 : cx, j < 0 ? y - 1 : j > 0 ? y + 1 : cy);
          sum += Math.min(most, (f / 6) ** 2) / 16;
        }
      expect(weight.data[by * wide + bx]).toBe(differs ? 1 : 0);
      expect(energy.data[by * wide + bx]).toBeCloseTo(differs ? sum : 0, 7);
      other += differs ? 1 : 0;
    }
  expect(other).toBeGreaterThan(6);

  const [soft, known] = [floats(wide * high, () => 0.00004 * random()), floats(wide * high, (i) => (i % 5 ? 0.5 : 0))],
    deviation = 0.01,
    mask = floats(width * height, () => -1);
  kernels.lackingGrain(below.at, plate.at, soft.at, known.at, weight.at, deviation, mask.at, wide, width, height, 1, high);
  kernels.lackingGrain(below.at, plate.at, soft.at, known.at, weight.at, deviation, mask.at, wide, width, height, 0, 1);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const block = (y >> 2) * wide + (x >> 2),
        lacks = 1 - (known.data[block]! > 1e-3 ? soft.data[block]! / known.data[block]! : 0) / deviation ** 2,
        d = (c: number) => Math.abs(below.data[4 * p + c]! - plate.data[4 * p + c]!),
        away = Math.max(Math.abs(root(below.data, x, y) - root(plate.data, x, y)), d(0), d(2)),
        wanted = weight.data[block]! > 0 && lacks > 0.2 ? Math.sqrt(lacks) * Math.min(1, Math.max(0, away / (4 * deviation) - 0.25)) : 0;
      expect(Math.abs(mask.data[p]! - wanted)).toBeLessThan(1e-4);
    }
});
