import { banded, testMemory } from './testMemory';

const { kernels, fresh, random, floats } = testMemory(1903);
beforeEach(fresh);
const width = 37,
  height = 22,
  n = width * height;

test.each([0, 1, 2])('excessCover: what is left of the backing in channel %i, at a quarter of the size', (strongest) => {
  const plate = floats(n * 4, random),
    wide = Math.ceil(width / 4),
    whole = floats(wide * Math.ceil(height / 4), (i) => (i % 5 ? 0.2 + random() : 0)),
    out = floats(n);
  banded(height, (y0, y1) => kernels.excessCover(plate.at, whole.at, wide, 2, strongest, 1e-3, out.at, width, y0, y1));
  for (let k = 0; k < n; k++) {
    const [x, y] = [k % width, Math.floor(k / width)],
      most = whole.data[(y >> 2) * wide + (x >> 2)]!,
      others = [0, 1, 2].filter((c) => c !== strongest).map((c) => plate.data[4 * k + c]!),
      v = most > 1e-3 ? 1 - (plate.data[4 * k + strongest]! - Math.max(...others)) / most : 1;
    expect(out.data[k]).toBeCloseTo(Math.min(1, Math.max(-0.5, v)), 5);
  }
});

test('unmixShades: a mixture of the backing and a shade has the share of the shade, a shade itself is solid, backing stays as it is', () => {
  const GREEN = [0.04, 0.4, 0.08],
    shades = [
      [0.5, 0.26, 0.2],
      [0.03, 0.025, 0.02],
    ],
    known = floats(24, (i) => {
      const s = shades[Math.floor(i / 12)]!,
        k = i % 12;
      return k < 3 ? Math.sqrt(s[k]!) : k === 3 ? 0.0012 : k < 7 ? s[k - 4]! : k === 7 ? 1e-4 : k === 8 ? 1 : 0;
    }),
    params = floats(8, (i) => [0.06, 0.8, 0.95, 5, 0.012 * 0.012, 0.5][i] ?? 0),
    // In columns: how much of the shade; in rows: which one.
    share = (k: number) => (k % width) / (width - 1),
    plate = floats(n * 4, (i) => {
      const k = i >> 2,
        s = shades[Math.floor(k / width) % 2]!;
      return (i & 3) === 3 ? 1 : share(k) * s[i & 3]! + (1 - share(k)) * GREEN[i & 3]!;
    }),
    behind = floats(4, (i) => [...GREEN, 1][i]!),
    none = floats(n),
    cover = floats(n, share),
    around = floats(n, share);
  banded(height, (y0, y1) =>
    kernels.unmixShades(...([plate.at, behind.at, 1, 31, none.at, around.at, known.at, 2, params.at, cover.at, width, y0, y1] as const)),
  );
  for (let k = 0; k < n; k++) {
    if (share(k) <= 0.06) expect(cover.data[k]).toBe(Math.fround(share(k)));
    else expect(Math.abs(cover.data[k]! - share(k))).toBeLessThan(share(k) > 0.8 ? 0.2 : 0.06);
    if (share(k) > 0.98) expect(cover.data[k]).toBe(1);
  }
});

test('settleKey and solidOf: solid is 1, outside is 0, and between them it rises', () => {
  const cover = floats(n, (i) => -0.2 + (1.4 * (i % width)) / width),
    before = [...cover.data],
    solid = floats(n, (i) => +(i % 11 === 0)),
    around = floats(n, (i) => cover.data[i]!),
    hard = floats(n);
  banded(height, (y0, y1) => kernels.solidOf(cover.at, 0.8, hard.at, width, y0, y1));
  banded(height, (y0, y1) => kernels.settleKey(cover.at, solid.at, around.at, 0.1, 0.9, width, y0, y1));
  for (let k = 0; k < n; k++) {
    const v = before[k]!,
      bent = v > 0.8 ? Math.min(1, 0.8 + 2 * (v - 0.8)) : v,
      ramp = v <= 0.1 ? 0 : Math.min(1, (v - 0.1) / 0.1) * bent;
    expect(hard.data[k]).toBe(v >= Math.fround(0.8) ? 1 : 0);
    expect(cover.data[k]).toBeCloseTo(k % 11 === 0 || v >= 0.9 ? 1 : ramp, 4);
  }
});
