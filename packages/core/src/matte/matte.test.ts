import { AffineFrame, type Frame } from '../motion';
import { Arena, newPicture, newPlane, normal, type Plane } from '../image';
import { arrivalOrder, type Arrival } from './arrival';
import { chromaMatte, differenceMatte, lumaMatte, type LumaOptions } from './keys';
import { carried, carriedGrowth, outlineCoverage } from './outline';
import { corner, curveBetween, isStraight, type Vertex } from './vertex';
import { fillSmall } from './fillSmall';
import { growMatte } from './grow';

const arena = new Arena(48 * 2 ** 20);
afterEach(() => {
  expect(arena.inUse).toBe(0);
});
const hard = { feather: 0, grow: 0 };
const area = (p: Plane) => p.data.reduce((n, v) => n + v, 0);

describe('outlines', () => {
  test('coverage is the exact area, also off the picture and between pixels', () => {
    const cases: [Vertex[], number][] = [
      [[corner(10.25, 8.5), corner(20.75, 8.5), corner(20.75, 19.25), corner(10.25, 19.25)], 10.5 * 10.75],
      [[corner(5, 5), corner(45.3, 12.2), corner(17.7, 38.9)], Math.abs((45.3 - 5) * (38.9 - 5) - (17.7 - 5) * (12.2 - 5)) / 2],
      [[corner(-30, -20), corner(12.5, -20), corner(12.5, 10.5), corner(-30, 10.5)], 12.5 * 10.5],
      [[corner(40, 30), corner(400, 30), corner(400, 300), corner(40, 300)], 10 * 10],
      [[corner(1, 1), corner(2, 2)], 0],
    ];
    for (const [vertices, truth] of cases) {
      const p = outlineCoverage(vertices, hard, 1, 50, 40, arena);
      expect(area(p)).toBeCloseTo(truth, 2);
      arena.give(p);
    }
  });
  test("a circle of four smooth vertices has a circle's area; the draft has a quarter of it", () => {
    const k = 0.5522847498 * 15,
      v = (x: number, y: number, tx: number, ty: number): Vertex => ({
        x,
        y,
        in: [-tx * k, -ty * k],
        out: [tx * k, ty * k],
        inner: 0,
        outer: 0,
      }),
      circle = [v(40, 25, 0, 1), v(25, 40, -1, 0), v(10, 25, 0, -1), v(25, 10, 1, 0)];
    const p = outlineCoverage(circle, hard, 1, 50, 50, arena),
      half = outlineCoverage(circle, hard, 0.5, 25, 25, arena);
    expect(Math.abs(area(p) / (Math.PI * 225) - 1)).toBeLessThan(0.005);
    expect(area(half) * 4).toBeCloseTo(area(p), -1);
    arena.give(p);
    arena.give(half);
  });
  test('feather falls over its full width, centred on the edge', () => {
    const p = outlineCoverage(
        [corner(20, -50), corner(200, -50), corner(200, 90), corner(20, 90)],
        { feather: 12, grow: 0 },
        1,
        40,
        10,
        arena,
      ),
      row = [...p.data.slice(5 * 40, 6 * 40)];
    expect(row[13]).toBe(0);
    expect(row[26]).toBe(1);
    expect((row[19]! + row[20]!) / 2).toBeCloseTo(0.5, 3);
    for (let x = 14; x < 26; x++) expect(row[x]!).toBeGreaterThan(row[x - 1]!);
    arena.give(p);
  });
});

test('a luma key takes what lies between two display values, softly at both, and open at its ends', () => {
  const ramp = newPicture(101, 3);
  for (let p = 0; p < 303; p++) {
    const v = ((p % 101) / 100) ** 2;
    for (let c = 0; c < 3; c++) ramp.data[p * 4 + c] = v;
    ramp.data[p * 4 + 3] = 1;
  }
  // One beyond white.
  ramp.data.set([9, 9, 9, 1], 100 * 4);
  const key = (options: Partial<LumaOptions>) => {
    const p = lumaMatte(ramp, { of: 'brightness', low: 0, high: 100, softness: 0, ...options }, arena),
      row = Array.from(p.data.slice(0, 101));
    arena.give(p);
    return row;
  };
  expect(key({}).every((v) => v === 1)).toBe(true);
  expect(
    key({ low: 60.5 })
      .map((v, i) => v === (i > 60 ? 1 : 0))
      .every(Boolean),
  ).toBe(true);
  expect(
    key({ high: 39.5 })
      .map((v, i) => v === (i < 40 ? 1 : 0))
      .every(Boolean),
  ).toBe(true);
  const soft = key({ low: 50, softness: 20 });
  expect([soft[39], soft[50], soft[61], soft[100]]).toEqual([0, expect.closeTo(0.5, 5), 1, 1]);
  for (let i = 41; i < 60; i++) expect(soft[i]!).toBeGreaterThan(soft[i - 1]!);
});
test('a luma key of one channel, or of how strong the colour is', () => {
  const plate = newPicture(3, 1);
  plate.data.set([0.64, 0.04, 0.04, 1, 0.36, 0.36, 0.36, 1, 0, 0, 0, 1]);
  const of = (name: LumaOptions['of']) => {
    const p = lumaMatte(plate, { of: name, low: 50, high: 100, softness: 0 }, arena),
      all = Array.from(p.data);
    arena.give(p);
    return all;
  };
  expect(of('red')).toEqual([1, 1, 0]);
  expect(of('green')).toEqual([0, 1, 0]);
  expect(of('saturation')).toEqual([1, 0, 0]);
});

test('a difference matte finds what differs, not grain; a shadow can be dropped', () => {
  const clean = newPicture(60, 40),
    plate = newPicture(60, 40);
  for (let p = 0; p < 2400; p++) {
    const x = p % 60,
      body = x >= 20 && x < 35,
      shadow = x >= 42 && x < 55;
    for (let c = 0; c < 3; c++) {
      const b = [0.2, 0.15, 0.1][c]! * (1 + 0.3 * Math.sin(x * 0.4)),
        seen = body ? [0.02, 0.05, 0.2][c]! : shadow ? b * 0.6 : b;
      clean.data[p * 4 + c] = b;
      plate.data[p * 4 + c] = Math.max(0, seen + 0.004 * normal(p, c));
    }
  }
  const options = { threshold: 5, softness: 3, smooth: 3, shadow: 'dropped' as const },
    dropped = differenceMatte(plate, clean, options, arena),
    kept = differenceMatte(plate, clean, { ...options, shadow: 'kept' }, arena);
  const mean = (m: Plane, from: number, to: number) => {
    let s = 0;
    for (let y = 4; y < 36; y++) for (let x = from; x < to; x++) s += m.data[y * 60 + x]!;
    return s / 32 / (to - from);
  };
  expect(mean(dropped, 22, 33)).toBeGreaterThan(0.97);
  expect(mean(dropped, 2, 17)).toBeLessThan(0.01);
  expect(mean(dropped, 45, 53)).toBeLessThan(0.1);
  expect(mean(kept, 45, 53)).toBeGreaterThan(0.9);
  arena.give(dropped);
  arena.give(kept);
});

test('a chroma key leaves the backing out whatever its shade', () => {
  const p = newPicture(4, 1),
    green = [0, 0.43, 0.05],
    put = (i: number, c: number[]) => p.data.set([...c, 1], i * 4);
  put(0, green);
  put(
    1,
    green.map((v) => v * 0.7),
  );
  put(2, [0.4, 0.2, 0.15]);
  put(3, [0.02, 0.02, 0.02]);
  const m = chromaMatte(p, [0, 0.69, 0.25], { tolerance: 35, softness: 20 }, arena);
  expect(m.data[0]).toBe(0);
  expect(m.data[1]).toBeLessThan(0.2);
  expect(m.data[2]).toBe(1);
  expect(m.data[3]).toBe(1);
  arena.give(m);
});

test('growing and shrinking move the edge by the amount; specks go, holes close, open bays stay', () => {
  const disc = (r: number) => {
    const p = newPlane(81, 81);
    for (let y = 0; y < 81; y++)
      for (let x = 0; x < 81; x++) p.data[y * 81 + x] = Math.max(0, Math.min(1, r + 0.5 - Math.hypot(x - 40, y - 40)));
    return p;
  };
  for (const by of [6, -6, 2.5]) {
    const p = disc(20);
    growMatte(p, by, arena);
    expect(Math.abs(Math.sqrt(area(p) / Math.PI) - (20 + by))).toBeLessThan(0.7);
  }
  const p = disc(20),
    at = (x: number, y: number) => y * 81 + x;
  p.data[at(40, 40)] = 0;
  p.data[at(41, 40)] = 0.2;
  p.data[at(75, 5)] = 1;
  for (let y = 0; y < 30; y++) p.data[at(40, y)] = 0;
  fillSmall(p, 20, 0.05, false, 0, false);
  fillSmall(p, 20, 0.95, true, 1, true);
  expect([p.data[at(40, 40)], p.data[at(41, 40)], p.data[at(75, 5)], p.data[at(40, 25)]]).toEqual([1, 1, 0, 0]);
});

test('an order field runs from 0 to 1 along its way and is ragged by the length it says', () => {
  const smooth = {
    shape: 'direction' as const,
    from: [10, 20] as [number, number],
    direction: 90,
    reach: 100,
    ragged: 0,
    raggedSize: 20,
    seed: 4,
    strokes: [],
  };
  const order = (arrival: Arrival, x: number, y: number, body: Frame = new AffineFrame(0, 0)): number => {
    const plane = arrivalOrder(arrival, body, 1, [-9, 9], x + 1, y + 1, arena),
      value = plane.data[y * (x + 1) + x]!;
    arena.give(plane);
    return value;
  };
  // Middles of pixels lie half a pixel further.
  expect(order(smooth, 399, 20)).toBeCloseTo(0.005, 5);
  expect(order(smooth, 5, 120)).toBeCloseTo(1.005, 5);
  let most = 0;
  for (let x = 0; x < 400; x += 3) most = Math.max(most, Math.abs(order({ ...smooth, ragged: 15 }, x, 70) - order(smooth, x, 70)) * 100);
  expect(most).toBeGreaterThan(5);
  expect(most).toBeLessThan(15 * 1.36);
  const radius: Arrival = { ...smooth, shape: 'radius', from: [10.5, 20.5] };
  expect(order(radius, 40, 60)).toBeCloseTo(0.5, 5);
  // It turns and grows with its body: the same point of the body is reached in the same order.
  const body = AffineFrame.turned(60, 70, 90, 2);
  expect(order({ ...radius, from: [20, 0] }, 59, 109, body)).toBeCloseTo(Math.sqrt(0.25 * 0.25 + 0.25 * 0.25) / 100, 4);
});

describe('a feather that differs from point to point', () => {
  const shape: Vertex[] = [
    { ...corner(30, 20), inner: 2, outer: 10 },
    { ...corner(90, 24), inner: 12, outer: 0, out: [10, 20], in: [-8, -14] },
    { ...corner(84, 70), inner: 0, outer: 0 },
    { ...corner(36, 66), inner: 6, outer: 16, in: [12, 10], out: [-12, -10] },
  ];
  /** The line as many points, each with its reaches. */
  const fine = shape.flatMap((a, i) => {
    const b = shape[(i + 1) % 4]!,
      [p, q, r, s] = curveBetween(a, b);
    return Array.from({ length: 300 }, (_, k) => {
      const t = k / 300,
        w = 1 - t,
        on = (c: 0 | 1) => w * w * w * p[c] + 3 * w * w * t * q[c] + 3 * w * t * t * r[c] + t * t * t * s[c],
        // Straight ways are even; their handles are on their ends.
        straight = (c: 0 | 1) => p[c] * w + s[c] * t,
        at = isStraight(a, b) ? straight : on;
      return { x: at(0), y: at(1), inner: a.inner + (b.inner - a.inner) * t, outer: a.outer + (b.outer - a.outer) * t };
    });
  });
  const truth = (x: number, y: number, feather: number, grow: number): number => {
    let least = Infinity,
      near = fine[0]!,
      inside = false;
    fine.forEach((p, i) => {
      const q = fine[(i + 1) % fine.length]!,
        d = Math.hypot(p.x - x, p.y - y);
      if (d < least) [least, near] = [d, p];
      if (p.y <= y !== q.y <= y && x < p.x + ((y - p.y) / (q.y - p.y)) * (q.x - p.x)) inside = !inside;
    });
    const inner = Math.max(0.5, near.inner + feather / 2),
      outer = Math.max(0.5, near.outer + feather / 2),
      c = Math.min(1, Math.max(0, ((inside ? least : -least) + grow + outer) / (inner + outer)));
    return c * c * (3 - 2 * c);
  };
  test.each([
    [0, 0],
    [6, 0],
    [4, 5],
    [3, -4],
  ])('follows the exact distance (feather %i, grown by %i)', (feather, grow) => {
    const cover = outlineCoverage(shape, { feather, grow }, 1, 120, 96, arena);
    let worst = 0;
    for (let y = 0; y < 96; y += 3)
      for (let x = 0; x < 120; x += 3) worst = Math.max(worst, Math.abs(cover.data[y * 120 + x]! - truth(x + 0.5, y + 0.5, feather, grow)));
    expect(worst).toBeLessThan(0.06);
    arena.give(cover);
  });
  test('an outline without any is filled as before; grown by a pixel it is larger by its length', () => {
    const plain = [corner(20, 20), corner(80, 20), corner(80, 60), corner(20, 60)],
      before = outlineCoverage(plain, hard, 1, 100, 80, arena),
      grown = outlineCoverage(plain, { feather: 0, grow: 4 }, 1, 100, 80, arena);
    // The corners of a grown outline are round.
    expect(area(before)).toBeCloseTo(60 * 40, 3);
    expect(Math.abs(area(grown) - (60 * 40 + 4 * 200 + Math.PI * 16))).toBeLessThan(4);
    arena.give(before);
    arena.give(grown);
  });
});

test('an outline that rides goes, turns and grows with what it rides on, its handles and feather too', () => {
  const square = newOutlineOf([
      [40, 40],
      [60, 40],
      [60, 60],
      [40, 60],
    ]),
    then = AffineFrame.turned(50, 50, 0, 1),
    now = AffineFrame.turned(70, 30, 45, 1.5),
    moved = carried(square, then, now);
  expect(moved.map((v) => [v.x, v.y].map((n) => Math.round(n * 10) / 10))).toEqual([
    [70, 8.8],
    [91.2, 30],
    [70, 51.2],
    [48.8, 30],
  ]);
  expect(carriedGrowth(square, then, now)).toBeCloseTo(1.5, 9);
  const bent = carried([{ ...square[0]!, out: [10, 0], in: [0, 0] }], then, now)[0]!;
  expect(bent.out.map((n) => Math.round(n * 10) / 10)).toEqual([10.6, 10.6]);
  expect(bent.in).toEqual([0, 0]);
  const cover = outlineCoverage(moved, hard, 1, 120, 80, arena);
  expect(area(cover)).toBeCloseTo(400 * 1.5 * 1.5, 0);
  arena.give(cover);
});
const newOutlineOf = (points: [number, number][]) => points.map(([x, y]) => corner(x, y));
