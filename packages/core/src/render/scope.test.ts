import { Arena, decodeValue, newPicture } from '../image';
import { AS_IT_IS, lookedAt } from './look';
import { meanOf, SCOPE_COLUMNS, SCOPE_PLOT, SCOPE_STEPS, scopeOf } from './scope';

const filled = (width: number, height: number, at: (x: number, y: number) => readonly number[]) => {
  const picture = newPicture(width, height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i += 4) picture.data.set(at(x, y), i);
  return picture;
};
const light = (code: number) => decodeValue(code / 255);

describe('scopes', () => {
  test('the histogram counts every pixel at its code, and what is out of range at the ends', () => {
    const picture = filled(150, 100, (x) =>
        x < 50 ? [light(30), light(60), light(90), 1] : x < 60 ? [4, -1, 0, 1] : [light(200), light(200), light(200), 1],
      ),
      { histogram, counted } = scopeOf(picture);
    expect(counted).toBe(15_000);
    expect([histogram[30], histogram[256 + 60], histogram[512 + 90]]).toEqual([5000, 5000, 5000]);
    expect([histogram[200], histogram[255], histogram[256]]).toEqual([9000, 1000, 1000]);
    for (const c of [0, 1, 2, 3]) expect(histogram.subarray(256 * c, 256 * (c + 1)).reduce((n, v) => n + v)).toBe(15_000);
  });
  test('the waveform stands where the picture does: a ramp from left to right is a line upwards', () => {
    const picture = filled(512, 40, (x) => Array.from({ length: 3 }, () => decodeValue(x / 511)).concat(1)),
      { waveform } = scopeOf(picture);
    for (const column of [10, 128, 250]) {
      const of = waveform.subarray(column * SCOPE_STEPS, (column + 1) * SCOPE_STEPS),
        at = of.indexOf(Math.max(...of));
      expect(Math.abs(at / SCOPE_STEPS - column / SCOPE_COLUMNS)).toBeLessThan(0.02);
    }
  });
  test('grey stands in the middle of the colour plot; full blue and full red at the ends that the standard gives them', () => {
    const at = (r: number, g: number, b: number) => {
      const { plot } = scopeOf(filled(8, 8, () => [r, g, b, 1])),
        i = plot.indexOf(64);
      return [(i % SCOPE_PLOT) - 50, 50 - Math.floor(i / SCOPE_PLOT)];
    };
    expect(at(0.3, 0.3, 0.3)).toEqual([0, 0]);
    expect(at(0, 0, 1)[0]).toBe(50);
    expect(at(1, 0, 0)[1]).toBe(50);
    expect(at(0, 1, 0)).toEqual([-39, -45]);
  });
  test('the mean of a box is of the light, inside the picture only', () => {
    const picture = filled(10, 10, (x, y) => [x, y, 2, 0.5]);
    expect(meanOf(picture, [2, 4, 4, 6])).toEqual([2.5, 4.5, 2, 0.5]);
    expect(meanOf(picture, [-5, -5, 1, 1])).toEqual([0, 0, 2, 0.5]);
    expect(meanOf(picture, [20, 20, 30, 30])).toBeNull();
  });
});

describe('how a picture is looked at', () => {
  const arena = new Arena(4 << 20),
    picture = filled(2, 1, (x) => (x ? [2, 0.5, -0.25, 0.5] : [0.1, 0.2, 0.4, 1])),
    seen = (look: Partial<typeof AS_IT_IS>) =>
      [...lookedAt(picture, { ...AS_IT_IS, ...look }, arena).data].map((v) => Math.round(v * 1000) / 1000);
  test('as it is, it is the same picture', () => {
    expect(lookedAt(picture, AS_IT_IS, arena)).toBe(picture);
  });
  test('one channel, or its luminance, as grey', () => {
    expect(seen({ channel: 'green' })).toEqual([0.2, 0.2, 0.2, 1, 0.5, 0.5, 0.5, 1]);
    expect(seen({ channel: 'luminance' }).slice(0, 4)).toEqual([0.193, 0.193, 0.193, 1]);
  });
  test('a stop doubles the light; gamma is a power; alpha stays', () => {
    expect(seen({ exposure: 1 })).toEqual([0.2, 0.4, 0.8, 1, 4, 1, -0.5, 0.5]);
    const [r, g, b] = seen({ gamma: 2 });
    for (const [got, of] of [
      [r, 0.1],
      [g, 0.2],
      [b, 0.4],
    ] as const)
      expect(Math.abs(got! - Math.sqrt(of))).toBeLessThan(0.002);
  });
  test('what is above 1 or below 0 is marked, and nothing else', () => {
    const [marked] = [seen({ channel: 'out of range' })];
    expect(marked.slice(4, 7)).toEqual([0.78, 0.17, 0.1]);
    expect(marked[0]).toBe(marked[1]);
  });
});
