import { loadKernels, RESERVED_BYTES } from './index';
import { banded } from './testMemory';
import {
  addDifferenceTwin,
  blurTwin,
  brightHalfTwin,
  clampedLineTwin,
  cutOutTwin,
  doubleTwin,
  glowingHalfTwin,
  growTwin,
  halveTwin,
  layHalfLightTwin,
  mixByMaskTwin,
  overBehindTwin,
  overTwin,
  pairTwins,
  planeTwins,
  rootDifferenceTwin,
  screenLightTwin,
  uniteTwin,
  weighedSumTwin,
  windowProductsTwin,
} from './twins';

const memory = new WebAssembly.Memory({ initial: 128, maximum: 32768, shared: true }),
  kernels = loadKernels(memory);
let next = RESERVED_BYTES;
beforeEach(() => {
  next = RESERVED_BYTES;
});
/** Floats in the kernels' memory, 16-byte aligned, with a few floats of guard behind them. */
function floats(count: number, value: (i: number) => number = () => -77): { at: number; data: Float32Array<ArrayBufferLike> } {
  const at = next;
  next += Math.ceil((count * 4 + 64) / 16) * 16;
  const data = new Float32Array(memory.buffer, at, count);
  for (let i = 0; i < count; i++) data[i] = value(i);
  return { at, data };
}
let state = 12345;
const random = () => ((state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296) * 3 - 1;
const odd = [NaN, Infinity, -Infinity, 0, -0, 1e-40, 3e38];
const wild = (i: number) => (i % 41 < 34 ? random() : odd[(i % 41) - 34]!);
/** The same bits, where every NaN counts as one. */
const bits = (data: Float32Array<ArrayBufferLike>) =>
  Buffer.from(new Uint32Array(Float32Array.from(data, (v) => (v !== v ? NaN : v)).buffer));
const sizes: [number, number][] = [
  [1, 1],
  [2, 3],
  [5, 4],
  [7, 9],
  [16, 5],
  [33, 17],
];

describe.each([0, 1, 3, 4, 17, 640])('kernels by pixels, %i of them', (n) => {
  test('over', () => {
    const a = floats(n * 4, wild),
      b = floats(n * 4, wild),
      out = floats(n * 4),
      twin = new Float32Array(n * 4);
    kernels.over(a.at, b.at, out.at, n, 0, 1);

    overTwin(a.data, b.data, twin);
    expect(bits(out.data)).toEqual(bits(twin));
  });
  test('mixByMask, addDifference', () => {
    const a = floats(n * 4, wild),
      b = floats(n * 4, wild),
      c = floats(n * 4, wild),
      mask = floats(n, (i) => [0, 1, 0.3, random(), -1, 2, NaN][i % 7]!),
      out = floats(n * 4),
      twin = new Float32Array(n * 4);
    kernels.mixByMask(a.at, b.at, mask.at, out.at, n, 0, 1);
    mixByMaskTwin(a.data, b.data, mask.data, twin);
    expect(bits(out.data)).toEqual(bits(twin));
    kernels.addDifference(a.at, b.at, c.at, mask.at, out.at, n, 0, 1);
    addDifferenceTwin(a.data, b.data, c.data, mask.data, twin);
    expect(bits(out.data)).toEqual(bits(twin));
  });
  test('screenLight, rootDifference', () => {
    const a = floats(n * 4, wild),
      b = floats(n * 4, wild),
      out = floats(n * 4),
      twin = new Float32Array(n * 4);
    for (const opacity of [0, 0.37, 1]) {
      kernels.screenLight(a.at, b.at, opacity, out.at, n, 0, 1);
      screenLightTwin(a.data, b.data, opacity, twin);
      expect(bits(out.data)).toEqual(bits(twin));
    }
    kernels.rootDifference(a.at, b.at, out.at, n, 0, 1);
    rootDifferenceTwin(a.data, b.data, twin);
    expect(bits(out.data)).toEqual(bits(twin));
  });
});

describe.each(sizes)('kernels by neighbours at %i x %i', (width, height) => {
  test.each([1, 4] as const)('blurRows and blurColumns, %i channels', (channels) => {
    for (const reach of [0, 1, 3, 6]) {
      const n = width * height * channels,
        src = floats(n, wild),
        out = floats(n),
        taps = floats(reach + 1, () => random()),
        twin = new Float32Array(n);
      kernels.blurRows(src.at, out.at, width, channels, taps.at, reach, 0, height);
      blurTwin(src.data, twin, width, height, channels, taps.data, false);
      expect(bits(out.data)).toEqual(bits(twin));
      // Columns in two bands: the same bits as in one.
      const half = height >> 1;
      kernels.blurColumns(src.at, out.at, width * channels, height, taps.at, reach, half, height);
      kernels.blurColumns(src.at, out.at, width * channels, height, taps.at, reach, 0, half);
      blurTwin(src.data, twin, width, height, channels, taps.data, true);
      expect(bits(out.data)).toEqual(bits(twin));
    }
  });
  test.each([1, 4] as const)('halve and double, %i channels', (channels) => {
    const w = (width + 1) >> 1,
      h = (height + 1) >> 1,
      src = floats(width * height * channels, wild),
      small = floats(w * h * channels),
      back = floats(width * height * channels);
    kernels.halve(src.at, small.at, width, height, channels, 0, h);
    const smallTwin = new Float32Array(small.data.length);
    halveTwin(src.data, smallTwin, width, height, channels);
    expect(bits(small.data)).toEqual(bits(smallTwin));
    kernels.double(small.at, back.at, w, h, channels, width, height, 0, height);
    const backTwin = new Float32Array(back.data.length);
    doubleTwin(small.data, backTwin, w, h, channels, width, height);
    expect(bits(back.data)).toEqual(bits(backTwin));
  });
  test('meanHalfPlane is the mean of two by two of a plane; an odd row or column at the end is left out', () => {
    const [w, h] = [width >> 1, height >> 1],
      src = floats(width * height + 8, random),
      out = floats(w * h);
    kernels.meanHalfPlane(src.at, out.at, width, h >> 1, h);
    kernels.meanHalfPlane(src.at, out.at, width, 0, h >> 1);
    for (let i = 0; i < w * h; i++) {
      const p = 2 * Math.floor(i / w) * width + 2 * (i % w),
        d = src.data;
      expect(out.data[i]).toBeCloseTo((d[p]! + d[p + 1]! + d[p + width]! + d[p + width + 1]!) / 4, 6);
    }
  });
  test.each([
    ['meanHalf', 2],
    ['quarter', 4],
  ] as const)('%s is the mean of %i by as many, edges going on', (name, step) => {
    const [w, h] = [Math.ceil(width / step), Math.ceil(height / step)],
      src = floats(width * height * 4, random),
      out = floats(w * h * 4);
    kernels[name](src.at, out.at, width, height, h >> 1, h);
    kernels[name](src.at, out.at, width, height, 0, h >> 1);
    for (let i = 0; i < w * h * 4; i++) {
      const x = (i >> 2) % w,
        y = Math.floor((i >> 2) / w);
      let sum = 0;
      for (let k = 0; k < step * step; k++) {
        const px = Math.min(width - 1, step * x + (k % step)),
          py = Math.min(height - 1, step * y + Math.floor(k / step));
        sum += src.data[(py * width + px) * 4 + (i & 3)]!;
      }
      expect(out.data[i]).toBeCloseTo(sum / step / step, 5);
    }
  });
  test('fourfold is double twice', () => {
    const w = (width + 1) >> 1,
      h = (height + 1) >> 1,
      [qw, qh] = [(w + 1) >> 1, (h + 1) >> 1],
      small = floats(qw * qh * 4, random),
      out = floats(width * height * 4),
      half = new Float32Array(w * h * 4),
      twin = new Float32Array(width * height * 4);
    kernels.fourfold(small.at, out.at, qw, qh, width, height, 0, height);
    doubleTwin(small.data, half, qw, qh, 4, w, h);
    doubleTwin(half, twin, w, h, 4, width, height);
    out.data.forEach((v, i) => expect(v).toBeCloseTo(twin[i]!, 5));
  });
  test('growOnce', () => {
    const src = floats(width * height, wild),
      out = floats(width * height),
      twin = new Float32Array(width * height);
    for (const square of [false, true])
      for (const shrink of [false, true]) {
        kernels.growOnce(src.at, out.at, width, height, square, shrink, 0, height);
        growTwin(src.data, twin, width, height, square, shrink);
        expect(bits(out.data)).toEqual(bits(twin));
      }
  });
});

test('copy moves bytes and nothing beyond them', () => {
  const from = floats(10, (i) => i),
    to = floats(10);
  kernels.copy(from.at, to.at, 24);
  expect([...to.data]).toEqual([0, 1, 2, 3, 4, 5, -77, -77, -77, -77]);
});

test.each([
  [3, 8, 1],
  [5, 8, 3],
  [9, 16, 5],
  [7, 8, 6],
])('windowProducts: a pattern of %i rows and %i columns at %i places a side', (rows, columns, span) => {
  const side = span + columns,
    shorts = (count: number) => {
      const { at, data } = floats((count + 16) >> 1),
        numbers = new Int16Array(data.buffer, at, count);
      numbers.forEach((_, i) => (numbers[i] = Math.round(random() * 300)));
      return { at, numbers };
    },
    window = shorts(side * (span + rows) + 16),
    pattern = shorts(rows * columns),
    out = floats(span * span);
  kernels.windowProducts(window.at, side, pattern.at, rows, columns, span, out.at, 0, span);
  expect([...out.data]).toEqual([...windowProductsTwin(window.numbers, side, pattern.numbers, rows, columns, span)]);
});

test('windowTables and farthestFrom: whole numbers and running sums of a square of grey values', () => {
  const side = 13,
    grey = floats(side * side, random),
    numbers = floats((side * side + 1) >> 1),
    [sums, squares] = [floats(2 * (side + 1) * (side + 1)), floats(2 * (side + 1) * (side + 1))],
    shorts = new Int16Array(memory.buffer, numbers.at, side * side),
    table = (at: number) => new Float64Array(memory.buffer, at, (side + 1) * (side + 1));
  kernels.windowTables(grey.at, side, 0.25, 900, numbers.at, sums.at, squares.at);
  expect(kernels.farthestFrom(grey.at, side * side, 0.25)).toBe(Math.max(...Array.from(grey.data, (v) => Math.abs(Math.fround(v - 0.25)))));
  for (let j = 0; j <= side; j++)
    for (let i = 0; i <= side; i++) {
      let [s, t] = [0, 0];
      for (let y = 0; y < j; y++)
        for (let x = 0; x < i; x++) {
          const v = Math.fround(grey.data[y * side + x]! - 0.25);
          s += v;
          t += v * v;
        }
      expect(table(sums.at)[j * (side + 1) + i]).toBeCloseTo(s, 9);
      expect(table(squares.at)[j * (side + 1) + i]).toBeCloseTo(t, 9);
    }
  grey.data.forEach((v, p) => expect(Math.abs(shorts[p]! - Math.fround(v - 0.25) * 900)).toBeLessThan(0.501));
});

describe.each(sizes)('more kernels at %i x %i', (width, height) => {
  const n = width * height;
  const near = (out: ArrayLike<number>, twin: ArrayLike<number>) => {
    for (let i = 0; i < twin.length; i++) expect(Math.abs(out[i]! - twin[i]!)).toBeLessThanOrEqual(1e-5 * Math.max(1, Math.abs(twin[i]!)));
  };
  test('overPart, plus, overInto', () => {
    const a = floats(n * 4, wild),
      b = floats(n * 4, wild),
      out = floats(n * 4),
      twin = new Float32Array(n * 4);
    for (const opacity of [0.4, 1]) {
      for (const name of ['overPart', 'plus'] as const) {
        banded(height, (y0, y1) => kernels[name](a.at, b.at, opacity, out.at, width, y0, y1));
        pairTwins[name](a.data, b.data, opacity, twin);
        expect(bits(out.data)).toEqual(bits(twin));
      }
      pairTwins.overPart(a.data, b.data, opacity, twin);
      out.data.set(b.data);
      banded(height, (y0, y1) => kernels.overInto(a.at, out.at, opacity, width, y0, y1));
      expect(bits(out.data)).toEqual(bits(twin));
    }
  });
  test('planes: leave, product, largerOf, between, unite, clampedLine', () => {
    const a = floats(n, wild),
      b = floats(n, wild),
      out = floats(n);
    for (const name of ['leave', 'product', 'largerOf', 'between'] as const) {
      banded(height, (y0, y1) => kernels[name](a.at, b.at, 0.7, out.at, width, y0, y1));
      expect(bits(out.data)).toEqual(bits(Float32Array.from(a.data, (v, i) => planeTwins[name](v, b.data[i]!, 0.7))));
    }
    kernels.clear(out.at, width, height >> 1, height);
    expect(out.data.subarray((height >> 1) * width).every((v) => v === 0)).toBe(true);
    kernels.unite(a.at, b.at, out.at, width, 0, height);
    expect(bits(out.data)).toEqual(bits(Float32Array.from(a.data, (v, i) => uniteTwin(v, b.data[i]!))));
    kernels.clampedLine(a.at, -1, 1, out.at, width, 0, height);
    expect(bits(out.data)).toEqual(bits(Float32Array.from(a.data, (v) => clampedLineTwin(v, -1, 1))));
  });
  test('cut-outs: alphaOf, asAlpha, cutOut; a soft edge gives back the colour that was mixed into it', () => {
    const [p, b, out] = [floats(n * 4, random), floats(n * 4, random), floats(n * 4)],
      m = floats(n, (i) => (i % 5 === 0 ? 0 : i % 7 === 0 ? 1 : random())),
      plane = floats(n);
    for (const behind of [0, b.at]) {
      banded(height, (y0, y1) => kernels.cutOut(p.at, behind, m.at, 0.8, out.at, width, y0, y1));
      const twin = Float32Array.from(p.data, (v, i) => cutOutTwin(v, behind && (i & 3) < 3 ? b.data[i]! : null, m.data[i >> 2]!, 0.8));
      expect(bits(out.data)).toEqual(bits(twin));
    }
    kernels.alphaOf(out.at, plane.at, width, 0, height);
    expect(bits(plane.data)).toEqual(bits(Float32Array.from({ length: n }, (_, i) => out.data[4 * i + 3]!)));
    kernels.asAlpha(m.at, out.at, width, 0, height);
    expect(bits(out.data)).toEqual(bits(Float32Array.from({ length: 4 * n }, (_, i) => ((i & 3) === 3 ? m.data[i >> 2]! : 0))));
    // P = m F + (1 - m) B: what is kept is m F.
    const share = () => Math.abs(random()) % 1,
      own = Float32Array.from({ length: n * 4 }, share);
    for (let i = 0; i < n; i++) m.data[i] = share();
    for (let i = 0; i < n * 4; i++) b.data[i] = share();
    for (let i = 0; i < n * 4; i++) p.data[i] = m.data[i >> 2]! * own[i]! + (1 - m.data[i >> 2]!) * b.data[i]!;
    kernels.cutOut(p.at, b.at, m.at, 1, out.at, width, 0, height);
    for (let i = 0; i < n * 4; i++) if ((i & 3) < 3) expect(Math.abs(out.data[i]! - m.data[i >> 2]! * own[i]!)).toBeLessThan(1e-6);
  });
  test('weighedSum, overBehind', () => {
    const [a, b, c, out] = [floats(n * 4, random), floats(n * 4, random), floats(n * 4, random), floats(n * 4)],
      weight = floats(n, random),
      weights = floats(8, random),
      twin = new Float32Array(n * 4);
    kernels.weighedSum(a.at, b.at, weights.at, out.at, width, 0, height);
    weighedSumTwin(a.data, b.data, weights.data, twin);
    expect(bits(out.data)).toEqual(bits(twin));
    banded(height, (y0, y1) => kernels.overBehind(a.at, b.at, c.at, weight.at, 0.6, out.at, width, y0, y1));
    overBehindTwin(a.data, b.data, c.data, weight.data, 0.6, twin);
    near(out.data, twin);
    // In place, and empty parts of the front left alone.
    a.data.fill(0, 0, 4 * (n >> 1));
    overBehindTwin(a.data, b.data, c.data, weight.data, 1, twin);
    kernels.overBehind(a.at, b.at, c.at, weight.at, 1, b.at, width, 0, height);
    near(b.data, twin);
  });
  test('light at half the size: brightHalf, glowingHalf, layHalfLight', () => {
    const w = (width + 1) >> 1,
      h = (height + 1) >> 1,
      a = floats(n * 4, random),
      b = floats(n * 4, random),
      mask = floats(n, random),
      half = floats(w * h * 4),
      twin = new Float32Array(w * h * 4);
    for (const within of [null, mask]) {
      banded(h, (y0, y1) => kernels.brightHalf(a.at, within?.at ?? 0, 0.3, half.at, width, height, y0, y1));
      brightHalfTwin(a.data, within?.data ?? null, 0.3, twin, width, height);
      near(half.data, twin);
    }
    banded(h, (y0, y1) => kernels.glowingHalf(a.at, half.at, width, height, y0, y1));
    glowingHalfTwin(a.data, twin, width, height);
    near(half.data, twin);
    const out = floats(n * 4),
      large = new Float32Array(n * 4);
    // Everywhere, in a part of each row, and nowhere.
    for (const added of [false, true, false]) {
      banded(height, (y0, y1) => kernels.layHalfLight(half.at, w, h, b.at, 0.8, added, out.at, width, y0, y1));
      layHalfLightTwin(half.data, w, h, b.data, 0.8, added, large, width, height);
      near(out.data, large);
      if (added) half.data.fill(0);
      else for (let i = 0; i < half.data.length; i++) if (((i >> 2) % w) % 7 !== 3) half.data[i] = 0;
    }
  });
});
