import { banded, testMemory } from './testMemory';

const { memory, kernels, fresh, random, floats } = testMemory(2211);
beforeEach(fresh);
const width = 13,
  height = 9,
  n = width * height;
/** What is stored of numbers in double precision. */
const rounded = (values: readonly number[]) => [...Float32Array.from(values)];
const each = (of: (k: number) => readonly number[]) => rounded(Array.from({ length: n }, (_, k) => of(k)).flat());

test('chromaDistance: how far from a backing the colour difference is, from nothing at low to 1 at high', () => {
  const plate = floats(n * 4, (i) => (i < 8 ? -0.1 : random())),
    out = floats(n),
    [blue, red, strength, low, high] = [-0.3, -0.4, 0.5, 0.3, 0.75 + 1e-6];
  banded(height, (y0, y1) => kernels.chromaDistance(plate.at, blue, red, strength, low, high, out.at, width, y0, y1));
  const wanted = each((k) => {
    const [r, g, b] = [0, 1, 2].map((c) => Math.sqrt(Math.max(0, plate.data[4 * k + c]!))) as [number, number, number],
      y = 0.2126 * r + 0.7152 * g + 0.0722 * b,
      far = Math.sqrt((b - y - blue) * (b - y - blue) + (r - y - red) * (r - y - red)) / strength,
      t = Math.min(1, Math.max(0, (far - low) / (high - low)));
    return [t * t * (3 - 2 * t)];
  });
  expect([...out.data]).toEqual(wanted);
  expect(wanted.some((v) => v === 1) && wanted.some((v) => v > 0 && v < 1)).toBe(true);
});

test('certainBacking and meanBacking: what is no backing counts nothing; where none is known there is the one colour', () => {
  const plate = floats(n * 4, random),
    matte = floats(n, (k) => (k % 3 ? 0.01 : 0.3)),
    out = floats(n * 4);
  banded(height, (y0, y1) => kernels.certainBacking(plate.at, matte.at, 0.02, out.at, width, y0, y1));
  expect([...out.data]).toEqual(each((k) => (k % 3 ? [...plate.data.slice(4 * k, 4 * k + 3), 1] : [0, 0, 0, 0])));
  const soft = floats(n * 4, (i) => (i >= 4 * (n - width) ? 0 : random())),
    given = [...soft.data],
    even = [0.1, 0.5, 0.2] as const;
  banded(height, (y0, y1) => kernels.meanBacking(soft.at, ...even, 0.002, width, y0, y1));
  expect([...soft.data]).toEqual(
    each((k) => {
      const near = given[4 * k + 3]!,
        known = near / (near + 0.002);
      return [...even.map((one, c) => (near > 0 ? (given[4 * k + c]! / near) * known + one * (1 - known) : one)), 1];
    }),
  );
});

test('ofItsHue and shadeAsNear: a backing is shaded by what has its hue near by, and by nothing else', () => {
  const backing = floats(n * 4, (i) => [0.05, 0.4, 0.1, 1][i & 3]!),
    // Its own colour at several brightnesses, and every third pixel of another one.
    plate = floats(n * 4, (i) => {
      const k = i >> 2;
      return k % 3 ? (0.03 + (k % 20) / 10) * [0.05, 0.4, 0.1, 0][i & 3]! : [0.4, 0.1, 0.3, 0][i & 3]!;
    }),
    sums = floats(n * 4);
  banded(height, (y0, y1) => kernels.ofItsHue(backing.at, plate.at, 0.12, 1.6, 0.12 * 0.12, sums.at, width, y0, y1));
  for (let k = 0; k < n; k++) {
    const t = 0.03 + (k % 20) / 10,
      its = k % 3 && t > 0.12 && t < 1.6;
    expect(sums.data[4 * k]).toBeCloseTo(its ? t * t : 0, 5);
    expect(sums.data[4 * k + 1]).toBeCloseTo(its ? t : 0, 5);
    expect([...sums.data.slice(4 * k + 2, 4 * k + 4)]).toEqual([its ? 1 : 0, 0]);
  }
  const near = floats(n * 4, (i) => (i < 8 ? 0 : random())),
    before = [...backing.data];
  banded(height, (y0, y1) => kernels.shadeAsNear(backing.at, near.at, 0.05, width, y0, y1));
  expect([...backing.data]).toEqual(
    each((k) => {
      const [sum, weight, share] = near.data.slice(4 * k, 4 * k + 3) as unknown as [number, number, number],
        t = weight > 0 ? 1 + (share / (share + 0.05)) * (sum / weight - 1) : 1;
      return [...before.slice(4 * k, 4 * k + 3).map((v) => v * t), 1];
    }),
  );
});

test('countSizes counts every so-many-th value by its size, signs left out', () => {
  const values = floats(n, () => 2 * random() - 1),
    bins = 20,
    counts = floats(bins, () => 0),
    wanted = new Array<number>(bins).fill(0);
  let all = 0;
  for (let k = 0; k < n; k += 3) {
    const bin = Math.floor((Math.abs(values.data[k]!) / 0.5) * bins);
    if (bin >= bins) continue;
    wanted[bin]!++;
    all++;
  }
  expect(kernels.countSizes(values.at, n, 3, 0.5, bins, counts.at)).toBe(all);
  expect([...new Uint32Array(memory.buffer, counts.at, bins)]).toEqual(wanted);
  expect(all).toBeGreaterThan(5);
});
