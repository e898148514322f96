import { normal, type Codes } from '../image';
import { measuredPlane } from './measured';

const WIDTH = 90,
  HEIGHT = 60;
/** A picture whose three channels differ, with faint texture in the dark on the left. */
const codes = (() => {
  const data = new Uint8Array(WIDTH * HEIGHT * 3);
  for (let p = 0; p < WIDTH * HEIGHT; p++) {
    const x = p % WIDTH;
    data[3 * p] = x < 45 ? 12 + 2 * Math.round(normal(p, 0, 1)) : 120 + Math.round(40 * normal(p, 0, 2));
    data[3 * p + 1] = 77;
    data[3 * p + 2] = x;
  }
  return { width: WIDTH, height: HEIGHT, channels: 3, bits: 8, data } as unknown as Codes;
})();
const deviation = (values: Float32Array) => {
  const mean = values.reduce((s, v) => s + v, 0) / values.length;
  return Math.sqrt(values.reduce((s, v) => s + (v - mean) ** 2, 0) / values.length);
};
const part = (data: Float32Array, x: number) =>
  Float32Array.from({ length: 20 * 20 }, (_, i) => data[(20 + Math.floor(i / 20)) * WIDTH + x + (i % 20)]!);

test('a track is measured on the channel that it names', () => {
  expect(measuredPlane(codes, { channel: 'green' }).data[100]).toBeCloseTo(77 / 255, 6);
  expect(measuredPlane(codes, { channel: 'blue' }).data[70]).toBeCloseTo(70 / 255, 6);
  expect(measuredPlane(codes, {}).data[10]).toBeCloseTo((0.2126 * codes.data[30]! + 0.7152 * 77 + 0.0722 * 10) / 255, 5);
});
test('a blur takes grain and leaves the mean', () => {
  const sharp = measuredPlane(codes, { channel: 'red' }).data,
    soft = measuredPlane(codes, { channel: 'red', preBlur: 2 }).data,
    mean = (d: Float32Array) => d.reduce((s, v) => s + v, 0) / d.length;
  expect(deviation(part(soft, 60))).toBeLessThan(0.25 * deviation(part(sharp, 60)));
  expect(mean(soft)).toBeCloseTo(mean(sharp), 2);
});
test('raised contrast makes faint texture in the dark count as much as any', () => {
  const before = measuredPlane(codes, { channel: 'red' }).data,
    raised = measuredPlane(codes, { channel: 'red', raised: 100 }).data;
  expect(deviation(part(before, 60)) / deviation(part(before, 10))).toBeGreaterThan(10);
  expect(deviation(part(raised, 60)) / deviation(part(raised, 0))).toBeLessThan(3);
  const flat = { ...codes, data: new Uint8Array(WIDTH * HEIGHT * 3).fill(50) } as Codes;
  expect(deviation(measuredPlane(flat, { raised: 100 }).data)).toBeLessThan(1e-6);
});
