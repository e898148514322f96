import { loadKernels, RESERVED_BYTES } from './index';
import {
  addDifferenceTwin,
  blurTwin,
  doubleTwin,
  growTwin,
  halveTwin,
  mixByMaskTwin,
  overTwin,
  rootDifferenceTwin,
  screenLightTwin,
  windowProductsTwin,
} from './twins';

const memory = new WebAssembly.Memory({ initial: 64, maximum: 32768, shared: true }),
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
    kernels.over(a.at, b.at, out.at, n);
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
    kernels.mixByMask(a.at, b.at, mask.at, out.at, n);
    mixByMaskTwin(a.data, b.data, mask.data, twin);
    expect(bits(out.data)).toEqual(bits(twin));
    kernels.addDifference(a.at, b.at, c.at, mask.at, out.at, n);
    addDifferenceTwin(a.data, b.data, c.data, mask.data, twin);
    expect(bits(out.data)).toEqual(bits(twin));
  });
  test('screenLight, rootDifference', () => {
    const a = floats(n * 4, wild),
      b = floats(n * 4, wild),
      out = floats(n * 4),
      twin = new Float32Array(n * 4);
    for (const opacity of [0, 0.37, 1]) {
      kernels.screenLight(a.at, b.at, opacity, out.at, n);
      screenLightTwin(a.data, b.data, opacity, twin);
      expect(bits(out.data)).toEqual(bits(twin));
    }
    kernels.rootDifference(a.at, b.at, out.at, n);
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
        line = floats((width + 2 * reach) * channels + 8),
        taps = floats(reach + 1, () => random()),
        twin = new Float32Array(n);
      kernels.blurRows(src.at, out.at, width, channels, 0, height, taps.at, reach, line.at);
      blurTwin(src.data, twin, width, height, channels, taps.data, false);
      expect(bits(out.data)).toEqual(bits(twin));
      // Columns in two bands: the same bits as in one.
      const half = height >> 1;
      kernels.blurColumns(src.at, out.at, width * channels, height, half, height, taps.at, reach);
      kernels.blurColumns(src.at, out.at, width * channels, height, 0, half, taps.at, reach);
      blurTwin(src.data, twin, width, height, channels, taps.data, true);
      expect(bits(out.data)).toEqual(bits(twin));
    }
  });
  test.each([1, 4] as const)('halve and double, %i channels', (channels) => {
    const w = (width + 1) >> 1,
      h = (height + 1) >> 1,
      src = floats(width * height * channels, wild),
      small = floats(w * h * channels),
      back = floats(width * height * channels),
      line = floats(width * channels + 8);
    kernels.halve(src.at, small.at, width, height, channels, 0, h, line.at);
    const smallTwin = new Float32Array(small.data.length);
    halveTwin(src.data, smallTwin, width, height, channels);
    expect(bits(small.data)).toEqual(bits(smallTwin));
    kernels.double(small.at, back.at, w, h, channels, width, height, 0, height, line.at);
    const backTwin = new Float32Array(back.data.length);
    doubleTwin(small.data, backTwin, w, h, channels, width, height);
    expect(bits(back.data)).toEqual(bits(backTwin));
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
  [3, 4, 1],
  [5, 8, 3],
  [9, 12, 5],
  [7, 8, 6],
])('windowProducts: a pattern of %i rows and %i columns at %i places a side', (rows, columns, span) => {
  const side = span + columns,
    window = floats(side * (span + rows) + 4, () => random()),
    pattern = floats(rows * columns, () => random()),
    out = floats(span * span),
    twin = new Float32Array(span * span);
  kernels.windowProducts(window.at, side, pattern.at, rows, columns, span, out.at);
  windowProductsTwin(window.data, side, pattern.data, rows, columns, span, twin);
  expect(bits(out.data)).toEqual(bits(twin));
});
