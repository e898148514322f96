import { banded, off, sizes, testMemory } from './testMemory';
import { cubicTwin, foldTwin, latticeNoise3Twin, straightTwin } from './twins';

const { kernels, fresh, random, floats } = testMemory(4712);
beforeEach(fresh);

describe.each(sizes)('warps at %i x %i', (width, height) => {
  const n = width * height;
  test('warpByField, straight and cubic, mirrored and held', () => {
    const src = floats(n * 4, random),
      dx = floats(n, (i) => (i % 11 === 7 ? NaN : (random() - 0.5) * 3 * width)),
      dy = floats(n, () => (random() - 0.5) * 3 * height),
      out = floats(n * 4);
    for (const mirror of [false, true])
      for (const cubic of [false, true]) {
        banded(height, (y0, y1) => kernels.warpByField(src.at, dx.at, dy.at, mirror, cubic, out.at, width, height, y0, y1));
        const place = (i: number, d: number, size: number) => (mirror ? foldTwin(i + (d || 0) + 0.5, size) - 0.5 : i + (d || 0));
        const twin = Float32Array.from({ length: n * 4 }, (_, i) => {
          const p = i >> 2,
            x = place(p % width, dx.data[p]!, width),
            y = place(Math.floor(p / width), dy.data[p]!, height);
          return (cubic ? cubicTwin : straightTwin)(src.data, width, height, x, y, i & 3);
        });
        expect(off(out.data, twin)).toBeLessThan(2e-4);
      }
  });
  test('warpByHomography is empty outside the source', () => {
    const src = floats(n * 4, () => 0.5 + random()),
      m = [0.9, 0.1, 1, -0.1, 1.1, 0.5, 0.002, 0.001, 1],
      matrix = floats(9, (i) => m[i]!),
      out = floats(40 * 20 * 4);
    kernels.warpByHomography(src.at, width, height, matrix.at, false, 0, 0, 0, 40, 20, out.at, 40, 0, 20);
    const onEdge = (v: number, size: number) => Math.abs(v) < 1e-3 || Math.abs(v - size) < 1e-3;
    const twin = Float32Array.from({ length: 40 * 20 * 4 }, (_, i) => {
      const px = ((i >> 2) % 40) + 0.5,
        py = Math.floor((i >> 2) / 40) + 0.5,
        w = m[6]! * px + m[7]! * py + m[8]!,
        x = (m[0]! * px + m[1]! * py + m[2]!) / w,
        y = (m[3]! * px + m[4]! * py + m[5]!) / w;
      if (onEdge(x, width) || onEdge(y, height)) return out.data[i]!;
      return x < 0 || y < 0 || x > width || y > height ? 0 : straightTwin(src.data, width, height, x - 0.5, y - 0.5, i & 3);
    });
    expect(off(out.data, twin)).toBeLessThan(1e-4);
  });
  test('warpByHomography with soft edges: ramps about the edges of the source, nothing outside a box', () => {
    const src = floats(n * 4, () => 1),
      matrix = floats(9, (i) => [1, 0, -5, 0, 1, -4, 0, 0, 1][i]!),
      [w, h] = [width + 12, height + 9],
      out = floats(w * h * 4, () => 7);
    banded(h, (y0, y1) => kernels.warpByHomography(src.at, width, height, matrix.at, false, 2, 4, 3, w - 5, h - 2, out.at, w, y0, y1));
    const ramp = (t: number, size: number) => Math.min(1, Math.max(0, Math.min(t, size - t) / 2 + 0.5));
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const inBox = x >= 4 && x < w - 5 && y >= 3 && y < h - 2,
          cover = inBox ? ramp(x + 0.5 - 5, width) * ramp(y + 0.5 - 4, height) : 0;
        for (let c = 0; c < 4; c++) expect(out.data[(y * w + x) * 4 + c]!).toBeCloseTo(cover, 5);
      }
  });
  test.each([
    ['a shift', [1, 0, 1.3, 0, 1, -0.4], [1, 0, -1.3, 0, 1, 0.4]],
    ['a shift along rows', [1, 0, -5.25, 0, 1, 0], [1, 0, 5.25, 0, 1, 0]],
    ['a shift by whole pixels', [1, 0, 3, 0, 1, 2], [1, 0, -3, 0, 1, -2]],
    ['a shift down', [1, 0, 0, 0, 1, 3.5], [1, 0, 0, 0, 1, -3.5]],
    ['a shift beyond the picture', [1, 0, 60, 0, 1, 1], [1, 0, -60, 0, 1, -1]],
    ['a growing turn', [1.02, -0.05, 0.3, 0.05, 1.02, -0.2], [0.98, 0.05, -0.3, -0.05, 0.98, 0.2]],
  ])('averageMoved is the mean of the picture seen both ways: %s', (_, there, back) => {
    const src = floats(n * 4, random),
      maps = floats(12, (i) => [...there, ...back][i]!),
      out = floats(n * 4);
    banded(height, (y0, y1) => kernels.averageMoved(src.at, maps.at, out.at, width, height, y0, y1));
    const twin = Float32Array.from({ length: n * 4 }, (__, i) => {
      const x = ((i >> 2) % width) + 0.5,
        y = Math.floor((i >> 2) / width) + 0.5,
        at = ([a, b, c, d, e, f]: number[]) =>
          straightTwin(src.data, width, height, a! * x + b! * y + c! - 0.5, d! * x + e! * y + f! - 0.5, i & 3);
      return (at(there) + at(back)) / 2;
    });
    expect(off(out.data, twin)).toBeLessThan(2e-5);
  });
  test.each([0, 9])('slopeField is the held slope of a plane, fading out to a radius of %i', (radius) => {
    const soft = floats(n, random),
      [dx, dy] = [floats(n), floats(n)],
      [cx, cy, k, strength] = [width / 2 - 1, height / 2, 7, 2.5];
    banded(height, (y0, y1) => kernels.slopeField(soft.at, cx, cy, radius, k, strength, dx.at, dy.at, width, height, y0, y1));
    const at = (x: number, y: number) => soft.data[Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))]!,
      held = (v: number) => Math.min(strength, Math.max(-strength, k * v));
    for (let p = 0; p < n; p++) {
      const [x, y] = [p % width, Math.floor(p / width)],
        near = radius ? Math.max(0, 1 - ((x + 0.5 - cx) ** 2 + (y + 0.5 - cy) ** 2) / radius ** 2) : 1;
      expect(dx.data[p]).toBeCloseTo(near * near * held(at(x + 1, y) - at(x - 1, y)), 4);
      expect(dy.data[p]).toBeCloseTo(near * near * held(at(x, y + 1) - at(x, y - 1)), 4);
    }
  });
  test('litCover and skinLiquid: light covers by its brightness, and what flows together gets one lit skin', () => {
    const layer = floats(n * 4, (i) => ((i >> 2) % 5 ? 0.6 * random() : 0)),
      cover = floats(n * 4),
      soft = floats(n * 4, (i) => ((i >> 2) % 7 ? random() : 0.005)),
      before = [...layer.data],
      [amount, level, over, shine] = [0.8, 0.24, 5, 0.7];
    banded(height, (y0, y1) => kernels.litCover(layer.at, cover.at, width, y0, y1));
    for (let i = 0; i < n; i++) {
      const p = before.slice(4 * i, 4 * i + 4) as [number, number, number, number];
      expect([...cover.data.slice(4 * i, 4 * i + 4)]).toEqual([p[0], p[1], p[2], Math.max(...p)]);
    }
    banded(height, (y0, y1) => kernels.skinLiquid(layer.at, soft.at, amount, level, over, shine, width, height, y0, y1));
    const smooth = (low: number, high: number, v: number) => {
        const t = Math.min(1, Math.max(0, (v - low) / (high - low)));
        return t * t * (3 - 2 * t);
      },
      alpha = (x: number, y: number, or: number) =>
        x < 0 || y < 0 || x >= width || y >= height ? or : soft.data[4 * (y * width + x) + 3]!;
    for (let i = 0; i < n; i++) {
      const [x, y] = [i % width, Math.floor(i / width)],
        a = alpha(x, y, 0),
        body = smooth(level - 0.07, level + 0.07, a),
        [nx, ny] = [(alpha(x - 1, y, a) - alpha(x + 1, y, a)) * over, (alpha(x, y - 1, a) - alpha(x, y + 1, a)) * over],
        towards = Math.max(0, ((0.55 - 0.5 * nx - 0.68 * ny) * 0.75) / Math.sqrt(nx * nx + ny * ny + 0.35)),
        glint = shine * (towards ** 8 * 1.6 + 0.12 * towards ** 2) * body,
        dark = 0.55 + 0.45 * smooth(level, level + 0.45, a);
      for (let c = 0; c < 4; c++) {
        const skin = a < 0.01 ? 0 : c === 3 ? body : (soft.data[4 * i + c]! * body * dark) / a + glint;
        expect(layer.data[4 * i + c]! / Math.max(1, skin)).toBeCloseTo(
          (before[4 * i + c]! * (1 - amount) + amount * skin) / Math.max(1, skin),
          4,
        );
      }
    }
  });
  test('addNoise is the lattice noise about 0', () => {
    const stride = (width + 3) & ~3,
      out = floats(stride * height, () => 0.25);
    banded(height, (y0, y1) => kernels.addNoise(out.at, -1.7, 0.31, 4.2, 0.23, 2.6, 9, 0.5, width, stride, y0, y1));
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        expect(out.data[y * stride + x]).toBeCloseTo(0.25 + 0.5 * (2 * latticeNoise3Twin(-1.7 + x * 0.31, 4.2 + y * 0.23, 2.6, 9) - 1), 4);
  });
  test('spreadWobble reads a grid between its points and fades out to the radius', () => {
    const step = 3,
      columns = (Math.ceil(width / step) + 4) & ~3,
      rows = Math.ceil(height / step) + 1,
      gx = floats(columns * rows, random),
      gy = floats(columns * rows, random),
      [dx, dy] = [floats(n), floats(n)];
    banded(height, (y0, y1) => kernels.spreadWobble(gx.at, gy.at, columns, step, 2, 3, 8, 5, dx.at, dy.at, width, y0, y1));
    for (let p = 0; p < n; p++) {
      const x = p % width,
        y = Math.floor(p / width),
        d = (x - 1.5) ** 2 + (y - 2.5) ** 2,
        amount = 5 * Math.max(0, 1 - d / 64) ** 2,
        at = (grid: Float32Array<ArrayBufferLike>) => {
          const i = Math.floor(x / step),
            j = Math.floor(y / step),
            [u, w] = [x / step - i, y / step - j],
            row = (k: number) => grid[k * columns + i]! + (grid[k * columns + i + 1]! - grid[k * columns + i]!) * u;
          return (row(j) + (row(j + 1) - row(j)) * w) * amount;
        };
      expect(dx.data[p]).toBeCloseTo(at(gx.data), 4);
      expect(dy.data[p]).toBeCloseTo(at(gy.data), 4);
    }
  });
  test('lightDisc and spreadRipple follow their formulas to the far edge', () => {
    const params = floats(8, (i) => [3.2, 2.1, 9, 0.7, 1, 0.5, 0.25][i] ?? 0),
      out = floats(n * 4),
      [dx, dy] = [floats(n), floats(n)];
    banded(height, (y0, y1) => kernels.lightDisc(params.at, out.at, width, y0, y1));
    banded(height, (y0, y1) => kernels.spreadRipple(3.2, 2.1, 20, 4, 0.13, 7, dx.at, dy.at, width, y0, y1));
    for (let p = 0; p < n; p++) {
      const x = (p % width) + 0.5 - 3.2,
        y = Math.floor(p / width) + 0.5 - 2.1,
        d = Math.hypot(x, y) / 9,
        t = Math.min(1, Math.max(0, (1.8 - d) / 0.9)),
        fall = (0.62 * Math.exp(-60 * d * d) + 0.3 * Math.exp(-7 * d) + 0.16 * Math.exp(-2.6 * d)) * t * t * (3 - 2 * t) * 0.7;
      [1, 0.5, 0.25, 0].forEach((k, c) => expect(out.data[4 * p + c]).toBeCloseTo(fall * k, 5));
      const far = Math.hypot(x, y),
        run = (Math.sin((far - 7) * 0.13 * 2 * Math.PI) * Math.exp(-0.08 * 0.13 * far) * 4 * Math.max(0, 1 - (far / 20) ** 2) ** 2) / far;
      expect(dx.data[p]).toBeCloseTo(x * run, 3);
      expect(dy.data[p]).toBeCloseTo(y * run, 3);
    }
  });
});

test('fieldOfMap is how far a homography takes each pixel', () => {
  const [width, height] = [37, 11],
    h = [1.1, 0.05, -3, -0.02, 0.95, 2, 0.0004, -0.0007, 1.02],
    matrix = floats(9, (i) => h[i]!),
    [dx, dy] = [floats(width * height), floats(width * height)];
  banded(height, (y0, y1) => kernels.fieldOfMap(matrix.at, dx.at, dy.at, width, y0, y1));
  for (let p = 0; p < width * height; p++) {
    const [x, y] = [(p % width) + 0.5, Math.floor(p / width) + 0.5],
      w = h[6]! * x + h[7]! * y + h[8]!;
    expect(dx.data[p]).toBeCloseTo((h[0]! * x + h[1]! * y + h[2]!) / w - x, 4);
    expect(dy.data[p]).toBeCloseTo((h[3]! * x + h[4]! * y + h[5]!) / w - y, 4);
  }
});
