import { drawOn, give, resized, standing } from '../../test/effects';
import { Arena, type Picture, type Plane } from '../image';
import { emptyPlane } from '../image/planeMath';
import { AffineFrame, type Frame, type Point } from '../motion';
import { defaultsOf, effects, valuesAt, type Effect, type StoredValue } from './index';

/** Effects on mounts that are turned, scaled and slanted: what hangs on a body goes with it. */
const arena = new Arena(128 * 2 ** 20);
afterEach(() => arena.reset());
const SIDE = 120,
  MID = SIDE / 2;

/** A body that is no square and has no symmetry, turned about the middle by quarters. */
function matteOf(quarters: number, side = SIDE): Plane {
  const out = arena.takePlane(side, side),
    k = SIDE / side;
  for (let y = 0, p = 0; y < side; y++)
    for (let x = 0; x < side; x++, p++) {
      let u = (x + 0.5) * k - MID,
        v = (y + 0.5) * k - MID;
      for (let i = 0; i < quarters; i++) [u, v] = [v, -u];
      out.data[p] = u > -14 && u < 22 && v > -30 && v < 34 ? 1 : 0;
    }
  return out;
}
/** A picture of a few soft lights, turned about the middle by quarters. */
function plateOf(quarters: number, side = SIDE): Picture {
  const out = arena.takePicture(side, side),
    k = SIDE / side;
  for (let y = 0, p = 0; y < side; y++)
    for (let x = 0; x < side; x++, p += 4) {
      let u = (x + 0.5) * k - MID,
        v = (y + 0.5) * k - MID;
      for (let i = 0; i < quarters; i++) [u, v] = [v, -u];
      const light = Math.max(0, 1 - Math.hypot(u - 20, v + 11) / 16) + 0.5 * Math.max(0, 1 - Math.hypot(u + 25, v - 18) / 22);
      out.data.set([0.1 + light, 0.1 + 0.6 * light, 0.2, 1], p);
    }
  return out;
}
const readOf = (e: Effect, quarters: number, mount: Frame, aim: Frame, times: readonly number[] = []) =>
  Object.fromEntries(
    Object.entries(e.inputs).map(([name, { kind, size }]) => {
      const side = size === 'quarter' ? SIDE / 4 : SIDE;
      return [
        name,
        kind === 'mount'
          ? mount
          : kind === 'aim'
            ? aim
            : kind === 'matte'
              ? // Flames rise in the world; the ring of an aura lies on its mount.
                e.type === 'aura'
                ? emptyPlane(side, side, arena)
                : matteOf(quarters, side)
              : kind === 'mattes'
                ? times.map(() => matteOf(quarters))
                : kind === 'plates'
                  ? times.map(() => plateOf(quarters))
                  : kind === 'moment'
                    ? // What is carried brings its own picture, which does not turn with the mount.
                      plateOf(0)
                    : kind === 'element'
                      ? null
                      : plateOf(quarters, side),
      ];
    }),
  );

/**
 * Values under which a picture turns exactly with its body. Air, gravity, haze, a lens and flames that rise belong to the world and stay upright; dots of
 * a draft's random births are counted instead of compared.
 */
const turning: Record<string, Record<string, StoredValue>> = {
  flash: { over: 'about the mount', reach: 30, place: [9, 4], fall: 400 },
  glow: { from: 'mount', reach: 30, place: [9, 4] },
  // The light that it throws stays round, as light in air does.
  ember: { reach: 22, place: [6, -3], streak: 60, direction: 25, flicker: 0, around: 0 },
  arcs: { reach: 40, cell: 14, halo: 6, place: [5, 3], skin: 'flat' },
  beam: { to: 'a place', place: [38, 12], start: [-8, 5], bend: 9, flutter: 0, halo: 16, impact: 12, breath: 0 },
  bolt: { to: 'a place', place: [38, 12], start: [-8, 5], halo: 8, flash: 0 },
  ring: { radius: 26, place: [6, -4], tilt: -50, swing: 20, spin: 0, ragged: 0, halo: 8, drawnTo: 70 },
  element: { size: 60, turn: 20, pivot: [-10, 14], place: [6, -9], swing: 25, tilt: -30 },
  fill: { with: 'gradient across', through: 'everything', place: [8, 3], extent: 60, direction: 30, clear: 80 },
  aura: { stretch: 6, ring: 24, ringAt: [4, 10] },
  displace: { by: 'ripple', strength: 3, size: 12, radius: 45, place: [6, 2] },
  blur: { kind: 'along', length: 9, direction: 0 },
  'after-images': { kind: 'same pose', count: 3, shift: [12, 5], soft: 0 },
  dissolve: { progress: 45, extent: 90, ragged: 8, raggedSize: 12, density: 0, from: [3, -8], rim: 3, char: 0, rimStrength: 0 },
  materialise: { progress: 45, extent: 90, ragged: 8, raggedSize: 12, motes: 0, from: [3, -8], direction: 40 },
};
/** Largest difference between a picture and another one that is a quarter turn further about the middle, by channel. */
function turnedApart(first: Picture | Plane, turned: Picture | Plane): number {
  const channels = first.kind === 'picture' ? 4 : 1,
    w = first.width;
  let most = 0;
  for (let y = 0; y < w; y++)
    for (let x = 0; x < w; x++)
      for (let c = 0; c < channels; c++) {
        // A quarter turn clockwise: (x, y) goes to (w - 1 - y, x).
        const a = first.data[(y * w + x) * channels + c]!,
          b = turned.data[(x * w + (w - 1 - y)) * channels + c]!;
        most = Math.max(most, Math.abs(a - b));
      }
  return most;
}

describe('a quarter turn of its mount turns the whole picture of an effect', () => {
  test.each(Object.entries(turning))('%s', (type, stored) => {
    const e = effects[type]!,
      draw = drawOn(arena, SIDE, SIDE, { frameInRow: 30, frame: 1031 }),
      times = [1031],
      at = (quarters: number) =>
        give(
          e,
          stored,
          readOf(e, quarters, AffineFrame.turned(MID, MID, 90 * quarters, 1), AffineFrame.turned(MID, MID, 90 * quarters, 1), times),
          draw,
          e.history?.start(),
        ),
      upright = at(0),
      turned = at(1),
      names = (['changed', 'layer', 'light', 'removal'] as const).filter((name) => upright[name]?.data.some((v) => v !== 0));
    expect(names.length).toBeGreaterThan(0);
    for (const name of names) {
      const a = upright[name]!,
        size = a.data.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
      expect(turnedApart(a, turned[name]!)).toBeLessThan(0.02 * size);
    }
  });
  test('every effect that hangs on a mount is in the list, or is one of the world', () => {
    // What holds a body still takes its turn out: nothing of it is left to turn.
    const world = ['emitter', 'flare', 'grade', 'grain', 'steady'];
    expect(Object.keys(effects).filter((type) => !turning[type] && !world.includes(type))).toEqual([]);
  });
});

test('light on a grown body is that of the body: twice as far away, the same value', () => {
  const e = effects.ember!,
    set = { reach: 14, place: [5, -4], flicker: 0 } as Record<string, StoredValue>,
    draw = drawOn(arena, SIDE, SIDE),
    one = give(e, set, { mount: standing(MID, MID) }, draw).light!,
    two = give(e, set, { mount: AffineFrame.turned(MID, MID, 0, 2) }, draw).light!,
    at = (p: Picture, x: number, y: number) => p.data[(y * SIDE + x) * 4]!;
  // Where four pixels of the large one meet lies a pixel's middle of the small one.
  for (let y = -14; y < 10; y++)
    for (let x = -10; x < 20; x++) {
      const big = [0, 1].flatMap((j) => [0, 1].map((i) => at(two, MID + 2 * x + i, MID + 2 * y + j)));
      expect(Math.abs(at(one, MID + x, MID + y) - (big[0]! + big[1]! + big[2]! + big[3]!) / 4)).toBeLessThan(0.06);
    }
});

test('on a slanted body, lights stand where their place stands on the picture', () => {
  const slanted = new AffineFrame(50, 62, [1.2, 0.1, 0.4, 0.8]),
    draw = drawOn(arena, SIDE, SIDE),
    place: Point = [12, -9],
    [x, y] = slanted.toPicture(place);
  for (const [type, stored] of Object.entries({
    glow: { from: 'mount', reach: 12 },
    flash: { over: 'about the mount', reach: 12 },
    ember: { reach: 9, ragged: 0, flicker: 0, around: 0 },
  } as Record<string, Record<string, StoredValue>>)) {
    const light = give(effects[type], { ...stored, place: [...place] as [number, number] }, { mount: slanted }, draw).light!;
    let mass = 0,
      mx = 0,
      my = 0;
    for (let p = 0; p < SIDE * SIDE; p++) {
      mass += light.data[p * 4]!;
      mx += light.data[p * 4]! * ((p % SIDE) + 0.5);
      my += light.data[p * 4]! * (Math.floor(p / SIDE) + 0.5);
    }
    expect(Math.hypot(mx / mass - x, my / mass - y)).toBeLessThan(0.05);
  }
});

test('particles leave a turned and grown body in its own direction, and those that ride turn and grow with it', () => {
  const e = effects.emitter!,
    still = { wind: 0, turbulence: 0, gusts: 0, gravity: 0, settle: 0.02, carries: 0, lifeVariation: 0, life: 200, speedVariation: 0 },
    run = (stored: Record<string, StoredValue>, frames: readonly Frame[]) => {
      const v = valuesAt(e.params, { ...defaultsOf(e.params), ...still, ...stored }, {}, 0, 1);
      let state = e.history!.start();
      frames.forEach((mount, f) => {
        const draw = drawOn(arena, SIDE / 4, SIDE / 4, { scale: 0.25, frame: 1001 + f, frameInRow: f });
        state = e.history!.step(state, v as never, v as never, resized({ mount, smallMatte: null, smallPlate: null }, 1), draw);
      });
      return (
        state as { flakes: { count: number; x: ArrayLike<number>; y: ArrayLike<number>; vx: ArrayLike<number>; vy: ArrayLike<number> } }
      ).flakes;
    };
  const flown = run({ rate: 0, burst: 40, from: 'point', direction: 0, spread: 0, speed: 1 }, [AffineFrame.turned(MID, MID, 90, 1)]);
  for (let i = 0; i < flown.count; i++) {
    expect(flown.vy[i]!).toBeGreaterThan(0.5);
    expect(Math.abs(flown.vx[i]!)).toBeLessThan(0.01);
  }
  const riding = { rate: 0, burst: 60, from: 'ellipse', reach: 20, speed: 0, after: 'rides on the mount' },
    before = run(riding, [standing(MID, MID)]),
    after = run(riding, [standing(MID, MID), AffineFrame.turned(MID + 10, MID, 90, 1.5)]);
  for (let i = 0; i < before.count; i++) {
    expect(after.x[i]!).toBeCloseTo(MID + 10 - 1.5 * (before.y[i]! - MID), 0);
    expect(after.y[i]!).toBeCloseTo(MID + 1.5 * (before.x[i]! - MID), 0);
  }
});
