import { Arena, type Picture, type Plane } from '../image';
import type { Thrower } from './gains';
import { feetOf, groundLight } from './ground';
import { standsOut, surfaceOf } from './roundness';
import { lightThings } from './things';
import { thrownBy } from './thrown';

const arena = new Arena(96 * 2 ** 20);
afterEach(() => arena.reset());
const plane = (width: number, height: number, value: (x: number, y: number) => number): Plane => {
  const out = arena.takePlane(width, height);
  for (let y = 0, p = 0; y < height; y++) for (let x = 0; x < width; x++, p++) out.data[p] = value(x + 0.5, y + 0.5);
  return out;
};
const picture = (width: number, height: number, value: (x: number, y: number) => readonly number[]): Picture => {
  const out = arena.takePicture(width, height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i += 4) out.data.set(value(x + 0.5, y + 0.5), i);
  return out;
};
const disc = (size: number, radius: number) => (x: number, y: number) => (Math.hypot(x - size / 2, y - size / 2) < radius ? 1 : 0);
const TAU = 2 * Math.PI;

describe('the shape of a body', () => {
  test.each([
    [64, 10],
    [160, 50],
    [256, 110],
  ])('a disc in %i cells, radius %i, stands out as a sphere does', (size, radius) => {
    const u = standsOut(plane(size, size, disc(size, radius)));
    for (const part of [0, 0.3, 0.6, 0.85]) {
      const x = Math.floor(size / 2 + part * radius),
        r = Math.hypot(x + 0.5 - size / 2, 0.5),
        // The edge is zero in the middle of the first cell outside.
        height = Math.sqrt((radius + 0.5) * (radius + 0.5) - r * r);
      expect(Math.abs(Math.sqrt(u[(size / 2) * size + x]!) / height - 1)).toBeLessThan(radius < 20 ? 0.1 : 0.04);
    }
    expect(u[0]).toBe(0);
  });

  test('its surface looks the way a sphere’s does, to a few degrees', () => {
    const size = 160,
      radius = 50,
      surface = surfaceOf(plane(size, size, disc(size, radius)), null, arena);
    for (const [x, y] of [
      [80, 80],
      [100, 80],
      [80, 55],
      [55, 100],
      [110, 110],
    ] as const) {
      const nx = (x + 0.5 - 80) / radius,
        ny = (y + 0.5 - 80) / radius,
        nz = Math.sqrt(1 - nx * nx - ny * ny),
        i = (y * size + x) * 4,
        [gx, gy, gz] = surface.data.slice(i, i + 3);
      expect((Math.acos(Math.min(1, nx * gx! + ny * gy! + nz * gz!)) * 360) / TAU).toBeLessThan(4);
      expect(Math.hypot(gx!, gy!, gz!)).toBeCloseTo(1, 5);
    }
  });

  test('folds of the picture tilt it, and the edge of the picture does not round it', () => {
    const matte = plane(80, 60, (x) => (x > 20 && x < 60 ? 1 : 0)),
      folded = surfaceOf(
        matte,
        picture(80, 60, (x) =>
          Array<number>(3)
            .fill(0.2 + 0.1 * Math.sin(x / 2))
            .concat(1),
        ),
        arena,
      ),
      plain = surfaceOf(matte, null, arena),
      row = (p: Picture, y: number) => Array.from({ length: 80 }, (_, x) => p.data[(y * 80 + x) * 4]!);
    const tilt = row(folded, 30).map((v, x) => v - row(plain, 30)[x]!);
    expect(Math.max(...tilt.slice(25, 55))).toBeGreaterThan(0.1);
    expect(Math.min(...tilt.slice(25, 55))).toBeLessThan(-0.1);
    // A limb that the frame cuts off goes on beyond it.
    expect(plain.data[(0 * 80 + 40) * 4 + 1]).toBeCloseTo(0, 1);
    expect(row(plain, 0)[30]).toBeCloseTo(row(plain, 30)[30]!, 1);
  });
});

describe('light that is thrown', () => {
  test.each([2, 5, 10])('falls off by the inverse square from a lamp %i cells away, and comes from its side', (z) => {
    const size = 128,
      lamp = picture(size, size, (x, y) => (Math.floor(x) === 64 && Math.floor(y) === 64 ? [1, 0.5, 0, 0] : [0, 0, 0, 0])),
      { facing, potential } = thrownBy(lamp, z, arena);
    for (const d of [0, 3, 6, 10, 16, 24]) {
      const i = (64 * size + 64 + d) * 4,
        exact = z / (TAU * Math.pow(d * d + z * z, 1.5));
      expect(Math.abs(facing.data[i]! / exact - 1)).toBeLessThan(0.15);
      expect(facing.data[i + 1]! / facing.data[i]!).toBeCloseTo(0.5, 4);
      if (d === 0) continue;
      const across = (potential.data[i + 4]! - potential.data[i - 4]!) / 2,
        side = -d / (TAU * Math.pow(d * d + z * z, 1.5));
      expect(Math.abs(across / side - 1)).toBeLessThan(0.25);
    }
  });

  test('a sky that is as bright everywhere gives its own brightness, but for what is very far', () => {
    const { facing } = thrownBy(
      picture(96, 96, () => [0.4, 0.4, 0.4, 0]),
      4,
      arena,
    );
    expect(facing.data[(48 * 96 + 48) * 4]! / 0.4).toBeGreaterThan(0.85);
    expect(facing.data[(48 * 96 + 48) * 4]! / 0.4).toBeLessThan(1.02);
  });

  test('a lamp over level ground is brightest below it, and falls off as it does there', () => {
    const feet = 60,
      lamp = picture(160, 90, (x, y) => (Math.abs(x - 82) < 2 && Math.abs(y - 38) < 2 ? [1, 1, 1, 0] : [0, 0, 0, 0])),
      ground = groundLight(lamp, feet, 40, 0, arena),
      at = (x: number, y: number) => ground.data[(y * 160 + x) * 4]!;
    const hangs = feet - 38,
      exact = (dx: number) => (16 * hangs) / (TAU * Math.pow(dx * dx + hangs * hangs, 1.5));
    for (const dx of [0, 12, 24, 40]) expect(Math.abs(at(82 + dx, feet) / exact(dx) - 1)).toBeLessThan(0.16);
    // Further back in the picture is further away in depth, and above the horizon is no ground.
    expect(at(82, feet + 6)).toBeLessThan(at(82, feet));
    expect(at(82, feet - 8)).toBeLessThan(0.6 * at(82, feet));
    expect(at(82, 20)).toBe(0);
    const forward = groundLight(lamp, feet, 40, 20, arena);
    expect(forward.data[((feet + 6) * 160 + 82) * 4]).toBeGreaterThan(at(82, feet + 6));
  });

  test('feet stand where the coverage ends; a body that the picture cuts off has none', () => {
    expect(feetOf(plane(40, 40, (x, y) => (x > 10 && x < 20 && y > 5 && y < 31 ? 1 : 0)))).toBe(31);
    expect(feetOf(plane(40, 40, (x) => (x > 10 && x < 20 ? 1 : 0)))).toBeNull();
    expect(feetOf(plane(40, 40, () => 0))).toBeNull();
  });
});

describe('a picture in light', () => {
  const WIDTH = 320,
    HEIGHT = 240,
    inBody = (x: number, y: number) => Math.hypot(x - 160, y - 120) < 50,
    given = (light: (x: number, y: number) => readonly number[], more: Partial<Thrower>, level = 0.1) => {
      const below = picture(WIDTH, HEIGHT, () => [level, level, level, 1]),
        out = lightThings(
          below,
          picture(WIDTH, HEIGHT, light),
          { surround: 0, onSubject: 0, onGround: 0, inAir: 0, away: 30, ...more },
          { subject: plane(WIDTH, HEIGHT, (x, y) => (inBody(x, y) ? 1 : 0)), tall: 100, scale: 1 },
          arena,
        );
      return (x: number, y: number, c = 0) => out.data[(y * WIDTH + x) * 4 + c]!;
    },
    /** A lamp to the right of the body. */
    lamp = (x: number, y: number) => (Math.hypot(x - 250, y - 120) < 8 ? [1, 0.4, 0.1, 0] : [0, 0, 0, 0]);

  test('nothing changes where nothing is thrown, and nothing outside of what is lit', () => {
    const at = given(lamp, { onSubject: 1 });
    for (const [x, y] of [
      [10, 10],
      [250, 120],
      [300, 200],
    ] as const)
      expect(at(x, y)).toBeCloseTo(0.1, 6);
    const none = given(lamp, {});
    for (let y = 0; y < HEIGHT; y += 7) for (let x = 0; x < WIDTH; x += 7) expect(none(x, y)).toBeCloseTo(0.1, 6);
  });

  test('a body is lit on the side of the lamp, in its colour, and hardly on the other', () => {
    const at = given(lamp, { onSubject: 1 });
    expect(at(200, 120)).toBeGreaterThan(0.12);
    expect(at(200, 120) - 0.1).toBeGreaterThan(6 * (at(120, 120) - 0.1));
    expect((at(200, 120, 1) - 0.1) / (at(200, 120) - 0.1)).toBeCloseTo(0.4, 1);
    expect(at(200, 120, 3)).toBeCloseTo(1, 5);
    // A dark plate is lit as a bright one: relative to itself.
    const dark = given(lamp, { onSubject: 1 }, 0.05);
    expect(dark(200, 120) - 0.05).toBeCloseTo(at(200, 120) - 0.1, 3);
  });

  test('light before a body falls on its middle, light behind it on its rim alone', () => {
    const over = (x: number, y: number) => (Math.hypot(x - 160, y - 120) < 8 ? [1, 1, 1, 0] : [0, 0, 0, 0]),
      wide = (x: number, y: number) => (Math.abs(Math.hypot(x - 160, y - 120) - 56) < 4 ? [1, 1, 1, 0] : [0, 0, 0, 0]),
      before = given(over, { onSubject: 1 }),
      behind = given(over, { onSubject: 1, away: -30 }),
      rim = given(wide, { onSubject: 1, away: -20 });
    expect(before(160, 120)).toBeGreaterThan(0.15);
    expect(behind(160, 120) - 0.1).toBeLessThan(0.1 * (before(160, 120) - 0.1));
    expect(rim(206, 120)).toBeGreaterThan(0.11);
    expect(rim(206, 120) - 0.1).toBeGreaterThan(4 * (rim(160, 120) - 0.1));
  });

  test('ground, air and the darker surround: each does its own part', () => {
    const ground = given(lamp, { onGround: 1 });
    expect(ground(240, 176)).toBeGreaterThan(0.101);
    expect(ground(160, 120)).toBeCloseTo(0.1, 6);
    const air = given(lamp, { inAir: 0.5 });
    expect(air(250, 90)).toBeGreaterThan(air(250, 40));
    expect(air(250, 90, 3)).toBeCloseTo(1, 6);
    const dusk = given(lamp, { surround: 0.6 }, 0.02),
      day = given(lamp, { surround: 0.6 }, 0.8);
    expect(dusk(250, 120)).toBeCloseTo(0.02, 6);
    expect(day(250, 120)).toBeLessThan(0.7);
    // Its own colour is darkened least, and far from the light nothing is.
    expect(day(250, 120)).toBeGreaterThan(day(250, 120, 2));
    expect(day(40, 120)).toBeCloseTo(0.8, 5);
  });

  test('the same in half of the size, and no number is lost at extremes', () => {
    const whole = given(lamp, { onSubject: 1, onGround: 1, inAir: 0.2 }, 0.2);
    const half = lightThings(
      picture(160, 120, () => [0.2, 0.2, 0.2, 1]),
      picture(160, 120, (x, y) => lamp(2 * x, 2 * y)),
      { surround: 0, onSubject: 1, onGround: 1, inAir: 0.2, away: 15 },
      { subject: plane(160, 120, (x, y) => (inBody(2 * x, 2 * y) ? 1 : 0)), tall: 50, scale: 0.5 },
      arena,
    );
    for (const [x, y] of [
      [190, 120],
      [170, 100],
      [260, 180],
    ] as const)
      expect(Math.abs(half.data[((y >> 1) * 160 + (x >> 1)) * 4]! - whole(x, y))).toBeLessThan(0.02);
    const wild = given(() => [1e6, 0, 1e-9, 0], { surround: 1, onSubject: 8, onGround: 8, inAir: 4, away: 0.01 }, 0);
    for (let y = 0; y < HEIGHT; y += 5) for (let x = 0; x < WIDTH; x += 5) expect(Number.isFinite(wild(x, y))).toBe(true);
  });
});
