import { Arena, newPicture, newPlane, type Picture } from '../image';
import { nothing, standing } from '../../test/effects';
import { emitter, pictureAt } from './emitter';
import { bornNow } from './emitterPast';
import { defaultsOf, valuesAt, type Draw, type Fact, type Effect, type StoredValue, type Values } from './index';

const arena = new Arena(96 * 2 ** 20);
afterEach(() => arena.reset());
const WIDTH = 161,
  HEIGHT = 91;
const draw = (frameInRow: number, more: Partial<Draw<Fact>> = {}): Draw<Fact> => ({
  pictures: arena,
  frame: 1001 + frameInRow,
  width: WIDTH,
  height: HEIGHT,
  scale: 1,
  framesPerSecond: 24,
  frameInRow,
  rowLength: 48,
  subjectPixels: 85,
  subjectMetres: 1.7,
  traces: false,
  strokes: [],
  cues: [],
  lines: [],
  around: [],
  ...more,
});
/** Still air, one size, no chance but that of the seed. */
const CALM = {
  wind: 0,
  turbulence: 0,
  gusts: 0,
  gravity: 0,
  speed: 0,
  speedVariation: 0,
  lifeVariation: 0,
  sizeVariation: 0,
  flicker: 0,
  fadeIn: 0,
  fadeOut: 0,
  grows: 100,
  carries: 0,
};
type V = Values<typeof emitter.params>;
const valuesOf = (stored: Record<string, StoredValue>, scale = 1) =>
  valuesAt(emitter.params, { ...defaultsOf(emitter.params), ...CALM, ...stored }, {}, 0, scale) as unknown as V;
const history = (emitter as unknown as Effect).history!;
type State = { flakes: { count: number } & Record<'id' | 'x' | 'y' | 'vx' | 'vy' | 'age' | 'life', ArrayLike<number>>; born: number };
/** The state after `frames` frames, with what each reads. */
function run(
  stored: Record<string, StoredValue>,
  frames: number,
  read: (frame: number) => object = () => ({ mount: standing(80, 45) }),
): State {
  const v = valuesOf(stored);
  let state = history.start();
  for (let f = 0; f < frames; f++)
    state = history.step(
      state,
      v as never,
      v as never,
      { smallMatte: null, smallPlate: null, ...read(f) } as never,
      draw(f, { width: Math.ceil(WIDTH / 4), height: Math.ceil(HEIGHT / 4), scale: 0.25 }),
    );
  return state as State;
}
const picture = (state: State, stored: Record<string, StoredValue>, more: Partial<Draw<Fact>> = {}) =>
  emitter.render(
    draw(20, more),
    valuesOf(stored, more.scale),
    { drawn: null, mount: standing(80, 45), before: standing(80, 45) } as never,
    state as never,
  );
const sum = (p: Picture | undefined, channel: number) => (p ? p.data.reduce((n, v, i) => ((i & 3) === channel ? n + v : n), 0) : 0);

describe('births', () => {
  test('the rate is in seconds, and a burst comes once, or again and again', () => {
    expect(bornNow({ rate: 48, burst: 0, burstEvery: 0 }, 5, 24)).toBe(2);
    expect([0, 1, 6, 12].map((f) => bornNow({ rate: 0, burst: 9, burstEvery: 6 }, f, 24))).toEqual([9, 0, 9, 9]);
    expect([0, 6].map((f) => bornNow({ rate: 0, burst: 9, burstEvery: 0 }, f, 24))).toEqual([9, 0]);
    const { flakes, born } = run({ rate: 240, life: 600, from: 'point' }, 24);
    expect(Math.abs(flakes.count - 240)).toBeLessThanOrEqual(2);
    expect(born).toBe(flakes.count);
    expect(run({ rate: 240, life: 600, total: 100 }, 24).born).toBe(100);
  });
  test('follow the covered area of a matte, and lie on it', () => {
    const matte = newPlane(41, 23);
    // A field of 10 x 10 cells that is full, one of 10 x 10 that is covered by a third.
    for (let y = 5; y < 15; y++)
      for (let x = 0; x < 10; x++) {
        matte.data[y * 41 + 3 + x] = 1;
        matte.data[y * 41 + 25 + x] = 1 / 3;
      }
    const { flakes } = run({ rate: 24 * 400, life: 600, from: 'matte area' }, 10, () => ({
      mount: nothing(WIDTH, HEIGHT),
      smallMatte: matte,
    }));
    let left = 0,
      right = 0;
    for (let i = 0; i < flakes.count; i++) {
      const x = flakes.x[i]! / 4,
        y = flakes.y[i]! / 4;
      expect(y).toBeGreaterThanOrEqual(5);
      expect(y).toBeLessThanOrEqual(15);
      if (x < 14) left++;
      else right++;
    }
    expect(flakes.count).toBeGreaterThan(3900);
    expect(flakes.count).toBeLessThan(4100);
    expect(left / right).toBeGreaterThan(2.8);
    expect(left / right).toBeLessThan(3.2);
    // On the edge: none in the middle of the full field.
    const edge = run({ rate: 24 * 400, life: 600, from: 'matte edge' }, 5, () => ({
      mount: nothing(WIDTH, HEIGHT),
      smallMatte: matte,
    })).flakes;
    for (let i = 0; i < edge.count; i++) {
      const x = Math.floor(edge.x[i]! / 4),
        y = Math.floor(edge.y[i]! / 4);
      expect(x > 4 && x < 11 && y > 6 && y < 13).toBe(false);
    }
    expect(
      run({ rate: 2400, from: 'matte area' }, 3, () => ({ mount: nothing(WIDTH, HEIGHT), smallMatte: newPlane(41, 23) })).flakes.count,
    ).toBe(0);
  });
  test('a nudge of the rate leaves those that were there as they were, and the same frames give the same bits', () => {
    const few = run({ rate: 100, life: 600, from: 'ellipse' }, 20).flakes,
      many = run({ rate: 130, life: 600, from: 'ellipse' }, 20).flakes,
      ids = new Map(Array.from({ length: many.count }, (_, i) => [many.id[i], many.x[i]]));
    expect(many.count).toBeGreaterThan(few.count);
    for (let i = 0; i < few.count; i++) expect(ids.get(few.id[i])).toBe(few.x[i]);
    const again = run({ rate: 100, life: 600, from: 'ellipse' }, 20).flakes;
    expect(Array.from(again.x)).toEqual(Array.from(few.x));
  });
  test('are spread over the way of a fast mount, and not in one heap a frame', () => {
    const { flakes } = run({ rate: 24 * 40, life: 600, from: 'point' }, 4, (f) => ({ mount: standing(20 + 30 * f, 45) })),
      xs = Array.from({ length: flakes.count }, (_, i) => flakes.x[i]!).sort((a, b) => a - b);
    for (let i = 1; i < xs.length; i++) if (xs[i - 1]! > 20) expect(xs[i]! - xs[i - 1]!).toBeLessThan(12);
  });
});

describe('motion', () => {
  test('what falls nears its settling speed as v = vs (1 - exp(-g t / vs)), by real height', () => {
    const settle = 4,
      { flakes } = run({ rate: 0, burst: 400, life: 600, from: 'point', gravity: 100, settle }, 13);
    let mean = 0;
    for (let i = 0; i < flakes.count; i++) mean += flakes.vy[i]! / flakes.count;
    const seconds = 12 / 24,
      pixels = (settle * (1 - Math.exp((-9.81 * seconds) / settle)) * 50) / 24;
    // It weighs 0.6 to 1.4 of what it says, and takes hold over the first third of a second.
    expect(mean / pixels).toBeGreaterThan(0.75);
    expect(mean / pixels).toBeLessThan(1.02);
    const up = run({ rate: 0, burst: 50, life: 600, from: 'point', gravity: -100, settle }, 13).flakes;
    for (let i = 0; i < up.count; i++) expect(up.vy[i]!).toBeLessThan(0);
  });
  test('springs up again from the ground, lower each time, until it stays; or is gone where it falls', () => {
    const fall = { rate: 0, burst: 30, life: 600, from: 'point', gravity: 100, settle: 9, ground: 90 },
      heights = Array.from({ length: 90 }, (_, f) => {
        const { flakes } = run({ ...fall, lands: 'bounces', bounce: 60 }, f + 1);
        return 90 - flakes.y[0]!;
      }),
      landed = heights.findIndex((h, f) => f > 0 && h > heights[f - 1]!),
      again = Math.max(...heights.slice(landed));
    expect(landed).toBeGreaterThan(0);
    expect(Math.min(...heights)).toBeGreaterThanOrEqual(-1e-3);
    // A speed of 60 % lifts to 36 % of the height, less what the air takes.
    expect(again).toBeGreaterThan(2);
    expect(again).toBeLessThan(0.4 * heights[0]!);
    expect(heights[89]).toBeCloseTo(0, 1);
    expect(run({ ...fall, lands: 'rests' }, 60).flakes.count).toBe(30);
    expect(run({ ...fall, lands: 'vanishes' }, 60).flakes.count).toBe(0);
  });
  test('lies on the ground, rides on its mount, or stays in the world', () => {
    const fallen = run({ rate: 0, burst: 50, life: 600, from: 'point', gravity: 100, settle: 9, ground: 70 }, 60).flakes;
    for (let i = 0; i < fallen.count; i++) expect(fallen.y[i]).toBe(70);
    const walk = (f: number) => ({ mount: standing(20 + 5 * f, 45) }),
      at = (after: string) => {
        const f = run({ rate: 0, burst: 20, life: 600, from: 'point', after }, 11, walk).flakes;
        return Array.from({ length: f.count }, (_, i) => f.x[i]!);
      };
    for (const x of at('rides on the mount')) expect(x).toBeCloseTo(70, 3);
    for (const x of at('lives in the world')) expect(x).toBeCloseTo(20, 3);
  });
  test('turbulence may be level only, and may spare what lies on the body', () => {
    const calm = { rate: 0, burst: 60, life: 600, from: 'ellipse', reach: 30, turbulence: 3, settle: 0.3 },
      moved = (stored: Record<string, StoredValue>, read: () => object) => {
        const { flakes } = run({ ...calm, ...stored }, 8, read),
          still = run({ ...calm, turbulence: 0 }, 8, read).flakes;
        return Array.from({ length: flakes.count }, (_, i) => [
          Math.abs(flakes.x[i]! - still.x[i]!),
          Math.abs(flakes.y[i]! - still.y[i]!),
          still.x[i]!,
        ]) as [number, number, number][];
      },
      matte = newPlane(41, 23);
    for (let y = 0; y < 23; y++) for (let x = 0; x < 20; x++) matte.data[y * 41 + x] = 1;
    const bare = () => ({ mount: standing(80, 45) }),
      level = moved({ upright: 0 }, bare),
      all = moved({}, bare),
      spared = moved({ stirs: 'outside the body' }, () => ({ mount: standing(80, 45), smallMatte: matte }));
    expect(Math.max(...level.map((m) => m[1]))).toBeLessThan(1e-3);
    expect(Math.max(...level.map((m) => m[0]))).toBeGreaterThan(0.5);
    expect(Math.max(...all.map((m) => m[1]))).toBeGreaterThan(0.5);
    // The left half is the body.
    expect(Math.max(...spared.filter((m) => m[2] < 70).map((m) => Math.hypot(m[0], m[1])))).toBeLessThan(1e-3);
    expect(Math.max(...spared.filter((m) => m[2] > 90).map((m) => Math.hypot(m[0], m[1])))).toBeGreaterThan(0.5);
  });
  test('a pull draws them nearer', () => {
    const far = (pull: number) => {
      const { flakes } = run({ rate: 0, burst: 60, life: 600, from: 'ellipse', reach: 40, pull }, 8);
      let d = 0;
      for (let i = 0; i < flakes.count; i++) d += Math.hypot(flakes.x[i]! - 80, flakes.y[i]! - 45) / flakes.count;
      return d;
    };
    expect(far(10)).toBeLessThan(far(0) * 0.97);
    expect(far(-10)).toBeGreaterThan(far(0) * 1.03);
  });
});

describe('look', () => {
  test('light adds without covering, paint covers', () => {
    const state = run({ rate: 0, burst: 30, life: 600 }, 2);
    expect(sum(picture(state, { paint: 'light' }).layer, 3)).toBe(0);
    expect(sum(picture(state, { paint: 'light' }).layer, 0)).toBeGreaterThan(1);
    expect(sum(picture(state, { paint: 'paint' }).layer, 3)).toBeGreaterThan(1);
  });
  test('every shape is drawn, and half the size carries the same light', () => {
    const state = run({ rate: 0, burst: 24, life: 600, reach: 30 }, 2);
    for (const sprite of ['soft dot', 'disc', 'ring', 'square', 'shard', 'polygon', 'star']) {
      const whole = sum(picture(state, { sprite, size: 10 }).layer, 0),
        half = sum(picture(state, { sprite, size: 10 }, { width: 81, height: 46, scale: 0.5 }).layer, 0);
      expect(whole).toBeGreaterThan(10);
      expect((half * 4) / whole).toBeGreaterThan(0.9);
      expect((half * 4) / whole).toBeLessThan(1.1);
    }
    expect(picture(state, { sprite: 'drawn' })).toEqual({});
  });
  test('orbits pass behind and in front, about the same number', () => {
    const state = run({ rate: 0, burst: 200, life: 600, from: 'point' }, 2),
      { layer, behind } = picture(state, { orbit: 30, orbitFlat: 60, size: 3 });
    const front = sum(layer, 0),
      back = sum(behind, 0);
    expect(back / front).toBeGreaterThan(0.6);
    expect(back / front).toBeLessThan(1.7);
    // Those in front are lower on the picture, those behind higher: the orbit is seen from above.
    const middle = (p: Picture) => {
      let n = 0,
        y = 0;
      for (let i = 0; i < p.data.length; i += 4) {
        n += p.data[i]!;
        y += p.data[i]! * Math.floor(i / 4 / WIDTH);
      }
      return y / n;
    };
    expect(middle(layer!)).toBeGreaterThan(47);
    expect(middle(behind!)).toBeLessThan(43);
    expect(picture(state, { size: 3 }).behind).toBeUndefined();
  });
  test('a streak lies along the motion and keeps its light', () => {
    const state = run({ rate: 0, burst: 1, life: 600, from: 'point', speed: 12, direction: 0, spread: 0 }, 2),
      dot = picture(state, { size: 5 }).layer!,
      streak = picture(state, { size: 5, streak: 2 }).layer!;
    expect(sum(streak, 0) / sum(dot, 0)).toBeGreaterThan(0.8);
    expect(sum(streak, 0) / sum(dot, 0)).toBeLessThan(1.25);
    const wide = (p: Picture, along: boolean) => {
      const cells = new Set<number>();
      for (let i = 0; i < p.data.length; i += 4) if (p.data[i]! > 0.002) cells.add(along ? (i / 4) % WIDTH : Math.floor(i / 4 / WIDTH));
      return cells.size;
    };
    const across = picture(state, { size: 5, streak: 2, smear: 'across' }).layer!;
    expect(wide(across, false)).toBeGreaterThan(wide(dot, false) + 8);
    expect(wide(across, true)).toBeLessThanOrEqual(wide(dot, true) + 1);
    expect(wide(streak, true)).toBeGreaterThan(wide(dot, true) + 8);
    expect(wide(streak, false)).toBeLessThanOrEqual(wide(dot, false) + 1);
  });
  test('liquid has one skin: what is near flows together, what is thin is gone, and nothing is half covered but its edge', () => {
    const state = run({ rate: 0, burst: 300, life: 600, reach: 16 }, 2),
      { layer } = picture(state, { liquid: 100, paint: 'paint', size: 7 });
    let full = 0,
      half = 0;
    for (let i = 3; i < layer!.data.length; i += 4) {
      if (layer!.data[i]! > 0.95) full++;
      else if (layer!.data[i]! > 0.05) half++;
    }
    expect(full).toBeGreaterThan(400);
    expect(half).toBeLessThan(full * 0.5);
  });
  test('pictures of a drawn sequence: a subset, one for each, playing either way, there and back', () => {
    const set = { sprite: 'drawn', plays: 'plays', playRate: 1, firstPicture: 3, lastPicture: 6 } as const,
      run4 = (plays: 'one each' | 'plays' | 'plays backwards' | 'there and back', begun: number, more: object = {}) =>
        [0, 1, 2, 3, 4, 5].map((age) => pictureAt({ ...set, plays, ...more }, age, (begun + 0.5) / 4, 10));
    expect(run4('one each', 2)).toEqual([4, 4, 4, 4, 4, 4]);
    expect(run4('plays', 2)).toEqual([4, 5, 2, 3, 4, 5]);
    expect(run4('plays backwards', 1)).toEqual([3, 2, 5, 4, 3, 2]);
    expect(run4('there and back', 0)).toEqual([2, 3, 4, 5, 4, 3]);
    expect(run4('plays', 0, { playRate: 0.5 })).toEqual([2, 2, 3, 3, 4, 4]);
    // More than there are, or turned round, is what there is.
    expect(pictureAt({ ...set, firstPicture: 40, lastPicture: 20 }, 0, 0.99, 10)).toBe(9);
  });
  test('drawn pictures are drawn, with their own colours', () => {
    const state = run({ rate: 0, burst: 10, life: 600, reach: 40 }, 2),
      red = newPicture(20, 12);
    for (let i = 0; i < red.data.length; i += 4) red.data.set([0.8, 0.1, 0, 1], i);
    const layer = emitter.render(
      draw(20),
      valuesOf({ sprite: 'drawn', paint: 'paint', size: 16, young: '#ffffff', old: '#ffffff', strength: 100 }),
      { drawn: [red] } as never,
      state as never,
    ).layer!;
    expect(sum(layer, 0)).toBeGreaterThan(50);
    expect(sum(layer, 1) / sum(layer, 0)).toBeCloseTo(0.125, 2);
    expect(sum(layer, 2)).toBe(0);
  });
});
