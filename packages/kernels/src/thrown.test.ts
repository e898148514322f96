import { banded, testMemory } from './testMemory';

const { kernels, memory, fresh, random, floats } = testMemory(92);
beforeEach(fresh);
const [width, height] = [40, 30],
  n = width * height,
  grain = 0.005,
  FURTHEST = 30;
type Floats = ReturnType<typeof floats>;
/** A ground with light that falls off from a place, and a body (a block of cells of its own colour) before it. */
const gain = (p: number, c: number) => 1 + [3, 2, 1][c]! * Math.exp(-(((p % width) - 14) ** 2 + (Math.floor(p / width) - 15) ** 2) / 160),
  body = (p: number) => p % width >= 18 && p % width < 24 && Math.floor(p / width) >= 8 && Math.floor(p / width) < 24;
function scene() {
  const b = floats(3 * n, () => 0.1 + 0.05 * random()),
    a = floats(3 * n, (i) => (body(i % n) ? 0.7 : b.data[i]! * gain(i % n, Math.floor(i / n)) + grain * (random() - 0.5))),
    zs = floats(n, (p) => Math.hypot(...[0, 1, 2].map((c) => (a.data[c * n + p]! - b.data[c * n + p]!) / grain))),
    mask = floats(n, (p) => (zs.data[p]! > 5 ? 1 : 0)),
    [structure, like, surely] = [floats(n, () => 0), floats(n, () => 0), floats(n, () => 0)],
    parts = floats(8, (i) => [1 / grain, 1 / grain, 1 / grain, 9, 9 / 25, 0.01, 0.5, FURTHEST][i]!),
    [ratios, light, list] = [floats(4 * n), floats(4 * n), floats(n)];
  return { a, b, zs, mask, structure, like, surely, parts, ratios, light, list };
}
const grown = ({ a, b, zs, mask, structure, like, surely, parts, ratios, light, list }: ReturnType<typeof scene>) => {
  kernels.lightRatios(a.at, b.at, mask.at, zs.at, surely.at, 9, ratios.at, light.at, n);
  return kernels.growLight(...([a.at, b.at, structure.at, like.at, parts.at, ratios.at, light.at, list.at, width, height] as const));
};
const stateOf = (light: Floats, p: number) => light.data[4 * p + 3]!;

const lit = (p: number) => gain(p, 0) > 1.4 && !body(p);

test('light is followed from where structure is seen in it over all of the ground, and not into what stands before it', () => {
  const s = scene();
  // Seen at the left of the light alone.
  s.surely.data.forEach((_, p) => (s.surely.data[p] = lit(p) && p % width < 8 ? 0.6 : 0));
  const reached = grown(s);
  let [ground, found] = [0, 0];
  for (let p = 0; p < n; p++) {
    if (body(p)) {
      expect(stateOf(s.light, p)).toBe(0);
      continue;
    }
    if (lit(p) && s.zs.data[p]! > 9) ground++;
    if (stateOf(s.light, p) < 2) continue;
    found++;
    for (let c = 0; c < 3; c++) expect(Math.abs(s.light.data[4 * p + c]! / gain(p, c) - 1)).toBeLessThan(0.15);
  }
  expect(reached).toBe(found);
  expect(ground).toBeGreaterThan(200);
  // All but what touches the body, whose neighbours do not agree.
  expect(found / ground).toBeGreaterThan(0.8);

  // No farther than so many steps.
  s.parts.data[7] = 3;
  expect(grown(s)).toBeLessThan(0.5 * reached);
  for (let p = 0; p < n; p++) expect(stateOf(s.light, p)).toBeLessThanOrEqual(2 + 3);
});

test('where no structure is seen no light is followed, however softly it begins; structure that is gone stops it', () => {
  const s = scene();
  expect(grown(s)).toBe(0);
  s.surely.data.forEach((_, p) => (s.surely.data[p] = lit(p) && p % width < 8 ? 0.6 : 0));
  const reached = grown(s),
    seeds = s.surely.data.reduce((sum, v, p) => sum + (v && s.zs.data[p]! >= 9 ? 1 : 0), 0);
  expect(reached).toBeGreaterThan(2 * seeds);
  s.structure.data.fill(1);
  s.like.data.fill(0);
  expect(grown(s)).toBe(seeds);
});

test('spreadLight carries light inwards ring by ring; lightPlanes and lightEdge lay it on roots', () => {
  const light = floats(4 * n, (i) => (i & 3 ? 1 : 2)),
    found = floats(n);
  for (let p = 0; p < n; p++) if (body(p)) light.data.set([1, 1, 1, 0], 4 * p);
  kernels.spreadLight(light.at, found.at, 2, width, height);
  for (let p = 0; p < n; p++) {
    const [x, y] = [p % width, Math.floor(p / width)],
      deep = body(p) ? Math.min(x - 17, 24 - x, y - 7, 24 - y) : 0;
    expect(light.data[4 * p]).toBeCloseTo(deep > 2 ? 1 : 2, 5);
    expect(stateOf(light, p)).toBe(deep > 2 ? 0 : 1);
  }
  const b = floats(3 * n, random),
    out = floats(3 * n);
  for (let p = 0; p < n; p++) light.data.set([1 + random(), random(), 2], 4 * p);
  kernels.lightPlanes(b.at, light.at, out.at, n);
  for (let i = 0; i < 3 * n; i++) expect(out.data[i]).toBeCloseTo(b.data[i]! * light.data[4 * (i % n) + Math.floor(i / n)]!, 5);

  // Pixels of 4 x 4 cells, corners among them.
  const list = floats(6),
    roots = floats(24, () => 1),
    places = [0, 4 * width - 1, 4 * width * 6 + 9, 4 * width * 50 + 77, 4 * width * 119, 4 * width * 120 - 1];
  new Int32Array(memory.buffer, list.at, 6).set(places);
  banded(6, (k0, k1) => kernels.lightEdge(roots.at, list.at, light.at, width, height, 4 * width, k0, k1));
  places.forEach((p, k) => {
    const fx = Math.min(width - 1, Math.max(0, ((p % (4 * width)) - 1.5) / 4)),
      fy = Math.min(height - 1, Math.max(0, (Math.floor(p / (4 * width)) - 1.5) / 4)),
      [i, j] = [Math.floor(fx), Math.floor(fy)],
      at = (x: number, y: number, c: number) => light.data[4 * (Math.min(height - 1, y) * width + Math.min(width - 1, x)) + c]!;
    for (let c = 0; c < 3; c++) {
      const above = at(i, j, c) + (at(i + 1, j, c) - at(i, j, c)) * (fx - i),
        under = at(i, j + 1, c) + (at(i + 1, j + 1, c) - at(i, j + 1, c)) * (fx - i);
      expect(roots.data[4 * k + c]).toBeCloseTo(above + (under - above) * (fy - j), 4);
    }
  });
});
