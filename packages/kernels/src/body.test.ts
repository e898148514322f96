import { testMemory } from './testMemory';

const { kernels, memory, fresh, random, floats } = testMemory(77);
beforeEach(fresh);
const width = 37,
  height = 21;

test.each([
  [5, 4, 30, 16],
  [0, 0, 36, 20],
  [36, 2, 36, 2],
  [3, 8, 3, 8],
])('findBox finds what lies from %i, %i to %i, %i', (x0, y0, x1, y1) => {
  const plane = floats(width * height, (i) => (i % 3 ? 0.02 : NaN)),
    box = floats(4),
    found = new Int32Array(memory.buffer, box.at, 4);
  expect(kernels.findBox(plane.at, width, height, 0.02, 2, box.at)).toBeFalsy();
  plane.data[y0 * width + x0] = 0.03;
  plane.data[y1 * width + x1] = 1;
  expect(kernels.findBox(plane.at, width, height, 0.02, 2, box.at)).toBeTruthy();
  expect([...found]).toEqual([Math.min(x0, x1), y0, Math.max(x0, x1), y1]);
});

test('cutFigure multiplies by the matte within its box, in bands', () => {
  const plate = floats(width * height * 4, random),
    matte = floats(width * height, () => 2 * random() - 0.5),
    [outX, outY, outWidth] = [4, 2, 30],
    out = floats(outWidth * 19 * 4, () => 0),
    [x0, x1, top, rows] = [6, 29, 5, 11];
  for (const [a, b] of [
    [6, rows],
    [0, 6],
  ] as const)
    kernels.cutFigure(plate.at, matte.at, width, x0, x1, top, out.at, outX, outY, outWidth, a, b);
  for (let y = outY; y < outY + 19; y++)
    for (let x = outX; x < outX + outWidth; x++) {
      const inside = x >= x0 && x < x1 && y >= top && y < top + rows,
        p = y * width + x,
        m = inside ? Math.min(1, Math.max(0, matte.data[p]!)) : 0;
      for (let c = 0; c < 4; c++)
        expect(out.data[((y - outY) * outWidth + x - outX) * 4 + c]).toBe(Math.fround(c < 3 ? plate.data[p * 4 + c]! * m : m));
    }
});

test('gatherBody is its plain twin, with a blurred body and without', () => {
  const n = width * height,
    order = floats(n, random),
    cover = floats(n, () => Math.max(0, 2 * random() - 0.6)),
    matte = floats(n, () => 2 * random() - 0.5),
    plate = floats(n * 4, random),
    region = { x: 3, y: 4, width: 20, height: 12 },
    glow = { x: 2, y: 1, width: 34 },
    soft = floats(region.width * region.height * 4, random),
    params = floats(36),
    [reached, zone, strength, detail, mean] = [0.6, 0.5, 1.3, 0.7, 0.4],
    [left, right, top, rows] = [2, 36, 1, 19];
  new Float64Array(memory.buffer, params.at, 18).set([
    ...[reached, zone, strength, 0.9, 0.5, 0.2, left, right, top],
    ...[region.x, region.y, region.width, region.height, glow.x, glow.y, glow.width],
    ...[detail, mean],
  ]);
  const held = (x: number) => Math.min(1, Math.max(0, x)),
    smooth = (a: number, b: number, x: number) => {
      const t = held((x - a) / (b - a));
      return t * t * (3 - 2 * t);
    };
  for (const some of [true, false]) {
    const removal = floats(n, () => 0),
      body = floats(n * 4, () => 0.25),
      light = floats(glow.width * height * 4, () => 0);
    for (const [a, b] of [
      [9, rows],
      [0, 9],
    ] as const)
      kernels.gatherBody(order.at, cover.at, matte.at, plate.at, some ? soft.at : 0, params.at, removal.at, body.at, light.at, width, a, b);
    let drawn = 0;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const p = y * width + x,
          inside = x >= left && x < right && y >= top && y < top + rows,
          inSoft = some && x >= region.x && x < region.x + region.width && y >= region.y && y < region.y + region.height,
          k = ((y - region.y) * region.width + x - region.x) * 4,
          far = inSoft ? soft.data[k + 3]! : 0,
          t = held((reached - order.data[p]!) / zone),
          there = smooth(0.72, 1, t),
          seen = inside && (cover.data[p]! > 0 || far > 0);
        expect(removal.data[p]).toBe(seen && t < 1 ? Math.fround(held(cover.data[p]!) * (1 - there)) : 0);
        const shown = seen && far > 0 ? smooth(0.25, 0.7, t) * (1 - there) : 0;
        for (let c = 0; c < 4; c++) {
          const sum = shown > 0 ? Math.fround(0.25 + Math.fround(soft.data[k + c]! * shown)) : 0.25;
          expect(body.data[p * 4 + c]).toBe(c < 3 ? sum : Math.min(1, sum));
        }
        const lit = seen ? strength * smooth(0, 0.3, t) * (1 - smooth(0.45, 0.95, t)) * held(matte.data[p]!) : 0;
        if (lit > 0) {
          drawn++;
          const l = 0.2126 * plate.data[p * 4]! + 0.7152 * plate.data[p * 4 + 1]! + 0.0722 * plate.data[p * 4 + 2]!,
            own = lit * (1 - detail + (detail * 2 * l) / (l + mean));
          expect(light.data[((y - glow.y) * glow.width + x - glow.x) * 4]).toBeCloseTo(own * 0.9, 6);
        }
      }
    expect(drawn).toBeGreaterThan(50);
  }
});

test.each([1, 0])('tintedFigure takes a part of the plate times its matte, tinted with its lights and darks along; covers %i', (covers) => {
  const plate = floats(width * height * 4, random),
    matte = floats(width * height, (i) => (i % 4 ? 1.4 * random() - 0.2 : 0)),
    [left, top, wide, high] = [5, 3, 21, 14],
    [tint, colour, gain] = [0.3, [0.4, 0.7, 1], 1.6] as const,
    params = floats(8, (i) => [tint, ...colour, gain, covers][i] ?? 0),
    out = floats(wide * high * 4, () => -1);
  for (const [a, b] of [
    [6, high],
    [0, 6],
  ] as const)
    kernels.tintedFigure(plate.at, matte.at, width, left, top, params.at, out.at, wide, a, b);
  for (let y = 0; y < high; y++)
    for (let x = 0; x < wide; x++) {
      const p = (y + top) * width + x + left,
        m = Math.min(1, Math.max(0, matte.data[p]!)),
        own = [0, 1, 2].map((c) => plate.data[4 * p + c]!),
        lit = 0.25 + 2.2 * (0.2126 * own[0]! + 0.7152 * own[1]! + 0.0722 * own[2]!);
      own.forEach((v, c) => expect(out.data[4 * (y * wide + x) + c]).toBeCloseTo(m * gain * (v * (1 - tint) + colour[c]! * lit * tint), 5));
      expect(out.data[4 * (y * wide + x) + 3]).toBeCloseTo(covers * m, 6);
    }
});

test('layPart lays a part over a picture where it stands, colours and cover by strengths of their own', () => {
  const [wide, high, left, top] = [9, 6, 11, 4],
    part = floats(wide * high * 4, (i) => ((i >> 2) % 3 ? random() : 0)),
    out = floats(width * height * 4, random),
    before = [...out.data];
  kernels.layPart(part.at, wide, out.at, width, left, top, 1.5, 0.6, 2, high);
  kernels.layPart(part.at, wide, out.at, width, left, top, 1.5, 0.6, 0, 2);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 4; c++) {
        const i = 4 * (y * width + x) + c,
          within = x >= left && x < left + wide && y >= top && y < top + high,
          q = 4 * ((y - top) * wide + x - left),
          v = within ? before[i]! * (1 - 0.6 * part.data[q + 3]!) + part.data[q + c]! * (c === 3 ? 0.6 : 1.5) : before[i]!;
        expect(out.data[i]).toBeCloseTo(v, 5);
      }
});
