import { overTwin } from '@wraithos/kernels/twins';
import { Arena } from './arena';
import { blendNames, blendOver, layLight, mixByMask } from './blend';
import { blur, meanHalf, twiceRows, twiceSize } from './blur';
import { blurDirection, blurSpin, blurZoom } from './blurMoved';
import { gradeCurves, gradeMatrix } from './grade';
import { newPicture, newPlane, type Picture } from './picture';
import { hash, normal, uniform } from './random';
import { fitTo } from './resize';
import { decodeCodes, encodeCodes } from './codes';
import { decodeValue, encodeValue } from './transfer';
import { samplingNames, warp, warpFlat } from './warp';

const arena = new Arena(64 * 2 ** 20);
afterEach(() => {
  expect(arena.inUse).toBe(0);
});
const fill = (picture: Picture, f: (i: number) => number) => {
  for (let i = 0; i < picture.data.length; i++) picture.data[i] = f(i);
  return picture;
};

describe('codes', () => {
  test.each(['srgb', 'rec709', 'linear'] as const)('every 8-bit and 16-bit code survives reading and writing (%s)', (transfer) => {
    for (const bits of [8, 16] as const) {
      const top = bits === 8 ? 256 : 65536,
        data = bits === 8 ? new Uint8Array(top * 3) : new Uint16Array(top * 3);
      for (let i = 0; i < top; i++) data.fill(i, i * 3, i * 3 + 3);
      const picture = decodeCodes({ width: top, height: 1, channels: 3, bits, data }, transfer, arena);
      for (const frame of [0, 7]) expect(encodeCodes(picture, { bits, channels: 3, transfer, frame }, arena)).toEqual(data);
      arena.give(picture);
    }
  });
  test('8-bit codes become the same tone in 16 bits', () => {
    const data = Uint8Array.from({ length: 256 * 3 }, (_, i) => Math.floor(i / 3)),
      picture = decodeCodes({ width: 256, height: 1, channels: 3, bits: 8, data }, 'srgb', arena);
    expect([...encodeCodes(picture, { bits: 16, channels: 3 }, arena)]).toEqual([...data].map((v) => v * 257));
    arena.give(picture);
  });
  test('the curves are those of the standards', () => {
    expect(decodeValue(0.5, 'srgb')).toBeCloseTo(0.21404114048223255, 12);
    expect(encodeValue(0.18, 'srgb')).toBeCloseTo(0.46135612950044164, 12);
    expect(encodeValue(0.18, 'rec709')).toBeCloseTo(0.40884, 3);
  });
  test('not a number, infinities and values beyond the range become codes that exist', () => {
    const picture = fill(newPicture(5, 1), (i) => [NaN, Infinity, -Infinity, -1, 7][i >> 2]!);
    expect([...encodeCodes(picture, { bits: 8, channels: 3, frame: 1 }, arena)].filter((_, i) => i % 3 === 0)).toEqual([0, 255, 0, 0, 255]);
  });
  test('a dark gradient is dithered: its means keep steps finer than a code', () => {
    const width = 256,
      rows = 64,
      picture = fill(newPicture(width, rows), (i) => ((i & 3) === 3 ? 1 : decodeValue((10 + (Math.floor(i / 4) % width) / width) / 255))),
      codes = encodeCodes(picture, { bits: 8, channels: 3, frame: 3 }, arena);
    const mean = (x: number) => {
      let s = 0;
      for (let y = 0; y < rows; y++) for (let k = 0; k < 16; k++) s += codes[(y * width + x + k) * 3]!;
      return s / rows / 16;
    };
    for (const x of [32, 96, 160, 220]) expect(Math.abs(mean(x) - (10 + (x + 8) / width))).toBeLessThan(0.12);
  });
  test('draft decoding is the mean of blocks in linear light, at odd sizes and with alpha', () => {
    const data = Uint8Array.from({ length: 7 * 5 * 4 }, (_, i) => hash(i) & 255),
      codes = { width: 7, height: 5, channels: 4 as const, bits: 8 as const, data };
    const full = decodeCodes(codes, 'srgb', arena),
      small = meanHalf(full, arena),
      once = decodeCodes(codes, 'srgb', arena, 2);
    small.data.forEach((v, i) => expect(once.data[i]).toBeCloseTo(v, 6));
    for (const picture of [full, small, once]) arena.give(picture);
  });
});

describe('over', () => {
  test.each([1, 3, 4, 17, 640])('the SIMD kernel equals its twin to the bit (%i pixels), NaN and infinities too', (n) => {
    const front = fill(arena.takePicture(n, 1), (i) => [normal(i, 1), NaN, Infinity, 0.5, -2][i % 23 < 19 ? 0 : (i % 23) - 18]!),
      back = fill(arena.takePicture(n, 1), (i) => normal(i, 2)),
      out = arena.takePicture(n, 1),
      twin = new Float32Array(n * 4);
    arena.run('over', 1, front.address!, back.address!, out.address!, n);
    overTwin(front.data, back.data, twin);
    expect(Buffer.from(new Float32Array(out.data).map((v) => (v !== v ? 0 : v)).buffer)).toEqual(
      Buffer.from(twin.map((v) => (v !== v ? 0 : v)).buffer),
    );
    [front, back, out].forEach((p) => arena.give(p));
  });
});

describe('blends', () => {
  const one = (rgba: number[]) => {
    const p = newPicture(1, 1);
    p.data.set(rgba.map((v, c) => (c < 3 ? decodeValue(v) * rgba[3]! : v)));
    return p;
  };
  const result = (name: (typeof blendNames)[number], b: number[], s: number[], opacity = 1) => {
    const out = blendOver(one(s), one(b), name, opacity, arena),
      v = [...out.data];
    arena.give(out);
    return [0, 1, 2].map((c) => encodeValue(v[c]! / (v[3] || 1)));
  };
  // The formulas of W3C Compositing and Blending, written out independently, on display-encoded values.
  const standard: Record<string, (b: number, s: number) => number> = {
    lighten: (b, s) => Math.max(b, s),
    darken: (b, s) => Math.min(b, s),
    difference: (b, s) => Math.abs(b - s),
    'hard light': (b, s) => (s <= 0.5 ? 2 * s * b : b + (2 * s - 1) - b * (2 * s - 1)),
    overlay: (b, s) => (b <= 0.5 ? 2 * b * s : s + (2 * b - 1) - s * (2 * b - 1)),
    'soft light': (b, s) => {
      const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b);
      return s <= 0.5 ? b - (1 - 2 * s) * b * (1 - b) : b + (2 * s - 1) * (d - b);
    },
  };
  test.each(Object.keys(standard))('%s follows the standard', (name) => {
    for (const b of [0, 0.1, 0.3, 0.7, 1])
      for (const s of [0, 0.2, 0.5, 0.8, 1])
        expect(result(name as never, [b, b, b, 1], [s, s, s, 1])[0]).toBeCloseTo(standard[name]!(b, s), 4);
  });
  test('linear ones: multiply, screen that keeps values above 1, add; opacity 0 changes nothing', () => {
    expect(result('multiply', [0.5, 0.5, 0.5, 1], [0.5, 0.5, 0.5, 1])[0]).toBeCloseTo(encodeValue(decodeValue(0.5) ** 2), 5);
    const light = newPicture(1, 1),
      below = newPicture(1, 1);
    light.data.set([0.5, 2, 0, 0]);
    below.data.set([0.5, 0.5, 3, 1]);
    const lit = layLight(light, below, 'screen', 1, arena);
    expect([...lit.data]).toEqual([0.75, 2, 3, 1]);
    arena.give(lit);
    for (const name of blendNames) {
      const b = one([0.3, 0.6, 0.9, 1]),
        out = blendOver(one([0.8, 0.1, 0.4, 0.5]), b, name, 0, arena);
      expect([...out.data]).toEqual([...b.data]);
      arena.give(out);
    }
  });
  test('a mask of 0 and 1 takes either picture exactly', () => {
    const a = fill(newPicture(2, 1), (i) => normal(i)),
      b = fill(newPicture(2, 1), (i) => normal(i, 9)),
      mask = newPlane(2, 1);
    mask.data.set([0, 1]);
    const out = mixByMask(a, b, mask, arena);
    expect([...out.data]).toEqual([...a.data.slice(0, 4), ...b.data.slice(4)]);
    arena.give(out);
  });
});

describe('blur', () => {
  test.each([0.8, 1.5, 2.5, 4, 9.5, 40])('sigma %f is a Gaussian: rms within half an 8-bit step, no more than three', (sigma) => {
    const width = 301,
      height = 157,
      source = newPlane(width, height);
    for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) source.data[y * width + x] = x > 130 && x < 190 && y > 60 ? 1 : 0;
    const soft = blur(source, sigma, arena);
    // The truth: the sum with sampled, normalised Gaussian weights, far beyond where they matter.
    const reach = Math.ceil(sigma * 6),
      weight = (k: number) => Math.exp((-k * k) / (2 * sigma * sigma));
    let total = 0;
    for (let k = -reach; k <= reach; k++) total += weight(k);
    const between = (at: number, from: number, to: number) => {
      let s = 0;
      for (let k = -reach; k <= reach; k++) if (at + k >= from && at + k < to) s += weight(k);
      return s / total;
    };
    const across = Array.from({ length: width }, (_, x) => between(x, 131, 190)),
      down = Array.from({ length: height }, (_, y) => between(y, 61, Infinity));
    let squares = 0,
      worst = 0,
      n = 0;
    for (let y = 40; y < 100; y += 3)
      for (let x = 60; x < 260; x++) {
        const truth = across[x]! * down[y]!,
          d = Math.abs(soft.data[y * width + x]! - truth) * 255;
        squares += d * d;
        worst = Math.max(worst, d);
        n++;
      }
    arena.give(soft);
    expect(Math.sqrt(squares / n)).toBeLessThan(0.5);
    expect(worst).toBeLessThan(3);
  });
  test('a constant stays what it is up to the edges, at odd sizes', () => {
    for (const [w, h] of [
      [1, 1],
      [3, 2],
      [37, 5],
      [64, 33],
    ] as const) {
      const p = newPicture(w, h);
      p.data.fill(0.7);
      const soft = blur(p, 11, arena);
      soft.data.forEach((v) => expect(v).toBeCloseTo(0.7, 5));
      arena.give(soft);
    }
  });
});

test('warp moves by whole pixels exactly and pulls no black in at the edges', () => {
  const p = fill(newPicture(9, 6), (i) => 1 + i),
    [dx, dy] = [newPlane(9, 6), newPlane(9, 6)];
  dx.data.fill(2);
  dy.data.fill(-1);
  const moved = warp(p, dx, dy, 'hold', arena);
  expect([...moved.data.slice((3 * 9 + 4) * 4, (3 * 9 + 4) * 4 + 4)]).toEqual([...p.data.slice((2 * 9 + 6) * 4, (2 * 9 + 6) * 4 + 4)]);
  arena.give(moved);
  dx.data.fill(500.3);
  dy.data.fill(500.3);
  dx.data[2] = NaN;
  for (const edge of ['mirror', 'hold'] as const)
    for (const sampling of samplingNames) {
      const far = warp(p, dx, dy, edge, arena, sampling);
      far.data.forEach((v) => expect(v).toBeGreaterThan(0.5));
      arena.give(far);
    }
});

test('a homography that is none gives the picture, straight and cubic', () => {
  const p = fill(newPicture(9, 6), (i) => hash(i) / 4e9);
  for (const sampling of samplingNames) {
    const out = warpFlat(p, [1, 0, 0, 0, 1, 0, 0, 0, 1], 9, 6, arena, { sampling });
    out.data.forEach((v, i) => expect(v).toBeCloseTo(p.data[i]!, 6));
    arena.give(out);
  }
});

describe('blurs along a way', () => {
  const dot = (x: number, y: number) => {
    const p = newPicture(65, 65);
    p.data.fill(1, (y * 65 + x) * 4, (y * 65 + x) * 4 + 4);
    return p;
  };
  /** Middle and spread (deviation) of the light along and across. */
  const spread = (p: Picture) => {
    let [sum, mx, my, xx, yy] = [0, 0, 0, 0, 0];
    for (let i = 0; i < p.data.length; i += 4) {
      const v = p.data[i]!,
        x = (i / 4) % 65,
        y = Math.floor(i / 4 / 65);
      [sum, mx, my, xx, yy] = [sum + v, mx + v * x, my + v * y, xx + v * x * x, yy + v * y * y];
    }
    [mx, my] = [mx / sum, my / sum];
    return { sum, x: mx, y: my, wide: Math.sqrt(xx / sum - mx * mx), high: Math.sqrt(yy / sum - my * my) };
  };
  test('a directional blur is an even line of its length about the middle', () => {
    const out = blurDirection(dot(32, 32), 24, 0, arena),
      s = spread(out);
    expect([s.sum, s.x, s.y]).toEqual([expect.closeTo(1, 4), expect.closeTo(32, 3), expect.closeTo(32, 3)]);
    // An even line of length l has the deviation l / sqrt(12); reading between pixels adds a little.
    expect(s.wide).toBeCloseTo(24 / Math.sqrt(12), 0);
    expect(s.high).toBeLessThan(0.05);
    arena.give(out);
    const down = blurDirection(dot(32, 32), 24, 90, arena);
    expect(spread(down).high).toBeGreaterThan(6);
    arena.give(down);
  });
  test('zoom spreads along rays and spin along circles, and neither moves the middle', () => {
    const zoom = spread(blurAndGive(blurZoom(dot(52, 32), 0.3, 32.5, 32.5, arena))),
      spin = spread(blurAndGive(blurSpin(dot(52, 32), 30, 32.5, 32.5, arena))),
      still = spread(blurAndGive(blurZoom(dot(32, 32), 0.3, 32.5, 32.5, arena)));
    expect(zoom.wide).toBeGreaterThan(4 * zoom.high);
    expect(spin.high).toBeGreaterThan(4 * spin.wide);
    expect(still.x).toBeCloseTo(32, 3);
    expect(still.wide).toBeLessThan(0.5);
  });
  const blurAndGive = (p: Picture): Picture => {
    const kept = { ...p, data: p.data.slice() };
    arena.give(p);
    return kept;
  };
  test('nothing to do gives the picture', () => {
    const p = dot(5, 5),
      out = blurDirection(p, 0, 0, arena);
    expect([...out.data]).toEqual([...p.data]);
    arena.give(out);
  });
});

describe('grading', () => {
  test('a matrix leaves alpha and scales its offset by it', () => {
    const p = fill(newPicture(3, 1), (i) => [0.2, 0.4, 0.6, 0.5, 2, -1, 0.5, 1, 0, 0, 0, 0][i]!),
      out = gradeMatrix(p, [2, 0, 0, 0, 1, 0, 0, 0, 1, 0.1, 0, 0], arena);
    expect([...out.data].map((v) => Number(v.toFixed(5)))).toEqual([0.45, 0.4, 0.6, 0.5, 4.1, -1, 0.5, 1, 0, 0, 0, 0]);
    arena.give(out);
  });
  test('curves act on straight colours, go on in a line above 1, and leave what is below 0', () => {
    const p = fill(newPicture(4, 1), (i) => [0.09, 0.25, 0.5, 0.5, 4, 0.25, -1, 1, 0, 0, 0, 0, 1, 1, 1, 1][i]!),
      out = gradeCurves(p, [Math.sqrt, (x) => x, (x) => x / 2], arena),
      v = [...out.data];
    expect(v[0]).toBeCloseTo(0.5 * Math.sqrt(0.18), 4);
    expect(v[1]).toBeCloseTo(0.25, 5);
    expect(v[2]).toBeCloseTo(0.25, 4);
    expect(v[4]).toBeCloseTo(1 + 3 * 0.5, 1);
    expect(v[6]).toBe(-1);
    expect(v.slice(8, 12)).toEqual([0, 0, 0, 0]);
    expect(v[12]).toBeCloseTo(1, 5);
    arena.give(out);
  });
});

test('random numbers are even, independent and repeatable', () => {
  let all = 0;
  for (const key of [1, 2, 3, 5, 8]) {
    let sum = 0,
      squares = 0,
      lag = 0;
    for (let i = 0; i < 20000; i++) {
      const v = normal(i, key);
      sum += v / 20000;
      squares += (v * v) / 20000;
      lag += ((uniform(i, key) - 0.5) * (uniform(i + 1, key) - 0.5)) / 20000;
    }
    all += sum / 5;
    expect(Math.abs(sum)).toBeLessThan(0.025);
    expect(Math.abs(squares - 1)).toBeLessThan(0.03);
    expect(Math.abs(lag)).toBeLessThan(0.003);
  }
  expect(Math.abs(all)).toBeLessThan(0.01);
});

test('the arena takes freed room again, joins neighbours, and refuses what does not fit', () => {
  const small = new Arena(1 << 20),
    a = small.takePicture(100, 100),
    b = small.takePicture(100, 100),
    c = small.takePicture(100, 100);
  small.give(a);
  small.give(c);
  small.give(b);
  const big = small.takePicture(250, 240);
  expect(() => small.takePicture(250, 240)).toThrow('no room');
  small.give(big);
  expect(() => small.give(big)).toThrow('given back already');
  expect(small.peak).toBeLessThanOrEqual(1 << 20);
});

test('fitting to another size keeps a gradient', () => {
  const p = fill(newPicture(8, 4), (i) => ((i & 3) === 0 ? (Math.floor(i / 4) % 8) + 0.5 : 1)),
    out = fitTo(p, 16, 8, arena);
  for (let x = 2; x < 14; x++) expect(out.data[(3 * 16 + x) * 4]).toBeCloseTo((x + 0.5) / 2, 5);
  arena.give(out);
});

test('some rows of a picture made twice as large are those of the whole', () => {
  const small = arena.takePicture(13, 20);
  for (let i = 0; i < small.data.length; i++) small.data[i] = (i * 37) % 101;
  const whole = twiceSize(small, 25, 39, arena);
  for (const [from, to] of [
    [0, 5],
    [7, 22],
    [16, 17],
    [30, 39],
  ] as const) {
    const part = twiceRows(small, 25, 39, from, to, arena);
    expect(part.data.slice(from * 100, to * 100)).toEqual(whole.data.slice(from * 100, to * 100));
    arena.give(part);
  }
  for (const working of [small, whole]) arena.give(working);
});
