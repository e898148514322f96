import { testMemory } from './testMemory';

const { kernels, fresh, random, floats } = testMemory(402);
beforeEach(fresh);

test('layFlames: light is added where there are tongues, coloured at their tips, near the body hot, and held out by it', () => {
  const [width, height, left, top, wide, high] = [9, 6, 3, 2, 17, 11],
    seen = floats(width * height, (i) => (i % 4 ? random() : 0.01)),
    body = floats(width * height, (i) => (i % 3 ? 0 : random() * 1.4 - 0.2)),
    [strength, inside, tips, near] = [1.3, 0.25, [0.2, 0.4, 0.9], [1, 0.8, 0.5]] as const,
    params = floats(8, (i) => [strength, inside, ...tips, ...near][i]!),
    out = floats(wide * high * 4, random),
    before = [...out.data],
    unit = (v: number) => Math.min(1, Math.max(0, v));
  kernels.layFlames(seen.at, body.at, params.at, out.at, width, left, top, wide, 3, height);
  kernels.layFlames(seen.at, body.at, params.at, out.at, width, left, top, wide, 0, 3);
  for (let y = 0; y < high; y++)
    for (let x = 0; x < wide; x++) {
      const within = x >= left && x < left + width && y >= top && y < top + height,
        p = (y - top) * width + x - left,
        v = within ? seen.data[p]! : 0,
        t = unit((v - 0.02) / 0.73),
        a = v < 0.02 ? 0 : strength * t * t * (3 - 2 * t) * (0.25 + 0.75 * v) * (1 - unit(body.data[p]!) * (1 - inside));
      for (let c = 0; c < 3; c++) {
        const i = 4 * (y * wide + x) + c;
        expect(out.data[i]).toBeCloseTo(before[i]! + a * (tips[c]! + (near[c]! - tips[c]!) * v * v), 5);
      }
    }
});

test('spreadWays: the way of each pixel to the middle of its cell of the body, 0 on the body, far where there is none', () => {
  const [width, height, w, FAR] = [7, 5, 4, 16000],
    ways = Array.from({ length: w * 3 }, (_, i): [number, number] => (i % 5 === 4 ? [FAR, FAR] : [(i % 3) - 1, -(i % 4)])),
    raw = floats(2 * w * 3),
    shorts = new Int16Array(raw.data.buffer, raw.at, 4 * w * 3),
    body = floats(width * height, (i) => (i % 6 === 0 ? 0.5 : 0.2)),
    [dx, dy] = [floats(width * height), floats(width * height)];
  ways.forEach(([a, b], i) => {
    shorts[i] = a;
    shorts[2 * w * 3 + i] = b;
  });
  kernels.spreadWays(raw.at, raw.at + 4 * w * 3, w, FAR, body.at, 0.5, dx.at, dy.at, width, 2, height);
  kernels.spreadWays(raw.at, raw.at + 4 * w * 3, w, FAR, body.at, 0.5, dx.at, dy.at, width, 0, 2);
  for (let p = 0; p < width * height; p++) {
    const [x, y] = [p % width, Math.floor(p / width)],
      [a, b] = ways[(y >> 1) * w + (x >> 1)]!,
      on = p % 6 === 0;
    expect(dx.data[p]).toBe(on ? 0 : a === FAR ? FAR : 2 * a + (x & 1) - 0.5);
    expect(dy.data[p]).toBe(on ? 0 : a === FAR ? FAR : 2 * b + (y & 1) - 0.5);
  }
});
