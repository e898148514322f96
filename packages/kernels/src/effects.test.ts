import { banded, sizes, testMemory } from './testMemory';
import { burnTwin, fadingTwin, lightThingsTwin, orderTwin, stirTwin } from './twins';

const { kernels, fresh, random, floats } = testMemory(4713);
beforeEach(fresh);

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
