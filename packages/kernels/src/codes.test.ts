import { banded, off, sizes, testMemory } from './testMemory';
import { curveTwin, decodeTwin, encodeTwin, gradeMatrixTwin, rootCurveTwin } from './twins';

const { memory, kernels, fresh, random, floats } = testMemory(4711);
beforeEach(fresh);

function bytes(values: Uint8Array | Uint16Array): number {
  const { at } = floats(Math.ceil(values.byteLength / 4) + 4);
  new Uint8Array(memory.buffer, at, values.byteLength).set(new Uint8Array(values.buffer, values.byteOffset, values.byteLength));
  return at;
}

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
