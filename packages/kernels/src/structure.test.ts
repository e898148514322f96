import { banded, off, sizes, testMemory } from './testMemory';

const { kernels, fresh, random, floats } = testMemory(91);
beforeEach(fresh);

test.each(sizes)('quarterPair and seenStructure of %i x %i: means, and how roots vary within cells and together', (width, height) => {
  const n = width * height,
    [w, h] = [(width + 3) >> 2, (height + 3) >> 2],
    [plate, clean] = [floats(4 * n, (i) => (i % 17 ? random() : -0.1)), floats(4 * n, random)],
    [small, behind, varied, alone, seen] = [floats(4 * w * h), floats(4 * w * h), floats(4 * w * h), floats(4 * w * h), floats(w * h)];
  banded(h, (y0, y1) => kernels.quarterPair(plate.at, clean.at, small.at, behind.at, varied.at, width, height, y0, y1));
  for (const [from, to] of [
    [plate, small],
    [clean, behind],
  ] as const) {
    kernels.quarter(from.at, alone.at, width, height, 0, h);
    expect(off(alone.data, to.data)).toBeLessThan(1e-6);
  }
  const variances = (q: number) => {
    // Of the first and the third row of a cell.
    const sum = [0, 0, 0],
      pairs = Array.from({ length: 8 }, (_, k) => {
        const p = Math.min(height - 1, 4 * Math.floor(q / w) + 2 * (k >> 2)) * width + Math.min(width - 1, 4 * (q % w) + (k & 3));
        return [plate, clean].map(({ data }) => Math.sqrt(Math.max(0, data[4 * p + 1]!))) as [number, number];
      }),
      [ma, mb] = [0, 1].map((k) => pairs.reduce((s, pair) => s + pair[k]!, 0) / 8) as [number, number];
    for (const [a, b] of pairs) {
      sum[0]! += (a - ma) ** 2 / 8;
      sum[1]! += (b - mb) ** 2 / 8;
      sum[2]! += ((a - ma) * (b - mb)) / 8;
    }
    return sum;
  };
  for (let q = 0; q < w * h; q++) variances(q).forEach((v, k) => expect(varied.data[4 * q + k]).toBeCloseTo(v, 4));

  banded(h, (y0, y1) => kernels.seenStructure(varied.at, 0.01, seen.at, w, h, y0, y1));
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const sum = [0, 0, 0];
      let count = 0;
      for (let j = Math.max(0, y - 2); j <= Math.min(h - 1, y + 2); j++)
        for (let i = Math.max(0, x - 2); i <= Math.min(w - 1, x + 2); i++) {
          count++;
          for (let k = 0; k < 3; k++) sum[k]! += varied.data[4 * (j * w + i) + k]!;
        }
      const [va, vb, both] = sum.map((v) => v / count) as [number, number, number],
        alike = vb > 0 ? both / Math.sqrt(Math.max(va, 0.3 * vb) * vb + 1e-4) : 0;
      expect(seen.data[y * w + x]).toBeCloseTo((vb / (vb + 0.03)) * Math.min(1, Math.max(0, (alike - 0.6) / 0.3)), 3);
    }
});

test('structure is seen in whatever light, and not where something stands before it', () => {
  const [width, height] = [40, 40],
    [w, h] = [10, 10],
    wood = Float32Array.from({ length: 3 * width * height }, () => 0.05 + 0.2 * random()),
    clean = floats(4 * width * height, (i) => (i & 3 ? wood[3 * (i >> 2) + (i & 3) - 1]! : wood[3 * (i >> 2)]!)),
    lit = floats(4 * width * height, (i) => clean.data[i]! * [6, 3, 1.5, 1][i & 3]!),
    other = floats(4 * width * height, () => 0.05 + 0.2 * random()),
    [small, behind, varied, seen] = [floats(4 * w * h), floats(4 * w * h), floats(4 * w * h), floats(w * h)],
    mean = (plate: typeof clean) => {
      kernels.quarterPair(plate.at, clean.at, small.at, behind.at, varied.at, width, height, 0, h);
      kernels.seenStructure(varied.at, 1e-4, seen.at, w, h, 0, h);
      return seen.data.reduce((s, v) => s + v, 0) / seen.data.length;
    };
  expect(mean(lit)).toBeGreaterThan(0.9);
  expect(mean(other)).toBeLessThan(0.02);
});
