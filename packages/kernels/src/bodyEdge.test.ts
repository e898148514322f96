import { banded, testMemory } from './testMemory';
import { latticeNoiseTwin } from './twins';

/** What happens along the edge of a body: it gives way ahead of a front, and light is drawn out of it. */
const { kernels, fresh, random, floats } = testMemory(4712);
beforeEach(fresh);

test.each([
  ['thins', []],
  ['is smeared to the right', [-1, -2, -3].map((x) => [x, 0])],
] as [string, number[][]][])('softenFront: the body ahead of a front %s', (_, offsets) => {
  const [width, height] = [40, 6],
    [reached, zone, most, edge, far] = [0.5, 8, 0.9, 0.004, 1.5],
    order = floats(width * height, (i) => (i % width) / width + 0.01 * random()),
    matte = floats(width * height, (i) => (i % width < 34 ? 1 : 0)),
    plate = floats(width * height * 4, random),
    removal = floats(width * height, (i) => (order.data[i]! < reached ? 1 : 0)),
    skin = floats(width * height * 4, () => 0.125),
    places = floats(Math.max(4, 2 * offsets.length), (i) => offsets.flat()[i] ?? 0),
    params = floats(8, (i) => [reached, zone, most, edge, far][i] ?? 0),
    way = (o: number) => {
      const ahead = (o - reached) * zone,
        t = ahead >= 1 || ahead <= -0.5 ? 0 : ahead > 0 ? 1 - ahead : 1 + 2 * ahead;
      return t * t * (3 - 2 * t);
    };
  banded(height, (y0, y1) =>
    kernels.softenFront(
      ...([order.at, matte.at, plate.at, places.at, offsets.length, params.at, removal.at, skin.at] as const),
      ...([width, height, y0, y1] as const),
    ),
  );
  let gives = 0;
  for (let p = 0; p < width * height; p++) {
    const x = p % width,
      o = order.data[p]!,
      before = o < reached ? 1 : 0;
    expect(removal.data[p]).toBeCloseTo(matte.data[p]! > 0 && o - reached > -edge ? Math.max(before, most * way(o)) : before, 5);
    if (removal.data[p]! > 0 && !before) gives++;
    for (let c = 0; c < 4; c++) {
      let sum = 0;
      for (const [dx] of offsets)
        if (x + dx! >= 0)
          sum += ((c < 3 ? plate.data[4 * (p + dx!) + c]! : 1) * matte.data[p + dx!]! * way(order.data[p + dx!]!) * most) / offsets.length;
      expect(skin.data[4 * p + c]).toBeCloseTo(0.125 + 0.875 * sum, 5);
    }
  }
  expect(gives).toBeGreaterThan(10);
});

test.each(['flames', 'teeth', 'a veil'])('flamesOffSkin is its plain twin: %s', (name) => {
  const kind = ['flames', 'teeth', 'a veil'].indexOf(name),
    [width, height] = [43, 30],
    // A body in the lower left corner.
    way = (v: number) => Math.max(0, v - 12),
    body = floats(width * height, (i) => (i % width <= 12 && Math.floor(i / width) >= 18 ? 1 : 0.02)),
    dx = floats(width * height, (i) => way(i % width)),
    dy = floats(width * height, (i) => Math.min(0, Math.floor(i / width) - 18)),
    numbers = [6, 3.2, 9, 27, kind ? 0 : 4.3, kind ? 0 : -1.9, 0.45, 0.75, kind, 6, 2.3, 1.1, 4.7, 0.3, 0.4, 9.1, 0.7, 101, 57],
    params = floats(20, (i) => numbers[i] ?? 0),
    out = floats(width * height),
    p = params.data,
    fall = (x: number) => Math.max(0, 1 - x / 16) ** 16,
    smooth = (t: number) => (t < 0 ? 0 : t > 1 ? 1 : t * t * (3 - 2 * t));
  banded(height, (y0, y1) => kernels.flamesOffSkin(body.at, dx.at, dy.at, params.at, out.at, width, height, y0, y1));
  let drawn = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x,
        m = body.data[i]!;
      let [ux, uy] = [dx.data[i]!, dy.data[i]!],
        d = Math.hypot(ux, uy);
      if (d === 0 || d > p[3]!) {
        expect(out.data[i]).toBe(m);
        continue;
      }
      const late = Math.min(d, p[2]!) / p[2]!,
        px = Math.min(width - 1, Math.max(0, Math.round(Math.fround(x + Math.fround(late) * p[4]!)))),
        py = Math.min(height - 1, Math.max(0, Math.round(Math.fround(y + Math.fround(late) * p[5]!))));
      [ux, uy] = [dx.data[py * width + px]!, dy.data[py * width + px]!];
      d = Math.max(0.5, Math.hypot(ux, uy));
      const rx = (px + p[17]! + 0.8 * ux) / p[0]!,
        ry = (py + p[18]! + 0.8 * uy) / p[0]!,
        seed = p[9]!,
        lean = p[6]! * 0.5 * (d / p[2]!) * (latticeNoiseTwin(rx / 1.7 + p[1]!, ry / 1.7 + p[10]! * 0.4, seed + 2) - 0.5);
      let [n, part] = [0, 0];
      for (let k = 0; k < 2; k++) {
        const [flow, begun, seen] = [p[11 + 3 * k]!, p[12 + 3 * k]!, p[13 + 3 * k]!],
          u = rx - (ux / d) * flow + lean + begun,
          w = ry - (uy / d) * flow + lean - 0.7 * begun,
          wave = u + w;
        n +=
          seen *
          (kind === 1
            ? Math.abs(2 * (wave - Math.floor(wave)) - 1)
            : 0.65 * latticeNoiseTwin(u, w, seed) + 0.35 * latticeNoiseTwin(u * 2.3, w * 2.3, seed + 1));
        part += seen * latticeNoiseTwin(u * 2.3, w * 2.3, seed + 1);
      }
      const long = kind === 2 ? 1 - 0.6 * p[7]! * n : Math.max(0.05, 1 - p[7]! + p[7]! * 2.1 * n * n),
        ny = uy / d,
        up = 0.62 + 0.38 * (ny < 0 ? -ny : -0.6 * ny),
        apart = kind === 0 ? 0.6 + 0.8 * part : 1,
        kept = fall(d / (p[2]! * long * up)) * (1 - smooth((d / p[2]! - 0.1) * 2.5) * (1 - apart));
      expect(Math.abs(out.data[i]! - Math.min(1, Math.max(m, kept)))).toBeLessThan(2e-3);
      if (kept > 0.1) drawn++;
    }
  expect(drawn).toBeGreaterThan(60);
});
