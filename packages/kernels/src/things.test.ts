import { banded, testMemory } from './testMemory';

/** What a light throws on what is about it. */
const { kernels, memory, fresh, random, floats } = testMemory(707);
beforeEach(fresh);
const [width, height] = [21, 13],
  n = width * height,
  bright = (p: ArrayLike<number>, i: number) => 0.2126 * p[4 * i]! + 0.7152 * p[4 * i + 1]! + 0.0722 * p[4 * i + 2]!,
  most = (p: ArrayLike<number>, i: number) => Math.max(p[4 * i]!, p[4 * i + 1]!, p[4 * i + 2]!),
  lit = () => floats(4 * n, (i) => (i % 4 === 3 ? 0.5 : (i >> 2) % 3 ? random() : 0));

test('glareOf: a bright core is far brighter as a lamp, a veil hardly, and what is dark stays', () => {
  const light = lit(),
    before = [...light.data];
  banded(height, (y0, y1) => kernels.glareOf(light.at, 14, width, y0, y1));
  for (let i = 0; i < 4 * n; i++) {
    const m = most(before, i >> 2);
    expect(light.data[i]).toBeCloseTo(i % 4 === 3 ? before[i]! : before[i]! * (1 + (14 * m * m) / (1 + m * m)), 4);
  }
});

test('fallsOn sums what a light falls on beside the subject, and gainsOf is 1 and the light', () => {
  const [picture, light, matte, sums, gains] = [lit(), lit(), floats(n, random), floats(2 * height), floats(4 * n)];
  banded(height, (y0, y1) => kernels.fallsOn(picture.at, matte.at, light.at, sums.at, width, y0, y1));
  banded(height, (y0, y1) => kernels.gainsOf(light.at, 2.5, gains.at, width, y0, y1));
  for (let y = 0; y < height; y++) {
    let [sum, all] = [0, 0];
    for (let i = y * width; i < (y + 1) * width; i++) {
      const weight = (1 - matte.data[i]!) * bright(light.data, i);
      sum += weight * bright(picture.data, i);
      all += weight;
    }
    expect(sums.data[2 * y]).toBeCloseTo(sum, 4);
    expect(sums.data[2 * y + 1]).toBeCloseTo(all, 4);
  }
  for (let i = 0; i < 4 * n; i++) expect(gains.data[i]).toBeCloseTo(i % 4 === 3 ? 1 : 1 + 2.5 * light.data[i]!, 5);
});

test.each([true, false])(
  'darkenNear darkens bright ground where light is near, its own colour least; with a second picture: %s',
  (both) => {
    const [ground, near, gains, others] = [
        lit(),
        floats(4 * n, (i) => ((i >> 2) % width > 14 || i % 7 === 0 ? 0 : 0.5 * random())),
        lit(),
        lit(),
      ],
      before = [[...gains.data], [...others.data]] as const,
      params = floats(4, (i) => [0.7, 0.04, 1 / 0.36, 0.5][i]!),
      spans = floats(2 * height);
    banded(height, (y0, y1) => kernels.darkenNear(gains.at, both ? others.at : 0, ground.at, near.at, params.at, spans.at, width, y0, y1));
    const found = new Int32Array(memory.buffer, spans.at, 2 * height);
    for (let y = 0; y < height; y++) {
      const changed: number[] = [];
      for (let x = 0; x < width; x++) {
        const i = y * width + x,
          l = most(near.data, i),
          t = Math.min(1, Math.max(0, (bright(ground.data, i) - 0.04) / 0.36)),
          dark = l < 1 / 512 ? 0 : 0.7 * (l / (l + 1)) * t * t * (3 - 2 * t);
        if (dark > 0) changed.push(x);
        for (let c = 0; c < 4; c++) {
          const k = c === 3 || dark <= 0 ? 1 : 1 - dark * (1 - (0.5 * near.data[4 * i + c]!) / l);
          expect(gains.data[4 * i + c]).toBeCloseTo(before[0][4 * i + c]! * k, 5);
          expect(others.data[4 * i + c]).toBeCloseTo(before[1][4 * i + c]! * (both ? k : 1), 5);
        }
      }
      expect([...found.slice(2 * y, 2 * y + 2)]).toEqual(changed.length ? [changed[0], changed.at(-1)! + 1] : [0, 0]);
    }
  },
);

test('groundFall: the inverse square of lamps over level ground, by how steeply it comes down; faint ones throw nothing', () => {
  const [lw, lh, above, feet, away] = [6, 4, 5, 18, 1.5],
    lamps = floats(4 * lw * lh, (i) => (i % 4 === 3 ? 1 : (i >> 2) % 5 ? 0.004 : random())),
    out = floats(4 * n, () => 0);
  banded(height - above, (y0, y1) => kernels.groundFall(lamps.at, lw, lh, 0.01, feet, away, 1 / 0.3, above, out.at, width, y0, y1));
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const sum = [0, 0, 0, 0];
      if (y >= above)
        for (let i = 0; i < lw * lh; i++) {
          if (most(lamps.data, i) <= 0.01) continue;
          const hangs = Math.max(2, feet - 4 * (Math.floor(i / lw) + 0.5)),
            dx = 2 * (x + 0.5) - 4 * ((i % lw) + 0.5),
            deep = (2 * (y + 0.5) - feet) / 0.3 - away,
            d = dx * dx + deep * deep + hangs * hangs;
          for (let c = 0; c < 3; c++) sum[c]! += (lamps.data[4 * i + c]! * 16 * hangs) / (2 * Math.PI) / d ** 1.5;
        }
      for (let c = 0; c < 4; c++) expect(out.data[4 * (y * width + x) + c]).toBeCloseTo(sum[c]!, 4);
    }
});

describe('the surface of a body', () => {
  const body = (x: number, y: number) => (x > 2 && x < 17 && y > 1 ? 1 : 0),
    matte = () => floats(n, (p) => body(p % width, Math.floor(p / width))),
    near = (p: number) => {
      const [x, y] = [p % width, Math.floor(p / width)];
      return [x > 0 ? p - 1 : p, x < width - 1 ? p + 1 : p, y > 0 ? p - width : p, y < height - 1 ? p + width : p] as const;
    };

  test('bodySurface looks away from where it falls, bent by its folds, with a length of 1; 0 beside the body', () => {
    const [m, shade, out] = [matte(), floats(n, random), floats(4 * n)],
      stands = floats(n, (p) => (m.data[p]! > 0 ? 5 * random() : 0)),
      [folds, steepest] = [0.9, 0.6],
      fold = (step: number) => (4 * folds * step) / (1 + Math.abs(4 * folds * step) / steepest);
    banded(height, (y0, y1) => kernels.bodySurface(m.at, stands.at, shade.at, folds, steepest, out.at, width, height, y0, y1));
    let beside = 0;
    for (let p = 0; p < n; p++) {
      const [l, r, a, b] = near(p),
        u = stands.data,
        g = shade.data,
        alone = m.data[p]! <= 0 && u[l]! + u[r]! + u[a]! + u[b]! <= 0,
        slope = [(u[l]! - u[r]!) / 4, (u[a]! - u[b]!) / 4, Math.sqrt(Math.max(u[p]!, 0.25))],
        long = Math.hypot(...slope),
        looks = [slope[0]! / long - fold(g[r]! - g[l]!), slope[1]! / long - fold(g[b]! - g[a]!), slope[2]! / long],
        one = Math.hypot(...looks);
      if (alone) beside++;
      for (let c = 0; c < 3; c++) expect(out.data[4 * p + c]).toBeCloseTo(alone ? 0 : looks[c]! / one, 4);
      expect(out.data[4 * p + 3]).toBe(m.data[p]);
    }
    expect(beside).toBeGreaterThan(20);
  });

  test.each([
    ['before it', 1, 0.2],
    ['behind it', -1, 0.55],
  ])('litSurface: light that hangs %s, by its slopes and by what looks at it, never below 1, and only on the body', (_, side, round) => {
    const [left, top, wide, high] = [3, 0, 18, 9],
      surface = floats(4 * wide * high, (i) => ((i >> 2) % 7 === 3 ? 0 : random() - 0.5)),
      [phi, facing, out] = [floats(4 * n, random), floats(4 * n, random), floats(4 * n, () => 1)],
      k = 1.7;
    banded(high, (y0, y1) =>
      kernels.litSurface(
        ...([surface.at, phi.at, facing.at, k, round, side, out.at] as const),
        ...([left, top, wide, width, height, y0, y1] as const),
      ),
    );
    for (let p = 0; p < n; p++) {
      const [i, j] = [(p % width) - left, Math.floor(p / width) - top],
        on = i >= 0 && i < wide && j >= 0 && j < high ? 4 * (j * wide + i) : -1,
        normal = on < 0 ? [0, 0, 0] : [0, 1, 2].map((c) => surface.data[on + c]!),
        [l, r, a, b] = near(p);
      for (let c = 0; c < 3; c++) {
        const at = (q: number) => phi.data[4 * q + c]!,
          falls = [at(r) - at(l), at(b) - at(a), side * facing.data[4 * p + c]!],
          straight = normal.reduce((sum, v, d) => sum + v * falls[d]!, 0),
          lit = normal.some((v) => v !== 0) ? Math.max(0, (straight + round * Math.hypot(...falls)) / (1 + round)) : 0;
        expect(out.data[4 * p + c]).toBeCloseTo(1 + k * lit, 4);
      }
      expect(out.data[4 * p + 3]).toBe(1);
    }
  });
});
