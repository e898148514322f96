import { testMemory } from './testMemory';

const { kernels, fresh, random, floats } = testMemory(3105);
beforeEach(fresh);
const [width, height, w, h, step] = [37, 26, 10, 7, 1 / 4],
  unit = (v: number) => Math.min(1, Math.max(0, v));
/** A coarse plane between its cells, at the middle of a pixel. */
function betweenTwin(cells: ArrayLike<number>, x: number, y: number): number {
  const u = Math.min(w - 1, Math.max(0, (x + 0.5) * step - 0.5)),
    v = Math.min(h - 1, Math.max(0, (y + 0.5) * step - 0.5)),
    [i, j] = [Math.floor(u), Math.floor(v)],
    at = (a: number, b: number) => cells[Math.min(h - 1, b) * w + Math.min(w - 1, a)]!,
    mix = (a: number, b: number, t: number) => a + (b - a) * t;
  return mix(mix(at(i, j), at(i + 1, j), u - i), mix(at(i, j + 1), at(i + 1, j + 1), u - i), v - j);
}
const within = (x: number, y: number) => x >= 3 && x < 31 && y >= 2 && y < 24;

test('addBetween adds a coarse plane, smooth between its cells, in its part alone', () => {
  const cells = floats(w * h, random),
    out = floats(width * height, random),
    before = [...out.data];
  for (const [a, b] of [
    [10, 22],
    [0, 10],
  ] as const)
    kernels.addBetween(cells.at, w, h, step, 0.4, out.at, width, 3, 31, 2, 2, -3, a, b);
  before.forEach((v, p) => {
    const [x, y] = [p % width, Math.floor(p / width)];
    expect(out.data[p]).toBeCloseTo(v + (within(x, y) ? 0.4 * betweenTwin(cells.data, x - 2, y + 3) : 0), 5);
  });
});

test('shadeUnder darkens below what a picture has by what fell there, and leaves its colours', () => {
  const cells = floats(w * h, (i) => (i % 3 ? 2 * random() : 0)),
    out = floats(width * height * 4, () => 0.7 * random()),
    before = [...out.data];
  kernels.shadeUnder(cells.at, w, h, step, 0.6, out.at, width, 3, 31, 2, 9, 22);
  kernels.shadeUnder(cells.at, w, h, step, 0.6, out.at, width, 3, 31, 2, 0, 9);
  before.forEach((v, i) => {
    const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)],
      deep = betweenTwin(cells.data, x, y),
      shaded = (i & 3) === 3 && within(x, y) && deep > 0.004;
    expect(out.data[i]).toBeCloseTo(shaded ? v + (1 - v) * 0.6 * (deep / (0.6 + deep)) : v, 5);
  });
});

test('countCover and shadeCovered: shapes below many others are darker; what burns is not, and what covers nothing counts for nothing', () => {
  const count = 40,
    side = 8,
    [cw, ch] = [5, 6],
    shapes = floats(16 * count, (i) => {
      const k = i & 15;
      return k === 0
        ? random() * 44 - 2
        : k === 1
          ? random() * 52 - 2
          : k === 8
            ? i % 7
              ? random()
              : 0
            : k > 11
              ? random()
              : random() * 3 - (k === 9 ? 1.5 : 0);
    }),
    before = Float64Array.from(shapes.data),
    cells = floats(cw * ch, () => 0),
    counted = new Float64Array(cw * ch),
    at = (s: number, up: number) => {
      const [x, y] = [Math.floor(before[s]! / side), Math.floor((before[s + 1]! - up) / side)];
      return before[s + 8]! > 0 && x >= 0 && y >= 0 && x < cw && y < ch ? y * cw + x : -1;
    };
  for (let s = 0; s < 16 * count; s += 16) {
    const p = at(s, 0);
    if (p >= 0) counted[p]! += (before[s + 8]! * Math.abs(before[s + 9]!) * before[s + 10]! * 2) / (side * side);
  }
  kernels.countCover(shapes.at, count, cells.at, cw, ch, side);
  counted.forEach((v, p) => expect(cells.data[p]).toBeCloseTo(v, 4));
  kernels.shadeCovered(shapes.at, cells.at, cw, ch, side, 10, 0.7, 17, count);
  kernels.shadeCovered(shapes.at, cells.at, cw, ch, side, 10, 0.7, 0, 17);
  for (let s = 0; s < 16 * count; s += 16) {
    const p = at(s, 10),
      lies = p < 0 ? 0 : counted[p]!,
      burns = Math.min(1, Math.max(before[s + 12]!, before[s + 13]!, before[s + 14]!) / 0.9),
      k = 1 - (0.7 * (1 - burns * burns) * lies) / (lies + 0.35);
    for (let c = 0; c < 16; c++) expect(shapes.data[s + c]).toBeCloseTo(before[s + c]! * (c > 11 && c < 15 ? k : 1), 4);
  }
});

test('rootsOnBody, brighterThanAround, squeeze: how much brighter cloth is than what is around it, squeezed by what is usual', () => {
  const n = width * height,
    picture = floats(n * 4, random),
    matte = floats(n, () => 1.3 * random() - 0.15),
    roots = floats(n * 4, () => -1),
    other = floats(n * 4, random),
    out = floats(n),
    sums = floats(2 * height);
  kernels.rootsOnBody(picture.at, matte.at, roots.at, width, 11, height);
  kernels.rootsOnBody(picture.at, matte.at, roots.at, width, 0, 11);
  const wanted = Array.from({ length: n }, (_, p) => {
    const [r, g, b] = picture.data.subarray(4 * p, 4 * p + 3) as unknown as [number, number, number],
      m = unit(matte.data[p]!),
      root = m * Math.sqrt(0.2126 * r + 0.7152 * g + 0.0722 * b);
    expect(roots.data[4 * p]).toBeCloseTo(root, 5);
    expect(roots.data[4 * p + 1]).toBeCloseTo(m, 6);
    return matte.data[p]! > 0.05 ? root / Math.max(0.02, m) - other.data[4 * p]! / Math.max(0.02, other.data[4 * p + 1]!) : 0;
  });
  kernels.brighterThanAround(roots.at, other.at, matte.at, out.at, sums.at, width, 0, height);
  let squares = 0;
  wanted.forEach((v, p) => {
    expect(Math.abs(out.data[p]! - v)).toBeLessThan(1e-4 * (1 + Math.abs(v)));
    squares += v * v;
  });
  const rows = Array.from({ length: height }, (_, y) => y);
  expect(rows.reduce((sum, y) => sum + sums.data[2 * y]!, 0) / squares).toBeCloseTo(1, 4);
  expect(rows.reduce((sum, y) => sum + sums.data[2 * y + 1]!, 0)).toBe([...matte.data].filter((m) => m > 0.05).length);
  const before = [...out.data];
  kernels.squeeze(out.at, 0.3, width, 0, height);
  before.forEach((v, p) => expect(out.data[p]).toBeCloseTo(v / (Math.abs(v) + 0.3), 5));
});
