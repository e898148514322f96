import { testMemory } from './testMemory';
import { blendTwin, differenceAmountTwin, encodedBlends, gradeCurveTwin } from './twins';

const { kernels, fresh, random, floats } = testMemory(99);
beforeEach(fresh);
const SHIFT = 14;
/** A curve stored as kernels read it. */
function stored(curve: (x: number) => number) {
  const word = new Uint32Array(1),
    value = new Float32Array(word.buffer),
    entries = (0x3f800000 - 0x38800000) >> SHIFT,
    at = (i: number) => {
      word[0] = 0x38800000 + i * (1 << SHIFT);
      return curve(value[0]!);
    };
  return floats(2 * (entries + 1), (i) => {
    const k = i >> 1;
    return i % 2 ? (k < entries ? (at(k + 1) - at(k)) / (1 << SHIFT) : 0) : at(k);
  });
}
const unit = (x: number) => Math.min(1, Math.max(0, x));
/** A root and a square as they are stored: straight below 2^-14. */
const root = (x: number) => (x < 2 ** -14 ? 128 * x : Math.sqrt(x)),
  square = (x: number) => (x < 2 ** -14 ? 2 ** -14 * x : x * x);

describe.each([
  [1, 1],
  [3, 2],
  [17, 11],
])('at %i x %i', (width, height) => {
  const n = width * height,
    banded = (work: (y0: number, y1: number) => void) => {
      work(height >> 1, height);
      work(0, height >> 1);
    },
    near = (out: ArrayLike<number>, twin: ArrayLike<number>, error: number) => {
      for (let i = 0; i < twin.length; i++)
        expect(Math.abs(out[i]! - twin[i]!)).toBeLessThanOrEqual(error * Math.max(1, Math.abs(twin[i]!)));
    };
  /** Premultiplied pixels: some empty, some opaque, some brighter than white. */
  const layer = () => {
    const made = floats(n * 4);
    for (let p = 0; p < n; p++) {
      const a = [0, 1, random(), 0.4][p % 4]!;
      made.data.set([random() * a * (p % 5 ? 1 : 3), random() * a, random() * a, a], 4 * p);
    }
    return made;
  };
  test('blendLinear: multiply, and screen that keeps what is above white', () => {
    const [a, b, out] = [layer(), layer(), floats(n * 4)],
      twin = new Float32Array(n * 4);
    for (const opacity of [0.3, 1])
      for (const screened of [false, true]) {
        banded((y0, y1) => kernels.blendLinear(a.at, b.at, opacity, screened, out.at, width, y0, y1));
        blendTwin(a.data, b.data, opacity, (x, s) => (!screened ? x * s : x <= 1 && s <= 1 ? x + s - x * s : Math.max(x, s)), twin);
        near(out.data, twin, 1e-5);
      }
  });
  test.each(encodedBlends.map((_, mode) => mode))('blendEncoded, mode %i, on values held within the display range', (mode) => {
    const [a, b, out] = [layer(), layer(), floats(n * 4)],
      // Any curve that has an inverse serves: here a square root and a square.
      [into, outOf, lows] = [stored(Math.sqrt), stored((v) => v * v), floats(2, (i) => (i ? 2 ** -14 : 128))],
      twin = new Float32Array(n * 4);
    banded((y0, y1) => kernels.blendEncoded(mode, a.at, b.at, 0.7, into.at, outOf.at, lows.at, SHIFT, out.at, width, y0, y1));
    blendTwin(
      a.data,
      b.data,
      0.7,
      (x, s) => {
        return square(unit(encodedBlends[mode]!(root(unit(x)), root(unit(s)))));
      },
      twin,
    );
    near(out.data, twin, 2e-4);
  });
  test('gradeCurves: a curve for each channel on straight colours', () => {
    const src = layer(),
      out = floats(n * 4),
      curves = [Math.sqrt, (x: number) => x * x, (x: number) => x / 2],
      first = stored(curves[0]!),
      second = stored(curves[1]!),
      third = stored(curves[2]!),
      // One after another without gaps, as the kernel reads them.
      tables = floats(3 * first.data.length);
    [first, second, third].forEach((table, c) => tables.data.set(table.data, c * first.data.length));
    const slopes = [0.5, 2, 0.5],
      lows = floats(3, (c) => [128, 2 ** -14, 0.5][c]!),
      ends = floats(3, (c) => slopes[c]!);
    for (let p = 0; p < n; p += 3) src.data[4 * p + 1] = -0.25;
    banded((y0, y1) => kernels.gradeCurves(src.at, tables.at, first.data.length * 4, SHIFT, lows.at, ends.at, out.at, width, y0, y1));
    near(
      out.data,
      src.data.map((v, i) => (i % 4 === 3 ? v : gradeCurveTwin(v, src.data[i - (i % 4) + 3]!, curves[i % 4]!, slopes[i % 4]!))),
      1e-4,
    );
  });
  test('differenceAmount, with shadows kept and dropped', () => {
    const d = floats(n * 4, (i) => (i % 8 < 4 ? -0.15 - 0.02 * random() : (random() - 0.5) * 0.3)),
      clean = floats(n * 4, (i) => (i % 3 ? 0.2 + random() * 0.1 : 0.2)),
      out = floats(n);
    for (const drop of [false, true]) {
      banded((y0, y1) => kernels.differenceAmount(d.at, clean.at, 0.04, 0.09, drop, out.at, width, y0, y1));
      for (let p = 0; p < n; p++)
        expect(out.data[p]).toBeCloseTo(
          differenceAmountTwin(d.data.subarray(4 * p, 4 * p + 3), clean.data.subarray(4 * p, 4 * p + 3), 0.04, 0.09, drop),
          4,
        );
    }
  });
});
