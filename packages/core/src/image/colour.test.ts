import { Arena } from './arena';
import { holdCodes } from './codes';
import { decodeAs, plainCoding, type Coding } from './coding';
import { parseCube, type Cube } from './cube';
import { logCodes } from './logCodes';
import type { Codes } from './picture';
import { primariesNames, primariesOf, toWorking } from './primaries';
import { curveOf, decodeValue, encodeValue, transferNames } from './transfer';

const arena = new Arena(32 << 20);
/** The colour of the first pixel, and its alpha. */
function lightOf(codes: Codes, coding: Partial<Coding>, cube: Cube | null = null, factor = 1): number[] {
  const held = holdCodes(codes, arena),
    out = decodeAs(held, { ...plainCoding, ...coding }, cube && { name: `t${Math.random()}`, cube }, factor, arena),
    light = [...out.data.slice(0, 4)];
  arena.give(out);
  arena.give(held.bytes);
  return light;
}
const floats = (channels: 3 | 4, ...data: number[]): Codes => ({
  width: data.length / channels,
  height: 1,
  channels,
  bits: 32,
  data: Float32Array.from(data),
});
const near = (got: number[], wanted: number[], within: number) =>
  wanted.forEach((v, i) => expect(Math.abs(got[i]! - v)).toBeLessThan(within));

describe('transfer curves', () => {
  test('PQ is that of ST 2084, with light 1 at the white of BT.2408', () => {
    // ITU-R BT.2408: 203 cd/m² is 58 % of the signal, 1000 is 75 %; the whole signal is 10000 cd/m².
    expect(encodeValue(0.5, 'pq')).toBeLessThan(0.58);
    expect(curveOf('pq').encode(1)).toBeCloseTo(0.5807, 3);
    expect(curveOf('pq').encode(1000 / 203)).toBeCloseTo(0.7518, 3);
    expect(decodeValue(1, 'pq')).toBeCloseTo(10000 / 203, 6);
    expect(decodeValue(0, 'pq')).toBe(0);
  });
  test('ACEScct is that of S-2016-001', () => {
    expect(curveOf('acescct').encode(0)).toBeCloseTo(0.0729055341958355, 12);
    expect(curveOf('acescct').encode(0.18)).toBeCloseTo(0.4135884, 6);
    expect(curveOf('acescct').encode(0.0078125)).toBeCloseTo(0.155251141552511, 10);
    expect(decodeValue(1, 'acescct')).toBeCloseTo(222.86, 1);
  });
  test.each(transferNames)('%s there and back', (name) => {
    for (const x of [0, 0.0001, 0.01, 0.18, 0.5, 1]) expect(decodeValue(curveOf(name).encode(x), name)).toBeCloseTo(x, 9);
  });
  test('a grading monitor is a pure power', () => expect(encodeValue(0.5, 'gamma24')).toBeCloseTo(0.5 ** (1 / 2.4), 12));
});

describe('primaries', () => {
  test('white stays white, and Rec.709 stays as it is', () => {
    for (const name of primariesNames) {
      const m = toWorking(name);
      for (let row = 0; row < 3; row++) expect(m[3 * row]! + m[3 * row + 1]! + m[3 * row + 2]!).toBeCloseTo(1, 6);
    }
    near([...toWorking('rec709')], [1, 0, 0, 0, 1, 0, 0, 0, 1], 1e-12);
  });
  test('the matrices are the published ones', () => {
    // ITU-R BT.2087 (its inverse rounded to four digits), and the Academy's AP1 to Rec.709.
    near([...toWorking('rec2020')], [1.6605, -0.5876, -0.0728, -0.1246, 1.1329, -0.0083, -0.0182, -0.1006, 1.1187], 2e-4);
    near([...toWorking('p3-d65')], [1.2249, -0.2247, 0, -0.042, 1.0419, 0, -0.0197, -0.0786, 1.0979], 4e-4);
    near([...toWorking('acescg')], [1.70505, -0.62179, -0.08326, -0.13026, 1.1408, -0.01055, -0.024, -0.12897, 1.15297], 5e-4);
  });
  test('are known by their chromaticities', () => {
    expect(primariesOf([0.713, 0.293, 0.165, 0.83, 0.128, 0.044, 0.32168, 0.33767])).toBe('acescg');
    expect(primariesOf([0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329])).toBe('rec709');
    expect(primariesOf([0.7, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329])).toBeNull();
  });
});

describe('floats', () => {
  test('keep what is above 1 and below 0; what is no number becomes 0', () => {
    near(lightOf(floats(3, 7.5, -0.25, 0.5), { transfer: 'linear' }), [7.5, -0.25, 0.5, 1], 1e-6);
    near(lightOf(floats(3, NaN, Infinity, 0), { transfer: 'linear' }), [0, 65504, 0, 1], 1e-3);
  });
  test('straight ones are multiplied with their alpha, others are left', () => {
    near(lightOf(floats(4, 4, 1, 0.5, 0.5), { transfer: 'linear', premultiplied: false }), [2, 0.5, 0.25, 0.5], 1e-6);
    near(lightOf(floats(4, 4, 1, 0.5, 0.5), { transfer: 'linear', premultiplied: true }), [4, 1, 0.5, 0.5], 1e-6);
  });
  test('of another curve go through it, also above its usual end', () => {
    near(lightOf(floats(3, 0.4135884, 1.2, 0), { transfer: 'acescct' }), [0.18, curveOf('acescct').decode(1.2), -0.0069168], 2e-3);
    near(
      lightOf(floats(4, 0.25, 0.125, 0, 0.5), { transfer: 'srgb', premultiplied: true }),
      [decodeValue(0.5) / 2, decodeValue(0.25) / 2, 0, 0.5],
      1e-5,
    );
  });
  test('of ACEScg become the light of Rec.709', () =>
    near(lightOf(floats(3, 0.18, 0.18, 0.18), { transfer: 'linear', primaries: 'acescg' }), [0.18, 0.18, 0.18], 1e-6));
  test('a draft is the mean of blocks', () =>
    near(lightOf(floats(3, 1, 0, 0, 3, 0, 2), { transfer: 'linear' }, null, 2), [2, 0, 1, 1], 1e-6));
  test('as codes of a log, up to far above white', () => {
    const light = Float32Array.from([0, 0.001, 0.18, 1, 16, 200]);
    [...logCodes(light)].forEach((code, i) =>
      expect(Math.abs(decodeValue(code / 65535, 'acescct') - light[i]!)).toBeLessThan(0.0006 + light[i]! / 1000),
    );
  });
});

test('premultiplied codes of 8 and 16 bits are divided before the curve is taken off', () => {
  near(
    lightOf({ width: 1, height: 1, channels: 4, bits: 8, data: Uint8Array.of(100, 50, 0, 128) }, { premultiplied: true }),
    [(decodeValue(100 / 128) * 128) / 255, (decodeValue(50 / 128) * 128) / 255, 0, 128 / 255],
    2e-4,
  );
  near(
    lightOf({ width: 1, height: 1, channels: 4, bits: 16, data: Uint16Array.of(30000, 0, 50000, 40000) }, { premultiplied: true }),
    [
      (decodeValue(0.75) * 40000) / 65535,
      0,
      // A colour above its alpha cannot be; it is held at white.
      40000 / 65535,
      40000 / 65535,
    ],
    1e-4,
  );
  near(
    lightOf({ width: 1, height: 1, channels: 4, bits: 8, data: Uint8Array.of(9, 9, 9, 0) }, { premultiplied: true }),
    [0, 0, 0, 0],
    1e-9,
  );
});

describe('tables', () => {
  const square = (n: number, of: (r: number, g: number, b: number) => number[]) => {
    const lines: string[] = [];
    for (let b = 0; b < n; b++)
      for (let g = 0; g < n; g++) for (let r = 0; r < n; r++) lines.push(of(r / (n - 1), g / (n - 1), b / (n - 1)).join(' '));
    return `TITLE "made here"\n# a remark\nLUT_3D_SIZE ${n}\n${lines.join('\n')}\n`;
  };
  test('a cube that changes nothing changes nothing, and one that swaps channels does so exactly', () => {
    const codes: Codes = { width: 1, height: 1, channels: 3, bits: 16, data: Uint16Array.of(12345, 45678, 60000) },
      plain = lightOf(codes, {});
    near(lightOf(codes, {}, parseCube(square(5, (r, g, b) => [r, g, b]))), plain, 2e-5);
    near(lightOf(codes, {}, parseCube(square(9, (r, g, b) => [g, b, r]))), [plain[1]!, plain[2]!, plain[0]!], 2e-5);
  });
  test('a camera log becomes light, as the cube says at its own values', () => {
    const cube = parseCube(square(17, (r, g, b) => [r * r, g * g, b * b]));
    near(lightOf(floats(3, 0.5, 0.25, 0.75), { transfer: 'linear' }, cube), [0.25, 0.0625, 0.5625], 1e-6);
  });
  test('straight colours go through, whatever their alpha', () => {
    const cube = parseCube(square(3, (r, g, b) => [1 - r, g, b]));
    near(lightOf(floats(4, 0.25, 0.1, 0, 0.5), { transfer: 'linear', premultiplied: true }, cube), [0.25, 0.1, 0, 0.5], 1e-6);
  });
  test('three curves, over a domain of their own', () => {
    const cube = parseCube('LUT_1D_SIZE 3\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 2 2 2\n0 0 0\n1 10 100\n4 40 400\n');
    near(lightOf(floats(3, 1, 0.5, 3), { transfer: 'linear' }, cube), [1, 5, 400], 1e-4);
  });
  test.each([
    ['LUT_3D_SIZE 2\n0 0 0\n', 'breaks off after 1 of 8'],
    ['LUT_1D_SIZE 2\n0 0 0\n1 1 1\n2 2 2\n', 'one value too many'],
    ['0 0 0\n', 'before the size'],
    ['LUT_3D_SIZE 2000\n', 'size of 2000; 2 to 129'],
    ['LUT_1D_SIZE 2\n0 0 zero\n', 'neither a triple'],
    ['hello world\n', 'neither a triple'],
    ['', 'no size'],
    ['LUT_1D_SIZE 2\nDOMAIN_MAX 0 1 1\n0 0 0\n1 1 1\n', 'domain ends before it begins'],
  ])('%j is refused in words', (text, why) => expect(() => parseCube(text)).toThrow(why));
});
