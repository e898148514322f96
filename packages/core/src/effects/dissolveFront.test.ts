import { drawOn, give, standing } from '../../test/effects';
import { Arena, type Picture, type Plane } from '../image';
import { newFlakes, noFlakes, packFlakes } from '../particles';
import { clothEdges } from './clothEdges';
import { dissolve } from './dissolve';
import { feetOf, layGroundShadow } from './groundShadow';
import type { StoredValue } from './index';

const arena = new Arena(128 * 2 ** 20),
  [W, H] = [160, 120];
afterEach(() => arena.reset());
const inBody = (x: number, y: number) => x >= 40 && x < 120 && y >= 20 && y < 100,
  body = (): Plane => {
    const out = arena.takePlane(W, H);
    for (let k = 0; k < W * H; k++) out.data[k] = +inBody(k % W, Math.floor(k / W));
    return out;
  },
  /** Cloth with an upright dark fold of 12 px at its middle. */
  folded = (light = 0.3): Picture => {
    const out = arena.takePicture(W, H);
    for (let k = 0; k < W * H; k++) {
      const v = Math.abs((k % W) - 80) < 6 ? light / 6 : light;
      out.data.set([v, v, v, 1], 4 * k);
    }
    return out;
  },
  run = (more: Record<string, StoredValue>) =>
    give(
      dissolve,
      {
        ...{ progress: 50, shape: 'direction', direction: 90, from: [0, -40], extent: 80, ragged: 30, raggedSize: 400, rim: 0.5, char: 0 },
        ...{ rimStrength: 0, fallen: 0, ...more },
      },
      { matte: body(), plate: folded(), mount: standing(80, 60) },
      drawOn(arena, W, H, { subjectPixels: 80 }),
      noFlakes(),
    );
const gone = (removal: Plane, x0: number, x1: number) => {
  let sum = 0;
  for (let y = 20; y < 100; y++) for (let x = x0; x < x1; x++) sum += removal.data[y * W + x]!;
  return sum / (x1 - x0);
};

test('folds are told by what is around them on the body, alike in bright and in dim light, and nothing beside it', () => {
  const quarter = (light: number) => {
      const plate = arena.takePicture(W / 4, H / 4),
        matte = arena.takePlane(W / 4, H / 4);
      for (let k = 0; k < matte.data.length; k++) {
        const [x, y] = [(k % (W / 4)) * 4, Math.floor(k / (W / 4)) * 4],
          v = Math.abs(x - 78) < 6 ? light / 6 : light;
        matte.data[k] = +inBody(x, y);
        // What stands behind the body is brighter than anything on it.
        plate.data.set(inBody(x, y) ? [v, v, v, 1] : [1, 1, 1, 1], 4 * k);
      }
      return clothEdges(plate, matte, arena);
    },
    [bright, dim] = [quarter(0.3), quarter(0.003)],
    at = (p: Plane, x: number, y: number) => p.data[(y >> 2) * (W / 4) + (x >> 2)]!;
  expect(at(bright, 80, 60)).toBeLessThan(-0.4);
  expect(at(bright, 62, 60)).toBeGreaterThan(0.1);
  for (const x of [44, 60, 80, 104]) expect(at(dim, x, 60)).toBeCloseTo(at(bright, x, 60), 3);
  // The rim of the body is no fold, though what is behind it is brighter by far.
  expect(Math.abs(at(bright, 41, 60) - at(bright, 62, 60))).toBeLessThan(0.25);
  expect(at(bright, 20, 60)).toBe(0);
  expect(Math.max(...bright.data.map(Math.abs))).toBeLessThanOrEqual(1);
});
test('a front that follows the picture goes through a dark fold first, one that does not goes evenly', () => {
  const ahead = (follow: number) => {
    const { removal } = run({ follow });
    return gone(removal!, 76, 84) - gone(removal!, 56, 64);
  };
  expect(Math.abs(ahead(0))).toBeLessThan(4);
  expect(ahead(100)).toBeGreaterThan(ahead(0) + 8);
});
test.each([
  [0, 'nothing'],
  [100, 'all'],
])('at %i %% progress %s of the body has gone, however the front follows the picture and the body gives way', (progress, what) => {
  for (const gives of ['burns', 'thins', 'blurs', 'smears']) {
    const { removal } = run({ progress, follow: 100, gives, givesWidth: 30 });
    let [least, most] = [1, 0];
    for (let y = 22; y < 98; y++)
      for (let x = 42; x < 118; x++) {
        least = Math.min(least, removal!.data[y * W + x]!);
        most = Math.max(most, removal!.data[y * W + x]!);
      }
    if (what === 'nothing') expect(most).toBe(0);
    else expect(least).toBeGreaterThan(0.99);
  }
});
test('the body at the front thins before it goes; blurred it keeps its light; smeared it goes out past its side with the wind', () => {
  const sum = (p: Picture, x0 = 0, x1 = W, c = 3) => {
      let n = 0;
      for (let k = 0; k < W * H; k++) if (k % W >= x0 && k % W < x1) n += p.data[4 * k + c]!;
      return n;
    },
    [burns, thins, blurs, smears] = ['burns', 'thins', 'blurs', 'smears'].map((gives) =>
      run({ gives, givesWidth: 24, follow: 0, windDirection: 0, ragged: 0 }),
    ) as [ReturnType<typeof run>, ReturnType<typeof run>, ReturnType<typeof run>, ReturnType<typeof run>];
  expect(gone(thins.removal!, 50, 110)).toBeGreaterThan(gone(burns.removal!, 50, 110) + 6);
  expect(sum(thins.front!)).toBeCloseTo(sum(burns.front!), 3);
  // What was taken away of the body by coverage stands there as its blurred picture, and some of it past the front.
  const taken = 80 * (gone(blurs.removal!, 40, 120) - gone(burns.removal!, 40, 120));
  expect(sum(blurs.front!)).toBeGreaterThan(0.8 * taken);
  expect(sum(blurs.front!)).toBeLessThan(1.8 * taken);
  expect(sum(smears.front!, 122)).toBeGreaterThan(40);
  expect(sum(smears.front!, 0, 39)).toBeLessThan(1);
});
test('the feet are the lowest row of a matte; a body that reaches out of the picture has none', () => {
  const canvas = drawOn(arena, W, H);
  expect(feetOf(body(), 1, canvas)).toBeCloseTo(100, 0);
  const cut = arena.takePlane(W, H);
  cut.data.fill(1);
  expect(feetOf(cut, 1, canvas)).toBeNull();
  expect(feetOf({ ...cut, data: new Float32Array(W * H) }, 1, canvas)).toBeNull();
});
test('the shadow on the ground lies below the pieces, darker for more of them and wider for high ones, and never whitens', () => {
  const shadow = (many: number, y: number) => {
      const flakes = newFlakes(many),
        picture = arena.takePicture(W, H);
      picture.data.fill(0);
      for (let i = 0; i < many; i++) {
        flakes.id[i] = 17 + i;
        flakes.x[i] = 70 + (i % 20);
        flakes.y[i] = y;
        flakes.vy[i] = 1;
        flakes.life[i] = 40;
      }
      layGroundShadow(flakes, { ground: 100, size: 2, share: 1, seed: 4, tall: 80 }, picture, drawOn(arena, W, H));
      const columns = new Float32Array(W);
      let [total, low] = [0, H];
      for (let k = 0; k < W * H; k++) {
        const a = picture.data[4 * k + 3]!;
        columns[k % W]! += a;
        total += a;
        if (a > 0.01) low = Math.min(low, Math.floor(k / W));
        expect(a).toBeLessThan(1);
        expect(picture.data[4 * k]).toBe(0);
      }
      const mean = columns.reduce((s, v, x) => s + v * x, 0) / total;
      return { total, low, mean, wide: Math.sqrt(columns.reduce((s, v, x) => s + v * (x - mean) ** 2, 0) / total) };
    },
    near = shadow(60, 92),
    high = shadow(60, 30);
  expect(near.mean).toBeGreaterThan(76);
  expect(near.mean).toBeLessThan(84);
  expect(near.low).toBeGreaterThan(84);
  expect(high.wide).toBeGreaterThan(1.5 * near.wide);
  expect(shadow(240, 92).total).toBeGreaterThan(1.5 * near.total);
});
test('flakes come to rest at the feet, stay there for good or fade, and fly on where nothing is said', () => {
  const fallen = (lands: string, frames: number) => {
    const flakes = newFlakes(40);
    for (let i = 0; i < 40; i++) {
      flakes.id[i] = 1000 + 77 * i;
      flakes.x[i] = 80;
      flakes.y[i] = 60;
      flakes.vx[i] = 0.1;
      flakes.age[i] = 20;
      flakes.life[i] = 120;
    }
    let state = packFlakes(flakes, arena);
    const history = dissolve.history!,
      matte = arena.takePlane(W / 4, H / 4);
    for (let k = 0; k < matte.data.length; k++) matte.data[k] = +inBody((k % (W / 4)) * 4, Math.floor(k / (W / 4)) * 4);
    const v = {
      ...Object.fromEntries(Object.entries(dissolve.params).map(([name, p]) => [name, p.default])),
      lands,
      progress: 1,
      wind: 0,
      settle: 2,
    };
    for (let f = 0; f < frames; f++)
      state = history.step(
        state,
        v as never,
        v as never,
        { smallMatte: matte } as never,
        drawOn(arena, W, H, { subjectPixels: 80, subjectMetres: 1.7, frame: 1001 + f }),
      );
    const count = new Uint32Array(state.data.buffer, state.data.byteOffset)[state.data.length - 4]!,
      stride = (count + 3) & ~3;
    return Array.from({ length: count }, (_, i) => state.data[2 * stride + i]!);
  };
  const stay = fallen('stays', 400);
  expect(stay).toHaveLength(40);
  // A twentieth of its height before or behind, and a cell.
  for (const y of stay) expect(Math.abs(y - 100)).toBeLessThanOrEqual(8);
  expect(fallen('rests', 60)).toHaveLength(40);
  expect(fallen('rests', 500)).toHaveLength(0);
  expect(Math.max(...fallen('flies on', 60))).toBeGreaterThan(110);
});
