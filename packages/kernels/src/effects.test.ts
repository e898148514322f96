import { testMemory } from './testMemory';
import {
  burnTwin,
  cubicTwin,
  curveTwin,
  decodeTwin,
  encodeTwin,
  fadingTwin,
  foldTwin,
  gradeMatrixTwin,
  latticeNoise3Twin,
  lightThingsTwin,
  orderTwin,
  rootCurveTwin,
  straightTwin,
  stirTwin,
} from './twins';

const { memory, kernels, fresh, random, floats } = testMemory(4711);
beforeEach(fresh);
function bytes(values: Uint8Array | Uint16Array): number {
  const { at } = floats(Math.ceil(values.byteLength / 4) + 4);
  new Uint8Array(memory.buffer, at, values.byteLength).set(new Uint8Array(values.buffer, values.byteOffset, values.byteLength));
  return at;
}
const off = (a: ArrayLike<number>, b: ArrayLike<number>) => Math.max(0, ...Array.from(a, (v, i) => Math.abs(v - b[i]!)));
const sizes: [number, number][] = [
  [1, 1],
  [3, 2],
  [5, 7],
  [33, 18],
];
const banded = (rows: number, work: (y0: number, y1: number) => void) => {
  work(rows >> 1, rows);
  work(0, rows >> 1);
};

describe.each(sizes)('codes at %i x %i', (width, height) => {
  const n = width * height;
  test.each([1, 3, 4] as const)('decodeCodes of %i channels, 8 and 16 bit', (channels) => {
    for (const wide of [false, true]) {
      const top = wide ? 65535 : 255,
        codes = new (wide ? Uint16Array : Uint8Array)(n * channels).map(() => Math.floor(random() * (top + 1))),
        table = floats(top + 1, (i) => (i / top) * (i / top)),
        out = floats(n * 4),
        twin = new Float32Array(n * 4),
        at = bytes(codes);
      banded(height, (y0, y1) => kernels.decodeCodes(at, table.at, channels, wide, out.at, width, y0, y1));
      decodeTwin(codes, table.data, channels, top, twin);
      expect(off(out.data, twin)).toBeLessThan(1e-6);
    }
  });
  test.each([1, 3, 4] as const)('decodeMixed of %i channels is the sum of two decodings', (channels) => {
    for (const wide of [false, true]) {
      const top = wide ? 65535 : 255,
        some = () => new (wide ? Uint16Array : Uint8Array)(n * channels).map(() => Math.floor(random() * (top + 1))),
        [a, b] = [some(), some()],
        table = floats(top + 1, (i) => (i / top) * (i / top)),
        out = floats(n * 4),
        [first, second] = [new Float32Array(n * 4), new Float32Array(n * 4)],
        [atA, atB] = [bytes(a), bytes(b)];
      banded(height, (y0, y1) => kernels.decodeMixed(atA, atB, table.at, channels, wide, 0.3, out.at, width, y0, y1));
      decodeTwin(a, table.data, channels, top, first);
      decodeTwin(b, table.data, channels, top, second);
      expect(
        off(
          out.data,
          first.map((v, i) => 0.7 * v + 0.3 * second[i]!),
        ),
      ).toBeLessThan(1e-6);
    }
  });
  test('decodeReduced is the mean of blocks, of what there is at the edges', () => {
    for (const channels of [1, 3, 4] as const)
      for (const wide of [false, true])
        for (const factor of [2, 4]) {
          const top = wide ? 65535 : 255,
            codes = new (wide ? Uint16Array : Uint8Array)(n * channels).map(() => Math.floor(random() * (top + 1))),
            table = floats(top + 1, (i) => i / top),
            [w, h] = [Math.ceil(width / factor), Math.ceil(height / factor)],
            out = floats(w * h * 4),
            whole = new Float32Array(n * 4),
            at = bytes(codes);
          banded(h, (y0, y1) => kernels.decodeReduced(at, table.at, channels, wide, width, height, factor, out.at, w, y0, y1));
          decodeTwin(codes, table.data, channels, top, whole);
          for (let i = 0; i < w * h * 4; i++) {
            const cells: number[] = [];
            for (let k = 0; k < factor * factor; k++) {
              const x = ((i >> 2) % w) * factor + (k % factor),
                y = Math.floor((i >> 2) / w) * factor + Math.floor(k / factor);
              if (x < width && y < height) cells.push(whole[(y * width + x) * 4 + (i & 3)]!);
            }
            expect(out.data[i]).toBeCloseTo(cells.reduce((a, b) => a + b) / cells.length, 5);
          }
        }
  });
  const odd = [NaN, Infinity, -Infinity, -1, 0, 1e-6, 2, 1];
  const someOdd = () => floats(n * 4 + 16, (i) => (i % 13 < 9 ? random() : odd[i % 8]!));
  test.each([3, 4] as const)(
    'encodeBytes to %i channels: the curve, the dither within 0.46 of a step, nothing beyond the end',
    (channels) => {
      const picture = someOdd(),
        curve = floats(8, (i) => [0.01, 0.2, 0.3, 0.1, 0.05, 0.34, 0.004, 11][i]!),
        out = bytes(new Uint8Array(n * channels + 8).fill(0xab)),
        codes = new Uint8Array(memory.buffer, out, n * channels + 4);
      banded(height, (y0, y1) => kernels.encodeBytes(picture.at, curve.at, channels, 5, out, width, y0, y1));
      for (let p = 0; p < n; p++)
        encodeTwin(picture.data.subarray(4 * p, 4 * p + 4), (x) => rootCurveTwin(x, curve.data), channels, 255).forEach((v, c) =>
          expect(Math.abs(codes[p * channels + c]! - v)).toBeLessThan(c === 3 ? 0.51 : 0.962),
        );
      expect([...codes.subarray(n * channels)].every((v) => v === 0xab)).toBe(true);
    },
  );
  test.each([3, 4] as const)('encodeShorts to %i channels, rounded, nothing beyond the end', (channels) => {
    const picture = someOdd(),
      shift = 16,
      entries = (0x3f800000 - 0x38800000) >> shift,
      table = floats(2 * (entries + 1), (i) => (i % 2 ? 1e-9 : Math.min(1, i / 2 / entries))),
      out = bytes(new Uint16Array(n * channels + 8).fill(0xabab)),
      codes = new Uint16Array(memory.buffer, out, n * channels + 4);
    banded(height, (y0, y1) => kernels.encodeShorts(picture.at, table.at, shift, 3, channels, out, width, y0, y1));
    for (let p = 0; p < n; p++)
      encodeTwin(picture.data.subarray(4 * p, 4 * p + 4), (x) => curveTwin(x, table.data, shift, 3), channels, 65535).forEach((v, c) =>
        expect(Math.abs(codes[p * channels + c]! - v)).toBeLessThan(0.52),
      );
    expect([...codes.subarray(n * channels)].every((v) => v === 0xabab)).toBe(true);
  });
  test('gradeMatrix', () => {
    const src = floats(n * 4, random),
      matrix = floats(16, (i) => (i % 4 === 3 ? 0 : random())),
      out = floats(n * 4),
      twin = new Float32Array(n * 4);
    kernels.gradeMatrix(src.at, matrix.at, out.at, width, 0, height);
    gradeMatrixTwin(src.data, matrix.data, twin);
    expect(off(out.data, twin)).toBeLessThan(1e-6);
  });
});

test('a stored curve is read between its entries, straight near 0, and ends at 1', () => {
  const shift = 16,
    entries = (0x3f800000 - 0x38800000) >> shift,
    word = new Uint32Array(1),
    value = new Float32Array(word.buffer),
    at = (i: number) => {
      word[0] = 0x38800000 + i * 65536;
      return Math.sqrt(value[0]!);
    },
    table = new Float32Array(2 * (entries + 1)).map((_, i) => (i % 2 ? (at((i + 1) / 2) - at((i - 1) / 2)) / 65536 : at(i / 2)));
  for (const x of [1e-4, 0.003, 0.18, 0.5, 0.9999]) expect(curveTwin(x, table, shift, 9)).toBeCloseTo(Math.sqrt(x), 5);
  expect(curveTwin(1e-6, table, shift, 9)).toBeCloseTo(9e-6, 10);
  expect([curveTwin(NaN, table, shift, 9), curveTwin(-1, table, shift, 9), curveTwin(7, table, shift, 9)]).toEqual([0, 0, 1]);
});

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

test.each(sizes)('coverOutline and featherOutline: a box in a plane of %i x %i and some more', (width, height) => {
  const [left, top, w] = [2, 1, width + 7],
    stride = width + 2,
    sums = floats(stride * height, (i) => (i % stride === 0 ? 0.4 : i % stride === 1 ? 0.6 : i % stride === width - 1 ? -1 : 0)),
    out = floats(w * (height + 3), () => 0.123),
    square = [left + 0.5, top + 0.5, left + width - 0.5, top + 0.5, left + width - 0.5, top + height - 0.5, left + 0.5, top + height - 0.5],
    line = floats(8, (i) => square[i]!),
    reach = 1.7;
  banded(height, (y0, y1) => kernels.coverOutline(sums.at, stride, left, top, width, out.at, w, y0, y1));
  const covered = out.data.slice();
  for (let y = 0; y < height; y++)
    for (let x = 0, s = 0; x < width; x++) {
      s += sums.data[y * stride + x]!;
      expect(covered[(top + y) * w + left + x]).toBeCloseTo(Math.min(1, Math.abs(s)), 5);
    }
  banded(height, (y0, y1) => kernels.featherOutline(line.at, 4, reach, left, top, width, out.at, w, y0, y1));
  for (let y = 0; y < height + 3; y++)
    for (let x = 0; x < w; x++) {
      const v = out.data[y * w + x]!;
      if (x < left || y < top || x >= left + width || y >= top + height) expect(v).toBeCloseTo(0.123, 6);
      else {
        const distance = Math.min(
          ...[0, 1, 2, 3].map((k) => {
            const [ax, ay, bx, by] = [0, 1, 2, 3].map((c) => square[(2 * k + c) % 8]!) as [number, number, number, number],
              l = (bx - ax) ** 2 + (by - ay) ** 2,
              t = l > 0 ? Math.min(1, Math.max(0, ((x + 0.5 - ax) * (bx - ax) + (y + 0.5 - ay) * (by - ay)) / l)) : 0;
            return Math.hypot(x + 0.5 - ax - t * (bx - ax), y + 0.5 - ay - t * (by - ay));
          }),
        );
        const inside = covered[y * w + x]! >= 0.5,
          t = Math.min(1, Math.max(0, 0.5 + ((inside ? 1 : -1) * distance) / (2 * reach)));
        expect(v).toBeCloseTo(t * t * (3 - 2 * t), 4);
      }
    }
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

const arrival = [0.8, 0.1, -3, -0.1, 0.8, 2, 1, 4, 5, 1, 0, 1 / 30, 6, 1 / 9, 5, 1.35];

test.each(sizes)('arrivalOrder, fadingTraces and burnFront at %i x %i', (width, height) => {
  const n = width * height,
    params = floats(16, (i) => arrival[i]!),
    order = floats(n),
    fading = floats(n),
    all = floats(n);
  banded(height, (y0, y1) => kernels.arrivalOrder(params.at, 0.3, 0.5, 0, order.at, width, 0, width, 0, y0, y1));
  kernels.arrivalOrder(params.at, -9, 9, 0, all.at, width, 0, width, 0, 0, height);
  banded(height, (y0, y1) => kernels.fadingTraces(params.at, 0.4, fading.at, width, y0, y1));
  const slack = (1.35 * 6) / 30,
    at = (p: number): [number, number] => [(p % width) + 0.5, Math.floor(p / width) + 0.5];
  for (let p = 0; p < n; p++) {
    const { plain, ragged } = orderTwin(...at(p), params.data);
    expect(all.data[p]).toBeCloseTo(ragged, 4);
    if (ragged > 0.3 && ragged < 0.5) expect(order.data[p]).toBeCloseTo(ragged, 4);
    else expect(order.data[p]! < 0.3 ? ragged < 0.3 + 1e-4 : order.data[p]! > 0.5 ? ragged > 0.5 - 1e-4 : true).toBe(true);
    if (plain < 0.3 - slack - 0.05) expect(order.data[p]! < 0.3).toBe(true);
    expect(fading.data[p]).toBeCloseTo(fadingTwin(plain, 0.4), 4);
  }
  // A part of it is that part of all, and nothing beside it is written.
  const [left, right, top] = [Math.min(4, width - 1) & ~3, Math.max(1, width - 3), height > 2 ? 2 : 0],
    part = floats(n),
    inPart = (p: number) => p % width >= left && p % width < right && Math.floor(p / width) >= top;
  banded(height - top, (y0, y1) => kernels.arrivalOrder(params.at, -9, 9, 0, part.at, width, left, right, top, y0, y1));
  for (let p = 0; p < n; p++) expect(part.data[p]).toBe(inPart(p) ? all.data[p] : -77);
  // A front that goes straight fades traces by equal steps.
  const along = floats(16, (i) => [0.8, 0.1, -3, -0.1, 0.8, 2, 0, 4, 5, 0.6, 0.8, 1 / 30][i] ?? arrival[i]!);
  banded(height, (y0, y1) => kernels.fadingTraces(along.at, 0.4, fading.at, width, y0, y1));
  for (let p = 0; p < n; p++) expect(fading.data[p]).toBeCloseTo(fadingTwin(orderTwin(...at(p), along.data).plain, 0.4), 4);
  const cover = floats(n, (i) => (inPart(i) ? [0, 1, 0.4][i % 3]! : 0)),
    matte = floats(n, (i) => [1, 0.5, 0.005][(i >> 2) % 3]!),
    burn = floats(16, (i) => [0.4, 0.05, 0.1, 1.2, 1, 0.5, 0.2, 0.6, 2, 5][i] ?? 0),
    removal = floats(n),
    skin = floats(n * 4);
  banded(height, (y0, y1) =>
    kernels.burnFront(all.at, cover.at, matte.at, burn.at, removal.at, skin.at, width, left, right, top, height, y0, y1),
  );
  for (let p = 0; p < n; p++) {
    const { gone, skin: four } = burnTwin(...at(p), all.data[p]!, cover.data[p]!, matte.data[p]!, burn.data);
    expect(removal.data[p]).toBeCloseTo(cover.data[p]! > 0.001 ? gone : 0, 4);
    // Groups of four pixels are left out together; a pixel alone without cover may still get a skin from its neighbours' group.
    if (cover.data[p]! > 0.001) four.forEach((v, c) => expect(skin.data[4 * p + c]).toBeCloseTo(v, 3));
  }
});

test('showGrained: exact where the mask is empty, the clean plate with grain of the given strength where it is full', () => {
  const n = 4096,
    picture = floats(n * 4, random),
    clean = floats(n * 4, (i) => (i % 4 === 3 ? 1 : 0.25)),
    mask = floats(n, (i) => (i < n / 2 ? 0 : 1)),
    sigma = floats(4, (i) => [0.02, 0.04, 0, 0][i]!),
    out = floats(n * 4);
  banded(64, (y0, y1) => kernels.showGrained(picture.at, clean.at, mask.at, sigma.at, 99, out.at, 64, y0, y1));
  expect([...out.data.subarray(0, n * 2)]).toEqual([...picture.data.subarray(0, n * 2)]);
  const deviation = (c: number) => {
    const v = Array.from({ length: n / 2 }, (_, i) => Math.sqrt(out.data[(n / 2 + i) * 4 + c]!) - 0.5),
      mean = v.reduce((s, x) => s + x, 0) / v.length;
    expect(Math.abs(mean)).toBeLessThan(0.003);
    return Math.sqrt(v.reduce((s, x) => s + (x - mean) ** 2, 0) / v.length);
  };
  // Shared and own part together: the square root of 0.63² + 0.77².
  expect(deviation(0) / 0.02).toBeCloseTo(0.995, 1);
  expect(deviation(1) / 0.04).toBeCloseTo(0.995, 1);
  expect(deviation(2)).toBeLessThan(1e-6);
  // To the bit what the stirred key says.
  const n3 = (c: number, p: number) => {
    const h = stirTwin((Math.imul(p, 0x9e3779b1) + [0, 0x7feb352d, 0x6c8e9cf5, 0x27d4eb2f][c]! + 99) | 0);
    return ((h & 255) + ((h >>> 8) & 255) + ((h >>> 16) & 255) + (h >>> 24) - 510) * 0.006765875086793228;
  };
  const p = n - 5,
    v = 0.5 + 0.02 * (0.63 * n3(3, p) + 0.77 * n3(0, p));
  expect(out.data[4 * p]).toBeCloseTo(v * v, 5);
});

describe.each([
  [1, 1],
  [5, 3],
  [33, 18],
] as const)('a picture in light at %i x %i', (width, height) => {
  test.each([true, false])('lightThings, with a matte and air: %s', (more) => {
    const n = width * height,
      [w, h] = [(width + 3) >> 2, (height + 3) >> 2],
      some = (count: number) => floats(count, () => random()),
      [picture, matte, within, outside, air] = [some(4 * n), some(n), some(4 * w * h), some(4 * w * h), some(4 * w * h)],
      before = picture.data.slice(),
      // The body's box: beside it there is no matte.
      body = [1, 1, Math.max(2, width - 5), Math.max(2, height - 3)] as const,
      // A box: what lies beside it stays as it is.
      [left, right, top] = [Math.min(3, width - 1), Math.max(1, width - 2), height > 2 ? 1 : 0];
    for (let p = 0; p < n; p++) {
      const [x, y] = [p % width, Math.floor(p / width)];
      if (x < body[0] || y < body[1] || x >= body[2] || y >= body[3]) matte.data[p] = 0;
    }
    banded(height - top, (y0, y1) =>
      kernels.lightThings(
        ...([picture.at, more ? matte.at : 0, more ? within.at : 0, outside.at, more ? air.at : 0] as const),
        ...([w, h, ...body, left, right, top, width, y0, y1] as const),
      ),
    );
    const twin = lightThingsTwin(
      before,
      more ? matte.data : null,
      within.data,
      outside.data,
      more ? air.data : null,
      [w, h],
      [width, height],
    );
    for (let i = 0; i < 4 * n; i++) {
      const x = (i >> 2) % width,
        inBox = x >= left && x < right && Math.floor((i >> 2) / width) >= top;
      expect(Math.abs(picture.data[i]! - (inBox ? twin : before)[i]!)).toBeLessThan(1e-5);
    }
  });
});

test.each([
  [1, 1],
  [8, 4],
  [33, 18],
])('quarterPlane at %i x %i is the mean of four by four, edge pixels going on', (width, height) => {
  const [w, h] = [(width + 3) >> 2, (height + 3) >> 2],
    plane = floats(width * height, () => random()),
    out = floats(w * h);
  banded(h, (y0, y1) => kernels.quarterPlane(plane.at, out.at, width, height, y0, y1));
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let sum = 0;
      for (let k = 0; k < 16; k++)
        sum += plane.data[Math.min(height - 1, 4 * y + (k >> 2)) * width + Math.min(width - 1, 4 * x + (k & 3))]!;
      expect(out.data[y * w + x]).toBeCloseTo(sum / 16, 5);
    }
});
