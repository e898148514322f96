import { Arena, type Picture } from '../image';
import { drawOn, nothing, resized, standing } from '../../test/effects';
import type { Frame } from '../motion';
import { beam, beamReach } from './beam';
import { beamWay } from './beamWay';
import { flash, flashAt } from './flash';
import { ember } from './ember';
import { fill } from './fill';
import { blur } from './blur';
import { defaultsOf, valuesAt, type Draw, type Fact, type Effect, type StoredValue } from './index';

const arena = new Arena(64 * 2 ** 20);
afterEach(() => arena.reset());
const WIDTH = 160,
  HEIGHT = 90;
const draw = (more: Partial<Draw<Fact>> = {}) => drawOn(arena, WIDTH, HEIGHT, { frameInRow: 40, subjectPixels: 60, ...more });
const valuesOf = (e: Effect, stored: Record<string, StoredValue>, scale = 1) =>
  valuesAt(e.params, { ...defaultsOf(e.params), ...stored }, {}, 0, scale) as never;
const beamed = (
  stored: Record<string, StoredValue>,
  more: Partial<Draw<Fact>> = {},
  aim: Frame | null = standing(140, 45),
  mount: Frame | null = standing(20, 45),
  beside: Partial<Record<'before' | 'next' | 'aimBefore' | 'aimNext', Frame>> = {},
) => {
  const here = { mount: mount ?? nothing(WIDTH, HEIGHT), aim: aim ?? nothing(WIDTH, HEIGHT) };
  return beam.render(
    draw(more),
    valuesOf(
      beam as unknown as Effect,
      { flutter: 0, flicker: 0, impact: 0, taper: 0, narrow: 0, breath: 0, fray: 0, shutter: 0, ...stored },
      more.scale,
    ),
    resized({ ...here, before: here.mount, next: here.mount, aimBefore: here.aim, aimNext: here.aim, ...beside }, more.scale ?? 1),
    undefined as never,
  ).light;
};
const at = (p: Picture, x: number, y: number) => p.data[(y * p.width + x) * 4]!;

describe('beam', () => {
  test('blurs as it moves: the mean of what it is at moments while the shutter is open', () => {
    // Its far end sweeps down by 16 px a frame; half of that is seen at 180 degrees.
    const values = { core: 4, soft: 30, halo: 16, haloStrength: 60 },
      at0 = (y: number) => standing(140, y),
      blurred = beamed({ ...values, shutter: 180 }, {}, at0(45), undefined, { aimBefore: at0(29), aimNext: at0(61) })!,
      n = 16,
      mean = new Float32Array(WIDTH * HEIGHT * 4);
    for (let k = 0; k < n; k++) {
      const one = beamed(values, {}, at0(45 + 16 * 0.5 * ((k + 0.5) / n - 0.5)))!;
      for (let i = 0; i < mean.length; i++) mean[i]! += one.data[i]! / n;
    }
    const sharp = beamed(values, {}, at0(45))!,
      off = (p: Picture) => Math.sqrt(p.data.reduce((sum, v, i) => sum + (v - mean[i]!) * (v - mean[i]!), 0) / mean.length);
    expect(off(blurred)).toBeLessThan(0.12 * off(sharp));
    expect(at(blurred, 130, 45)).toBeLessThan(0.7 * at(sharp, 130, 45));
    // Over a cut no shutter was open.
    const cut = beamed({ ...values, shutter: 180 }, {}, at0(45), undefined, { aimBefore: at0(5) })!;
    expect([...cut.data]).toEqual([...beamed({ ...values, shutter: 180 }, {}, at0(45))!.data]);
  });

  test('goes along a drawn line, with its mount, and between two lines from one to the other', () => {
    const line = (frame: number, y: number) => ({ frame, points: [0, 1, 2, 3, 4].map((i) => [30 * i - 10, i === 2 ? y : 0] as const) }),
      values = { goes: 'along a drawn line', core: 4, soft: 0, halo: 0 },
      drawnOn = (frameInRow: number, mount?: Frame) =>
        beamed(values, { frameInRow, lines: [line(10, -30), line(20, 30)] }, null, mount ?? standing(20, 45))!,
      crosses = (light: Picture, x: number) => {
        const lit = Array.from({ length: HEIGHT }, (_, y) => y).filter((y) => at(light, x, y) > 0.8);
        return lit.reduce((sum, y) => sum + y + 0.5, 0) / lit.length;
      };
    // The middle of the line is a bow; a hand's corner is rounded.
    expect(crosses(drawnOn(10), 70)).toBeLessThan(45 - 20);
    expect(crosses(drawnOn(15), 70)).toBeCloseTo(45, 0);
    expect(crosses(drawnOn(40), 70)).toBeGreaterThan(45 + 20);
    expect(crosses(drawnOn(40, standing(24, 50)), 74)).toBeCloseTo(crosses(drawnOn(40), 70) + 5, 0);
    // Both ends are the line's own.
    expect(at(drawnOn(10), 11, 45)).toBeGreaterThan(1);
    expect(at(drawnOn(10), 129, 45)).toBeGreaterThan(1);
    expect(at(drawnOn(10), 136, 45)).toBe(0);
    // Without a line it goes as ever, and says so.
    const none = beamed({ ...values, goes: 'along a drawn line' }, { lines: [] })!;
    expect([...none.data]).toEqual([...beamed({ ...values, goes: 'its way' })!.data]);
    const found = (lines: number, mount: boolean) =>
      beam.checks!.map((c) =>
        c.find({
          ...{ name: 'Beam', clean: false, matte: false, mount, aim: false, element: false, pattern: false, cues: 0, lines },
          values: valuesOf(beam as unknown as Effect, { goes: 'along a drawn line' }),
        }),
      );
    expect(found(0, true).filter(Boolean)).toHaveLength(2);
    expect(found(1, false).filter(Boolean)).toHaveLength(0);
  });

  test('its head and tail blur as they travel', () => {
    const head = (shutter: number) => {
      const light = beamed({ travel: 10, core: 6, soft: 0, halo: 0, shutter }, { frameInRow: 4 })!;
      return Array.from({ length: 130 }, (_, i) => at(light, 20 + i, 45)).filter((v) => v > 0.05 && v < 1.4).length;
    };
    // It goes 12 px a frame, and half of that while the shutter is open.
    expect(head(0)).toBeLessThan(4);
    expect(Math.abs(head(180) - 6)).toBeLessThan(3);
  });

  test('its core lies on the way from mount to mount, as wide as it says, and nothing lies beyond its halo', () => {
    const light = beamed({ core: 8, soft: 0, halo: 30, haloStrength: 50 })!;
    expect(light).toBeDefined();
    for (const x of [25, 80, 135]) {
      expect(at(light, x, 45)).toBeGreaterThan(1);
      // Half of the core's width is 4 px; the halo alone is much fainter.
      expect(at(light, x, 45 + 3)).toBeGreaterThan(1);
      expect(at(light, x, 45 + 6)).toBeLessThan(0.6);
      expect(at(light, x, 45 + 36)).toBe(0);
      // The way is level: both sides are alike (pixel centres lie half a pixel beside it).
      expect(at(light, x, 45 + 8)).toBeCloseTo(at(light, x, 44 - 8), 5);
    }
    expect(at(light, 5, 5)).toBe(0);
  });

  test('parts into strands about the place where it strikes, and only once it has', () => {
    const struck = { travel: 10, core: 6, soft: 0, halo: 0 },
      spread = (light: Picture, x: number) => Array.from({ length: 90 }, (_, y) => at(light, x, y)).filter((v) => v > 0.1).length,
      whole = beamed(struck)!,
      frayed = beamed({ ...struck, fray: 100 })!,
      under = (p: Picture) => [...p.data];
    expect(spread(frayed, 139)).toBeGreaterThan(spread(whole, 139) + 4);
    expect(spread(frayed, 60)).toBe(spread(whole, 60));
    expect(under(beamed({ ...struck, fray: 100 }, { frameInRow: 5 })!)).toEqual(under(beamed(struck, { frameInRow: 5 })!));
    // The strands flutter.
    expect(under(beamed({ ...struck, fray: 100 }, { frame: 1013 })!)).not.toEqual(under(frayed));
  });
  test('begins in a point, and its halo is wider here and narrower there, and another one some frames later', () => {
    const pointed = beamed({ core: 10, soft: 0, halo: 0, narrow: 40 })!,
      wide = (light: Picture, x: number) => Array.from({ length: 90 }, (_, y) => at(light, x, y)).filter((v) => v > 0.3).length;
    expect(wide(pointed, 24)).toBeLessThan(5);
    expect(wide(pointed, 100)).toBeGreaterThan(8);
    const haloed = (frame: number) => beamed({ core: 0, halo: 24, breath: 80 }, { frame })!,
      along = (light: Picture) => Array.from({ length: 10 }, (_, i) => at(light, 30 + 10 * i, 45 + 8)),
      now = along(haloed(1001));
    expect(Math.max(...now)).toBeGreaterThan(1.3 * Math.min(...now));
    expect(along(haloed(1009)).some((v, i) => Math.abs(v - now[i]!) > 0.02)).toBe(true);
    // None of it ends in a cut.
    const across = Array.from({ length: 44 }, (_, i) => at(haloed(1001), 80, 45 + i));
    for (let i = 1; i < across.length; i++) expect(Math.abs(across[i]! - across[i - 1]!)).toBeLessThan(0.12);
  });

  test('head and tail travel at a steady speed from the first frame of its row, and the tail leaves the same way', () => {
    const v = { travel: 8, stays: 20, head: 0, tail: 0 };
    expect(beamReach(v, 0).head).toBeCloseTo(1 / 8);
    expect(beamReach(v, 3)).toEqual({ head: 0.5, tail: 0 });
    expect(beamReach(v, 7)).toEqual({ head: 1, tail: 0 });
    expect(beamReach(v, 24).tail).toBeCloseTo(0.5);
    expect(beamReach(v, 28)).toEqual({ head: 1, tail: 1 });
    expect(beamReach({ travel: 0, stays: 9, head: 0.7, tail: 0.2 }, 3)).toEqual({ head: 0.7, tail: 0.2 });
    const half = beamed({ core: 6, halo: 10, travel: 8 }, { frameInRow: 3 })!;
    expect(at(half, 60, 45)).toBeGreaterThan(1);
    expect(at(half, 110, 45)).toBe(0);
    const leaving = beamed({ core: 6, halo: 10, travel: 8, stays: 20 }, { frameInRow: 24 })!;
    expect(at(leaving, 50, 45)).toBe(0);
    expect(at(leaving, 110, 45)).toBeGreaterThan(1);
    expect(beamed({ travel: 8, stays: 20 }, { frameInRow: 40 })).toBeUndefined();
  });

  test('one end lies behind the subject: hidden there within its matte, seen before it crosses and beside the matte', () => {
    const matte = arena.takePlane(WIDTH, HEIGHT);
    matte.data.forEach((_, p) => (matte.data[p] = p % WIDTH >= 60 && p % WIDTH < 120 ? 1 : 0));
    const give = (passes: string) =>
        beam.render(
          draw(),
          valuesOf(beam as unknown as Effect, {
            flutter: 0,
            flicker: 0,
            impact: 0,
            core: 8,
            halo: 0,
            narrow: 0,
            shutter: 0,
            passes,
            crosses: 50,
          }),
          { mount: standing(20, 45), aim: standing(140, 45), matte } as never,
          undefined as never,
        ).light!,
      seen = (p: Picture) => [30, 70, 110, 130].map((x) => at(p, x, 45) > 0.5);
    expect(seen(give('as its lane stands'))).toEqual([true, true, true, true]);
    expect(seen(give('its end behind'))).toEqual([true, true, false, true]);
    expect(seen(give('its beginning behind'))).toEqual([true, false, true, true]);
  });

  test('head and tail have round ends: no straight cut through the halo of a beam in pieces', () => {
    // The head stands just at a joint.
    const light = beamed({ core: 4, halo: 40, travel: 8, flutter: 2 }, { frameInRow: 3 })!,
      ahead = (dx: number) => at(light, 80 + dx, 45 + 12);
    for (let dx = -12; dx < 12; dx++) expect(Math.abs(ahead(dx + 1) - ahead(dx))).toBeLessThan(0.25 * ahead(-20));
  });

  test('a bent way goes through its middle point, ends stay where they are, and flutter moves neither end', () => {
    const { x, y } = beamWay([0, 0], [100, 0], 20, 0, 5, 1),
      n = x.length - 1;
    expect([x[0], y[0], x[n], y[n]]).toEqual([0, 0, 100, 0]);
    expect(x[n / 2]).toBeCloseTo(50);
    expect(y[n / 2]).toBeCloseTo(20);
    const by = beamWay([0, 0], [100, 0], [30, -40], 0, 5, 1);
    expect([by.x[n / 2], by.y[n / 2]]).toEqual([30, -40]);
    expect([by.x[0], by.y[0], by.x[n], by.y[n]]).toEqual([0, 0, 100, 0]);
    const shaken = beamWay([0, 0], [100, 0], 0, 6, 5, 1),
      next = beamWay([0, 0], [100, 0], 0, 6, 6, 1);
    expect([shaken.y[0], shaken.y[n]]).toEqual([0, 0]);
    expect(Math.max(...shaken.y.map(Math.abs))).toBeGreaterThan(0.5);
    expect(Math.max(...shaken.y.map(Math.abs))).toBeLessThanOrEqual(6);
    expect([...next.y]).not.toEqual([...shaken.y]);
  });

  test('it strikes only when its head arrives, brightest at once', () => {
    const impact = (frameInRow: number) => {
      const light = beamed({ core: 2, halo: 0, impact: 30, travel: 8 }, { frameInRow });
      return light ? at(light, 140, 45 + 9) : 0;
    };
    expect(impact(5)).toBe(0);
    expect(impact(7)).toBeGreaterThan(0.2);
    expect(impact(20)).toBeLessThan(impact(7));
    expect(impact(20)).toBeGreaterThan(0.05);
  });

  test('half the size carries the same light, and without a target nothing is drawn', () => {
    const mean = (p: Picture) => p.data.reduce((n, v) => n + v, 0) / p.data.length,
      whole = mean(beamed({ core: 3, halo: 24 })!),
      half = mean(beamed({ core: 3, halo: 24 }, { width: 80, height: 45, scale: 0.5 })!);
    expect(half / whole).toBeGreaterThan(0.93);
    expect(half / whole).toBeLessThan(1.07);
    expect(beamed({}, {}, null)).toBeUndefined();
    expect(beamed({}, {}, standing(1, 1), null)).toBeUndefined();
    expect(beamed({ to: 'a place', place: [60, 0] }, {}, null)).toBeDefined();
    const facts = {
      name: 'Beam',
      clean: false,
      matte: false,
      mount: true,
      aim: false,
      element: false,
      pattern: false,
      cues: 0,
      lines: 0,
      values: { to: 'what it aims at' } as never,
    };
    expect(beam.checks!.find((c) => c.id === 'no-target')!.find(facts)?.text).toMatch(/aims at nothing/);
    expect(beam.checks!.find((c) => c.id === 'no-target')!.find({ ...facts, aim: true })).toBeNull();
  });
});

describe('flash', () => {
  test('rises, stands at its height, and has faded to 2 % in the frames that it says', () => {
    expect(flashAt(-1, 2, 4)).toBe(0);
    expect(flashAt(0, 0, 4)).toBe(1);
    expect(flashAt(4, 0, 4)).toBeCloseTo(0.0183, 4);
    expect(flashAt(1, 0, 4)).toBeCloseTo(Math.exp(-1), 6);
    expect(flashAt(1, 4, 4)).toBeLessThan(1);
    expect(flashAt(4, 4, 4)).toBe(1);
    expect(flashAt(1, 0, 0)).toBe(0);
  });
  test('lights the whole picture alike, or what lies about its mount', () => {
    const give = (stored: Record<string, StoredValue>, frameInRow: number) =>
      flash.render(
        draw({ frameInRow }),
        valuesOf(flash as unknown as Effect, { colour: '#ffffff', strength: 50, ...stored }),
        { mount: standing(40, 30) } as never,
        undefined as never,
      ).light;
    const light = give({ middle: 0 }, 0)!;
    expect([...new Set(light.data.filter((_, i) => (i & 3) < 3))]).toEqual([0.5]);
    expect(give({}, 200)).toBeUndefined();
    // With a hot middle it is brightest and whitest at its place, and the veil lies on the rest. The picture is of half the size.
    const hot = give({ colour: '#ff8000', middle: 60, reach: 30 }, 0)!,
      half = (x: number, y: number) => Array.from(hot.data.subarray(4 * (y * hot.width + x), 4 * (y * hot.width + x) + 3)),
      [middle, far] = [half(20, 15), half(70, 40)];
    expect(far[0]).toBeCloseTo(0.2, 5);
    expect(middle[0]!).toBeGreaterThan(2.5 * far[0]!);
    expect(middle[2]! / middle[0]!).toBeGreaterThan(far[2]! / far[0]! + 0.1);
    const round = give({ over: 'about the mount', reach: 30 }, 0)!;
    expect(at(round, 40, 30)).toBeGreaterThan(0.3);
    expect(at(round, 150, 80)).toBe(0);
  });
});

describe('fill', () => {
  test('is the colour in linear light times matte and amount, and runs to the other colour over its extent', () => {
    const matte = arena.takePlane(WIDTH, HEIGHT);
    matte.data.forEach((_, p) => (matte.data[p] = p % WIDTH < 80 ? 0.5 : 0));
    const give = (stored: Record<string, StoredValue>) =>
      fill.render(
        draw(),
        valuesOf(fill as unknown as Effect, { colour: '#ffffff', other: '#000000', ...stored }),
        { matte, mount: nothing(WIDTH, HEIGHT) } as never,
        undefined as never,
      ).layer!;
    const plain = give({ amount: 60 });
    expect(at(plain, 10, 10)).toBeCloseTo(0.3, 6);
    expect(plain.data[(10 * WIDTH + 10) * 4 + 3]).toBeCloseTo(0.3, 6);
    expect(at(plain, 100, 10)).toBe(0);
    const across = give({ amount: 100, through: 'everything', with: 'gradient across', direction: 0, extent: 80 });
    expect(at(across, 10, 10)).toBe(1);
    expect(at(across, 79, 10)).toBeCloseTo(0.5, 1);
    expect(at(across, 150, 10)).toBe(0);
    const outwards = give({ amount: 100, through: 'everything', with: 'gradient outwards', extent: 40, clear: 100 });
    expect(at(outwards, 79, 44)).toBeGreaterThan(0.95);
    expect(outwards.data[(44 * WIDTH + 150) * 4 + 3]).toBe(0);
  });
});

describe('blur', () => {
  test('keeps the light, and spreads it as its kind says', () => {
    const dot = () => {
        const p = arena.takePicture(WIDTH, HEIGHT);
        p.data.fill(0);
        for (let c = 0; c < 4; c++) p.data[(45 * WIDTH + 80) * 4 + c] = 100;
        return p;
      },
      give = (stored: Record<string, StoredValue>) =>
        blur.render(
          draw(),
          valuesOf(blur as unknown as Effect, stored),
          { below: dot(), mount: nothing(WIDTH, HEIGHT) } as never,
          undefined as never,
        ).changed!,
      sum = (p: Picture) => p.data.reduce((n, v) => n + v, 0) / 400;
    for (const kind of ['even', 'along']) expect(sum(give({ kind }))).toBeCloseTo(1, 2);
    const along = give({ kind: 'along', length: 20, direction: 0 });
    expect(at(along, 86, 45)).toBeGreaterThan(1);
    expect(at(along, 80, 51)).toBeLessThan(0.05);
    const even = give({ kind: 'even', radius: 8 });
    expect(at(even, 86, 45)).toBeCloseTo(at(even, 80, 51), 3);
  });
});

describe('ember', () => {
  const all = (stored: Record<string, StoredValue>, more: Partial<Draw<Fact>> = {}) =>
      ember.render(
        draw(more),
        valuesOf(ember as unknown as Effect, { flicker: 0, ...stored }, more.scale),
        { mount: standing(80, 45) } as never,
        undefined as never,
      ),
    give = (stored: Record<string, StoredValue>, more: Partial<Draw<Fact>> = {}) => all({ around: 0, surround: 0, ...stored }, more).light!;
  test('stands in a darker surround and lights what is about it; soft, it is strong in its middle alone', () => {
    const { light, shade } = all({ reach: 10, strength: 100, surround: 80, around: 100, ragged: 0 }),
      cover = (x: number, y: number) => shade!.data[(y * WIDTH + x) * 4 + 3]!;
    expect(cover(80, 45)).toBeGreaterThan(0.75);
    expect(cover(80, 45)).toBeLessThanOrEqual(0.8);
    expect(cover(92, 45)).toBeGreaterThan(0.1);
    expect(cover(101, 45)).toBe(0);
    expect(at(light!, 100, 45)).toBeGreaterThan(0.01);
    expect(at(light!, 116, 45)).toBeLessThan(0.005);
    const hard = give({ reach: 20, ragged: 0, soft: 0 }),
      soft = give({ reach: 20, ragged: 0, soft: 100 });
    expect(at(soft, 80, 45)).toBeCloseTo(at(hard, 80, 45), 1);
    expect(at(soft, 92, 45)).toBeLessThan(0.5 * at(hard, 92, 45));
    expect(all({ surround: 0 }).shade).toBeUndefined();
  });
  test('is hottest in its middle, ends within its reach, and is out where its gate is shut', () => {
    const light = give({ reach: 20, ragged: 60 });
    expect(at(light, 80, 45)).toBeGreaterThan(0.5);
    for (let p = 0; p < WIDTH * HEIGHT; p++) {
      const d = Math.hypot((p % WIDTH) + 0.5 - 80, Math.floor(p / WIDTH) + 0.5 - 45);
      if (d > 20 * 1.3) expect(light.data[p * 4]).toBe(0);
    }
    expect(give({ gate: 0 }).data.every((v) => v === 0)).toBe(true);
    const half = give({ gate: 50, reach: 20, ragged: 60 });
    expect(at(half, 80, 45)).toBeCloseTo(at(light, 80, 45) / 2, 5);
    expect(ember.idle!(valuesOf(ember as unknown as Effect, { gate: 0 }), 0, undefined as never)).toBe(true);
  });
  test('goes out while its track is lost, unless it is to stay', () => {
    const lost = (stored: Record<string, StoredValue>) =>
      ember.render(
        draw(),
        valuesOf(ember as unknown as Effect, stored),
        { mount: standing(80, 45, { certain: false, lost: true }) } as never,
        undefined as never,
      ).light;
    expect(lost({})).toBeUndefined();
    expect(at(lost({ lost: 'stays' })!, 80, 45)).toBeGreaterThan(0.3);
  });
  test('churns from frame to frame, two seeds differ, and a streak lies along its direction', () => {
    const first = give({ reach: 20 }),
      same = (a: Picture, b: Picture) => a.data.every((v, i) => v === b.data[i]);
    expect(same(give({ reach: 20 }), first)).toBe(true);
    expect(same(give({ reach: 20 }, { frame: 1011 }), first)).toBe(false);
    expect(same(give({ reach: 20, seed: 5 }), first)).toBe(false);
    const long = give({ reach: 8, streak: 300, ragged: 0 });
    expect(at(long, 100, 45)).toBeGreaterThan(0.05);
    expect(at(long, 80, 65)).toBe(0);
  });
});
