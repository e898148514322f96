import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { effectsDocument } from '../../tools/effectsDocument';
import { Arena, type Picture, type Plane } from '../image';
import { drawOn, nothing, standing } from '../../test/effects';
import type { Frame } from '../motion';
import { defaultsOf, effects, lanes, linearColour, storedAt, valuesAt, type Effect, type Layers, type StoredValue } from './index';

const arena = new Arena(96 * 2 ** 20);
afterEach(() => arena.reset());

const sizes: [number, number][] = [
  [1, 1],
  [2, 3],
  [37, 23],
  [64, 48],
];
const draw = (width: number, height: number, scale = 1) => drawOn(arena, width, height, { scale, traces: true });
const picture = (width: number, height: number): Picture => {
  const out = arena.takePicture(width, height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = i % 4 === 3 ? 1 : 0.1 + ((i * 7919) % 97) / 97;
  return out;
};
const plane = (width: number, height: number): Plane => {
  const out = arena.takePlane(width, height);
  for (let p = 0; p < out.data.length; p++) out.data[p] = p % width > width / 4 && p % width < (3 * width) / 4 ? 1 : 0;
  return out;
};
const pose = standing(20, 14);
const inputsFor = (e: Effect, width: number, height: number, mount: Frame | null, times: readonly number[] = []) =>
  Object.fromEntries(
    Object.entries(e.inputs).map(([name, input]) => {
      const w = input.size === 'quarter' ? Math.ceil(width / 4) : width,
        h = input.size === 'quarter' ? Math.ceil(height / 4) : height;
      return [
        name,
        input.kind === 'mount'
          ? (mount ?? nothing(width, height, e.origin))
          : input.kind === 'aim'
            ? mount
              ? standing(50, 30)
              : nothing(width, height)
            : input.kind === 'matte'
              ? plane(w, h)
              : input.kind === 'mattes'
                ? times.map(() => plane(w, h))
                : input.kind === 'plates' || input.kind === 'element'
                  ? (input.kind === 'plates' ? times : [0, 1]).map(() => picture(w, h))
                  : picture(w, h),
      ];
    }),
  );
/** Values with one parameter moved to an end of its range (or to one of its choices). */
function variants(e: Effect): Record<string, StoredValue>[] {
  const usual = defaultsOf(e.params),
    out = [usual];
  for (const [name, p] of Object.entries(e.params)) {
    if (p.range) for (const end of p.range) out.push({ ...usual, [name]: end });
    for (const choice of p.of ?? []) out.push({ ...usual, [name]: choice });
    if (p.kind === 'point')
      for (const at of [
        [-900, 4000],
        [0.5, 0.5],
      ] as [number, number][])
        out.push({ ...usual, [name]: at });
  }
  return out;
}
function run(e: Effect, stored: Record<string, StoredValue>, width: number, height: number, mount: Frame | null): Layers {
  const at = (frame: number, scale: number) =>
    valuesAt(e.params, 'progress' in stored ? { ...stored, progress: Math.min(100, frame * 30) } : stored, {}, frame, scale);
  let state: unknown = undefined;
  if (e.history) {
    state = e.history.start();
    for (let f = 1; f <= 2; f++)
      state = e.history.step(
        state as never,
        at(f, 1) as never,
        at(f - 1, 1) as never,
        inputsFor(e, width, height, mount) as never,
        draw(Math.ceil(width / 4), Math.ceil(height / 4), 0.25),
      );
  }
  const v = at(2, 1) as never,
    times = e.times?.(v, 1010, 1001, []) ?? [];
  return e.render(draw(width, height), v, inputsFor(e, width, height, mount, times) as never, state as never);
}
const rasters = (layers: Layers) => Object.entries(layers).filter((entry): entry is [string, Picture | Plane] => entry[1] !== undefined);

describe.each(Object.entries(effects))('%s', (type, e) => {
  test('describes itself wholly: known lanes, defaults within their ranges, handles that move what is there', () => {
    expect(e.type).toBe(type);
    expect(e.lanes.every((l) => lanes.includes(l))).toBe(true);
    for (const [name, p] of Object.entries(e.params)) {
      expect(p.title.length).toBeGreaterThan(1);
      if (typeof p.default === 'number' && p.range)
        expect([name, p.default >= p.range[0] && p.default <= p.range[1]]).toEqual([name, true]);
      if (p.of) expect(p.of).toContain(p.default);
      if (p.kind === 'colour') expect(p.default).toMatch(/^#[0-9a-f]{6}$/);
      if (p.when) expect(e.params[p.when.param]!.of).toEqual(expect.arrayContaining([...p.when.is]));
      // A length or an angle without a unit could not be read.
      if (['length', 'angle', 'share', 'point'].includes(p.kind)) expect(p.unit).toBeTruthy();
    }
    for (const h of e.handles ?? [])
      for (const key of ['moves', 'sets', 'turns', 'stretches', 'about', 'sizes'] as const)
        if (key in h) expect(Object.keys(e.params)).toContain((h as Record<string, string>)[key]);
    for (const name of e.history?.uses ?? []) expect(Object.keys(e.params)).toContain(name);
  });
  test.each(sizes)(
    'gives finite pictures of the right size at %i x %i, at every end of every parameter, with and without a mount',
    (width, height) => {
      for (const stored of variants(e))
        for (const mount of [pose, null]) {
          for (const [name, raster] of rasters(run(e, stored, width, height, mount))) {
            // Light is soft and may be of half the size.
            const half = name === 'light' && raster.width === (width + 1) >> 1 && raster.height === (height + 1) >> 1;
            if (!half) expect([name, raster.width, raster.height]).toEqual([name, width, height]);
            for (const v of raster.data) if (!Number.isFinite(v)) throw new Error(`${name} holds ${v} with ${JSON.stringify(stored)}`);
          }
          arena.reset();
        }
    },
  );
  test('the same values give the same bits', () => {
    const bits = () =>
      rasters(run(e, defaultsOf(e.params), 64, 48, pose)).map(([name, r]) => [
        name,
        Buffer.from(new Float32Array(r.data).buffer).toString('base64'),
      ]);
    const first = bits();
    arena.reset();
    expect(bits()).toEqual(first);
  });
});

test('values: shares become 0..1, colours linear, lengths and points follow the draft size; curves win over plain values', () => {
  const params = effects.glow!.params,
    stored = { ...defaultsOf(params), reach: 100, strength: 50, tint: '#808080', place: [10, -4] as [number, number] };
  const v = valuesAt(
    params,
    stored,
    {
      strength: {
        points: [
          { frame: 0, value: 0, ease: 'linear' },
          { frame: 10, value: 100, ease: 'linear' },
        ],
      },
    },
    5,
    0.5,
  ) as Record<string, unknown>;
  expect(v).toMatchObject({ reach: 50, strength: 0.5, place: [5, -2] });
  expect((v.tint as number[])[0]).toBeCloseTo(0.21586, 4);
  expect(linearColour('#ff0000')).toEqual([1, 0, 0]);
  expect(storedAt('place', [1, 2], { 'place.y': { points: [{ frame: 0, value: 9, ease: 'hold' }] } }, 3)).toEqual([1, 9]);
});

test('a glow on a mount has its middle on the mount, to a hundredth of a pixel, wherever that lies', () => {
  const e = effects.glow!;
  for (const at of [
    [32.37, 24.81],
    [30, 20.5],
  ] as const) {
    const { light } = run(e, { ...defaultsOf(e.params), reach: 8 }, 64, 48, standing(at[0], at[1]));
    let mass = 0,
      x = 0,
      y = 0;
    for (let p = 0; p < 64 * 48; p++) {
      const v = light!.data[p * 4]!;
      mass += v;
      x += v * ((p % 64) + 0.5);
      y += v * (Math.floor(p / 64) + 0.5);
    }
    expect(Math.hypot(x / mass - at[0], y / mass - at[1])).toBeLessThan(0.02);
    arena.reset();
  }
});

test('a displacement moves no pixel further than its strength and pulls no black in', () => {
  const e = effects.displace!,
    width = 64,
    height = 48;
  for (const by of ['heat haze', 'ripple', 'shock ring'] as const)
    for (const edge of ['mirror', 'hold'] as const) {
      const below = arena.takePicture(width, height);
      for (let p = 0; p < width * height; p++) below.data.set([(p % width) + 0.5, Math.floor(p / width) + 0.5, 1, 1], p * 4);
      const v = valuesAt(e.params, { ...defaultsOf(e.params), by, edge, strength: 5, size: 11, radius: 0 }, {}, 0, 1);
      const { changed } = e.render(draw(width, height), v as never, { below, mount: pose } as never, undefined as never);
      let most = 0;
      for (let y = 6; y < height - 6; y++)
        for (let x = 6; x < width - 6; x++) {
          const o = (y * width + x) * 4;
          most = Math.max(most, Math.hypot(changed!.data[o]! - x - 0.5, changed!.data[o + 1]! - y - 0.5));
        }
      expect(most).toBeGreaterThan(1.5);
      expect(most).toBeLessThanOrEqual(5 * 1.41);
      for (let p = 0; p < width * height; p++) expect(changed!.data[p * 4 + 2]).toBeCloseTo(1, 5);
      arena.reset();
    }
});

test('a shock ring runs outwards from the first frame on, pushes outwards, fades, and is gone at its radius', () => {
  const e = effects.displace!,
    at = (frameInRow: number) => {
      const below = arena.takePicture(128, 96);
      for (let p = 0; p < 128 * 96; p++) below.data.set([(p % 128) + 0.5, Math.floor(p / 128) + 0.5, 1, 1], p * 4);
      const stored = { by: 'shock ring', strength: 6, size: 8, speed: 4, radius: 60 },
        v = valuesAt(e.params, { ...defaultsOf(e.params), ...stored }, {}, 0, 1),
        read = { below, mount: standing(64, 48) },
        { changed } = e.render({ ...draw(128, 96), frameInRow } as never, v as never, read as never, undefined as never),
        // How far each pixel to the right of the middle was taken from the left.
        pushed = Array.from({ length: 60 }, (_, i) => 64 + i + 0.5 - changed!.data[(48 * 128 + 64 + i) * 4]!),
        most = pushed.reduce((best, v, i) => (v > pushed[best]! ? i : best), 0);
      arena.reset();
      return { most, push: pushed[most]! };
    };
  const [early, late] = [at(3), at(9)];
  expect(Math.abs(early.most - 16)).toBeLessThan(2);
  expect(Math.abs(late.most - 40)).toBeLessThan(2);
  expect(early.push).toBeGreaterThan(late.push + 1);
  expect(early.push).toBeLessThanOrEqual(6);
  expect(at(20).push).toBeLessThan(0.01);
});

test('a displacement around a subject moves it wholly, eases out and stands still beyond; beyond the edge the clean plate may show', () => {
  const e = effects.displace!,
    [width, height] = [160, 96],
    matte = arena.takePlane(width, height),
    below = arena.takePicture(width, height),
    clean = arena.takePicture(width, height),
    moves = (stored: object) => {
      const v = valuesAt(e.params, { ...defaultsOf(e.params), by: 'ripple', strength: 6, size: 12, radius: 0, ...stored }, {}, 0, 1),
        { changed } = e.render(draw(width, height), v as never, { below, mount: pose, matte, clean } as never, undefined as never);
      return changed!.data;
    },
    most = (data: Float32Array<ArrayBufferLike>, x0: number, x1: number) => {
      let far = 0;
      for (let y = 8; y < height - 8; y++)
        for (let x = x0; x < x1; x++) {
          const o = (y * width + x) * 4;
          far = Math.max(far, Math.hypot(data[o]! - x - 0.5, data[o + 1]! - y - 0.5));
        }
      return far;
    };
  for (let p = 0; p < width * height; p++) {
    const x = p % width;
    matte.data[p] = x >= 70 && x < 90 ? 1 : 0;
    below.data.set([x + 0.5, Math.floor(p / width) + 0.5, 1, 1], 4 * p);
    clean.data.set([-5, -5, -5, 1], 4 * p);
  }
  const free = moves({}),
    limited = moves({ aroundBody: 30 });
  expect(most(limited, 72, 88)).toBeCloseTo(most(free, 72, 88), 1);
  expect(most(limited, 92, 110)).toBeLessThan(most(free, 92, 110));
  expect(most(limited, 92, 110)).toBeGreaterThan(0.2);
  expect(most(limited, 128, 152)).toBeLessThan(0.02);
  expect(most(free, 128, 152)).toBeGreaterThan(2);
  // Away from the edges nothing of the clean plate shows, at them it does instead of what mirrors.
  const shown = moves({ edge: 'clean plate' });
  let edge = 0;
  for (let p = 0; p < width * height; p++) {
    const [x, y] = [p % width, Math.floor(p / width)];
    if (shown[4 * p + 2]! > 0.999) continue;
    edge++;
    expect(Math.min(x, y, width - 1 - x, height - 1 - y)).toBeLessThan(6);
  }
  expect(edge).toBeGreaterThan(20);
});

describe('a displacement by a matte', () => {
  const e = effects.displace!,
    /** Where each pixel of a coordinate picture was taken from, red, green and blue apart. */
    taken = (stored: object, pattern: ((x: number, y: number) => number) | null) => {
      const below = arena.takePicture(96, 64);
      for (let p = 0; p < 96 * 64; p++) below.data.set([(p % 96) + 0.5, (p % 96) + 0.5, (p % 96) + 0.5, 1], p * 4);
      const plane = arena.takePlane(96, 64);
      for (let p = 0; p < 96 * 64; p++) plane.data[p] = pattern ? pattern(p % 96, Math.floor(p / 96)) : 0;
      const v = valuesAt(e.params, { ...defaultsOf(e.params), by: 'a matte', strength: 6, size: 16, radius: 0, ...stored }, {}, 0, 1),
        { changed } = e.render(
          draw(96, 64),
          v as never,
          { below, mount: pose, pattern: pattern ? plane : null } as never,
          undefined as never,
        ),
        out = changed && ([0, 1, 2].map((c) => changed.data[(32 * 96 + 48) * 4 + c]! - 48.5) as [number, number, number]);
      arena.reset();
      return out;
    };
  const ramp = (x: number) => Math.min(1, Math.max(0, (x - 40) / 16));

  test('goes by its slopes: a rise over the wavelength moves by the strength, an even matte by nothing', () => {
    expect(taken({}, ramp)![0]).toBeCloseTo(6, 0);
    expect(taken({}, () => 0.7)![0]).toBeCloseTo(0, 5);
    expect(taken({}, (x) => (x < 48 ? 0 : 1))![0]).toBeLessThanOrEqual(6);
    expect(taken({}, null)).toBeUndefined();
  });
  test('moves by each axis as much as it says, and blue more than red where it disperses', () => {
    expect(taken({ sideways: 50 }, ramp)![0]).toBeCloseTo(taken({}, ramp)![0] / 2, 2);
    expect(taken({ sideways: 0 }, ramp)![0]).toBeCloseTo(0, 5);
    const [red, green, blue] = taken({ dispersion: 40 }, ramp)!;
    expect(red / green).toBeCloseTo(0.8, 1);
    expect(blue / green).toBeCloseTo(1.2, 1);
  });
});

test('docs/effects.md says what the descriptions say', () => {
  expect(readFileSync(join(process.cwd(), 'docs', 'effects.md'), 'utf8')).toBe(effectsDocument());
});
