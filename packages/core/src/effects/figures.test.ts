import { Arena, blur, type Picture, type Plane } from '../image';
import { drawOn, give as giveOf, nothing, standing } from '../../test/effects';
import { afterImages, turnOf } from './afterImages';
import { arcs } from './arcs';
import { aura } from './aura';
import { bolt, jaggedWay } from './bolt';
import { boxOf, fallOff } from './body';
import { flare } from './flare';
import { materialise } from './materialise';
import { defaultsOf, valuesAt, type Draw, type Fact, type Effect, type Layers, type StoredValue } from './index';

const arena = new Arena(128 * 2 ** 20);
afterEach(() => arena.reset());
const WIDTH = 160,
  HEIGHT = 120;
const give = (e: unknown, stored: Record<string, StoredValue>, read: object, more: Partial<Draw<Fact>> = {}): Layers =>
  giveOf(e, stored, { before: nothing(WIDTH, HEIGHT), ...read }, drawOn(arena, WIDTH, HEIGHT, { subjectPixels: 80, ...more }));
/** A body 40 wide and 60 tall in the middle, at a size of the picture. */
const body = (scale = 1): Plane => {
  const w = WIDTH * scale,
    h = HEIGHT * scale,
    out = arena.takePlane(w, h);
  for (let y = 0, p = 0; y < h; y++)
    for (let x = 0; x < w; x++, p++) out.data[p] = x >= 60 * scale && x < 100 * scale && y >= 40 * scale && y < 100 * scale ? 1 : 0;
  return out;
};
const grey = (value: number): Picture => {
  const out = arena.takePicture(WIDTH, HEIGHT);
  for (let i = 0; i < out.data.length; i++) out.data[i] = (i & 3) === 3 ? 1 : value;
  return out;
};
const at = (p: Picture, x: number, y: number, c = 0) => p.data[(Math.floor(y) * p.width + Math.floor(x)) * 4 + c]!;
const sum = (p: Picture, within: (x: number, y: number) => boolean = () => true) => {
  let n = 0;
  for (let y = 0; y < p.height; y++) for (let x = 0; x < p.width; x++) if (within(x, y)) n += at(p, x, y);
  return n;
};

test('fallOff keeps near to the exponential, and boxOf holds what there is', () => {
  for (let x = 0; x < 20; x += 0.05) expect(Math.abs(fallOff(x) - Math.exp(-x))).toBeLessThan(0.018);
  expect(boxOf(body(), 3, arena)).toEqual([57, 36, 103, 103]);
  const empty = arena.takePlane(5, 5);
  empty.data.fill(0);
  expect(boxOf(empty, 3, arena)).toBeNull();
});

describe('bolt', () => {
  test('its way begins and ends where it should, leaves the straight line, and is another one at each drawing', () => {
    const { x, y } = jaggedWay([0, 0], [100, 40], 0.3, 5, 7),
      n = x.length - 1;
    expect([x[0], y[0], x[n], y[n]]).toEqual([0, 0, 100, 40]);
    expect(Math.max(...Array.from(x, (px, i) => Math.abs(y[i]! - px * 0.4)))).toBeGreaterThan(3);
    expect([...jaggedWay([0, 0], [100, 40], 0.3, 5, 8).y]).not.toEqual([...y]);
    const straight = jaggedWay([0, 0], [100, 40], 0, 5, 7);
    for (let i = 0; i <= n; i++) expect(straight.y[i]).toBeCloseTo(straight.x[i]! * 0.4, 6);
  });
  const read = { mount: standing(20, 60), aim: standing(140, 60) },
    plain = { flash: 0, halo: 0, jagged: 0, branches: 0, fades: 0, afterglow: 0 };
  test('is redrawn every n frames and shows for as many as it says', () => {
    const light = (frameInRow: number) => give(bolt, { ...plain, jagged: 30, every: 4, shows: 2 }, read, { frameInRow }).light;
    expect(light(2)).toBeUndefined();
    expect(light(3)).toBeUndefined();
    const [a, b, c] = [light(0)!, light(1)!, light(4)!];
    expect([...a.data]).toEqual([...b.data]);
    expect([...a.data]).not.toEqual([...c.data]);
  });
  test('glows on in the colour of its halo until the next drawing, fainter from frame to frame', () => {
    const light = (frameInRow: number) =>
        give(bolt, { ...plain, every: 8, shows: 2, afterglow: 40, haloColour: '#0000ff' }, read, { frameInRow }).light!,
      blue = (p: Picture) => p.data.reduce((n, v, i) => (i % 4 === 2 ? n + v : n), 0),
      [shown, just, later, next] = [light(1), light(2), light(5), light(8)];
    expect(blue(just)).toBeLessThan(0.5 * blue(shown));
    expect(blue(later)).toBeLessThan(0.6 * blue(just));
    expect(blue(later)).toBeGreaterThan(0);
    expect(at(just, 80, 60)).toBe(0);
    expect(just.data[(60 * WIDTH + 80) * 4 + 2]).toBeGreaterThan(0.1);
    expect(blue(next)).toBeGreaterThan(0.8 * blue(light(0)));
  });
  test('form that holds leaves the bolt alike from drawing to drawing', () => {
    const light = (frameInRow: number, holds: number) =>
        give(bolt, { ...plain, jagged: 30, branches: 12, holds }, read, { frameInRow }).light!,
      apart = (holds: number) => {
        const [a, b] = [light(0, holds), light(3, holds)];
        return a.data.reduce((n, v, i) => n + Math.abs(v - b.data[i]!), 0);
      };
    expect(apart(100)).toBe(0);
    expect(apart(80)).toBeLessThan(0.9 * apart(0));
    expect(apart(0)).toBeGreaterThan(1);
  });
  test('runs from mount to aim, forks, and half the size carries the same light', () => {
    const light = give(bolt, { ...plain, taper: 0 }, read).light!;
    for (const x of [22, 80, 138]) expect(at(light, x, 60)).toBeGreaterThan(0.5);
    expect(at(light, 10, 60)).toBe(0);
    const forked = give(bolt, { ...plain, branches: 6 }, read).light!;
    expect(sum(forked)).toBeGreaterThan(sum(give(bolt, plain, read).light!) * 1.1);
    const usual = sum(give(bolt, { flash: 0 }, read).light!),
      half = 4 * sum(give(bolt, { flash: 0 }, read, { width: 80, height: 60, scale: 0.5 }).light!);
    expect(half / usual).toBeGreaterThan(0.8);
    expect(half / usual).toBeLessThan(1.25);
    expect(give(bolt, {}, { mount: standing(1, 1), aim: nothing(WIDTH, HEIGHT) })).toEqual({});
    expect(give(bolt, { to: 'a place', place: [30, 30] }, { mount: standing(60, 60), aim: nothing(WIDTH, HEIGHT) }).light).toBeDefined();
  });
});

describe('arcs', () => {
  test('run on the body within their window, change as they say, and are out where nothing is lit', () => {
    const read = { mount: standing(80, 70), matte: body() },
      set = { reach: 60, cell: 12, halo: 0, lit: 90 },
      light = give(arcs, set, read).light!;
    expect(sum(light)).toBeGreaterThan(5);
    expect(sum(light, (x, y) => x < 60 || x >= 100 || y < 40 || y >= 100)).toBe(0);
    const free = give(arcs, { ...set, onBody: 0, reach: 30 }, { mount: standing(80, 70), matte: null }).light!;
    expect(sum(free, (x, y) => Math.hypot(x + 0.5 - 80, y + 0.5 - 70) > 30)).toBe(0);
    const same = give(arcs, { ...set, hold: 6, crawl: 0 }, read, { frame: 1002 }).light!,
      next = give(arcs, { ...set, hold: 6, crawl: 0 }, read, { frame: 1003 }).light!,
      later = give(arcs, { ...set, hold: 6, crawl: 0 }, read, { frame: 1008 }).light!;
    expect([...same.data]).toEqual([...next.data]);
    expect([...same.data]).not.toEqual([...later.data]);
    expect(sum(give(arcs, { ...set, lit: 30 }, read).light!)).toBeLessThan(sum(light) * 0.7);
  });
  test('on skin the same edges burn whatever the window and the outline about them', () => {
    const burning = (reach: number) => {
        const light = give(arcs, { reach, cell: 9, halo: 0, lit: 50 }, { mount: standing(80, 70), matte: body() }).light!,
          near = (x: number, y: number) => Math.abs(x - 80) < 15 && Math.abs(y - 70) < 15;
        return new Set(
          Array.from({ length: WIDTH * HEIGHT }, (_, p) => p).filter(
            (p) => near(p % WIDTH, Math.floor(p / WIDTH)) && light.data[4 * p + 2]! > 0.15,
          ),
        );
      },
      [one, wider] = [burning(60), burning(83)],
      both = [...one].filter((p) => wider.has(p)).length;
    expect(one.size).toBeGreaterThan(30);
    expect(both / Math.max(one.size, wider.size)).toBeGreaterThan(0.9);
  });
});

describe('aura', () => {
  const still = { wanders: 0, soft: 0, pulled: 'up' };
  test('is pulled up from the silhouette, not down, and keeps off the body as far as it says', () => {
    const light = give(aura, { ...still, stretch: 20, inside: 0 }, { matte: body(), mount: nothing(WIDTH, HEIGHT) }).light!;
    // Half of the size.
    expect([light.width, light.height]).toEqual([80, 60]);
    expect(sum(light, (_, y) => y < 19)).toBeGreaterThan(1);
    expect(sum(light, (_, y) => y > 51)).toBeLessThan(0.01);
    expect(sum(light, (x, y) => x > 31 && x < 48 && y > 21 && y < 49)).toBeLessThan(0.01);
    expect(
      sum(
        give(aura, { ...still, inside: 100 }, { matte: body(), mount: nothing(WIDTH, HEIGHT) }).light!,
        (x, y) => x > 31 && x < 48 && y > 21 && y < 49,
      ),
    ).toBeGreaterThan(50);
    const out = give(aura, { ...still, pulled: 'outwards', stretch: 20 }, { matte: body(), mount: nothing(WIDTH, HEIGHT) }).light!;
    expect(sum(out, (x, y) => x < 28 && y > 25 && y < 45)).toBeGreaterThan(1);
  });
  test('reaches further with more stretch, moves with the frames, and its copies differ', () => {
    const above = (stretch: number, more: Record<string, StoredValue> = {}, frame = 1010) =>
      give(aura, { ...still, stretch, ...more }, { matte: body(), mount: nothing(WIDTH, HEIGHT) }, { frame }).light!;
    const high = (p: Picture) => sum(p, (_, y) => y < 12);
    expect(high(above(60))).toBeGreaterThan(high(above(15)) * 1.5);
    expect([...above(30).data]).not.toEqual([...above(30, {}, 1011).data]);
    // A second copy in red: the picture has red that the first alone has not.
    const blue = { near: '#0000ff', far: '#0000ff', second: '#ff0000' };
    expect(sum(above(30, { ...blue, copies: 1 }))).toBe(0);
    expect(sum(above(30, { ...blue, copies: 2 }))).toBeGreaterThan(0.5);
    for (const edge of ['flames', 'teeth', 'veil']) expect(sum(above(30, { edge }))).toBeGreaterThan(1);
  });
  test('along its normals it goes out on every side, less far down, and its tips stay behind a body that moves', () => {
    const flames = (more: Record<string, StoredValue>, from = 80) =>
        give(
          aura,
          { wanders: 0, soft: 0, ragged: 30, pulled: 'along its normals', stretch: 16, inside: 0, ...more },
          { matte: body(), mount: standing(80, 70), before: standing(from, 70) },
        ).light!,
      still = flames({}),
      [left, right] = [
        (p: Picture) => sum(p, (x, y) => x < 28 && y > 25 && y < 45),
        (p: Picture) => sum(p, (x, y) => x > 51 && y > 25 && y < 45),
      ],
      [up, down] = [sum(still, (x, y) => y < 18 && x > 32 && x < 48), sum(still, (x, y) => y > 51 && x > 32 && x < 48)];
    for (const side of [left(still), right(still), up, down]) expect(side).toBeGreaterThan(1);
    expect(up).toBeGreaterThan(1.3 * down);
    // It goes to the right: what is left behind lies to the left of it.
    const moved = flames({ trail: 4 }, 74);
    expect(left(moved)).toBeGreaterThan(1.3 * left(still));
    expect(right(moved)).toBeLessThan(0.8 * right(still));
    expect([...flames({ trail: 0 }, 74).data]).toEqual([...flames({ trail: 0 }).data]);
  });
  test('a ring lies flat on the ground about its place', () => {
    const light = give(
      aura,
      { ...still, stretch: 4, ring: 30, ringAt: [0, 0], ringFlat: 50 },
      { matte: body(), mount: standing(40, 100) },
    ).light!;
    const middle = at(light, 20, 50);
    expect(at(light, 20 + 15, 50)).toBeGreaterThan(3 * middle + 0.05);
    expect(at(light, 20, 50 + 7)).toBeGreaterThan(3 * middle + 0.05);
  });
});

test('small holes of a matte are body to light that runs along its edge: no veins; large ones are open, and all where that is chosen', () => {
  const holed = (size: number) => {
      const matte = body();
      for (let y = 60; y < 60 + size; y++) matte.data.fill(0, y * WIDTH + 76, y * WIDTH + 76 + size);
      return matte;
    },
    light = (e: typeof aura | typeof arcs, stored: Record<string, StoredValue>, matte: Plane) => {
      const out = give(e as never, stored, { matte, mount: standing(78, 62) }, { subjectPixels: 120 }).light!;
      return out.data.reduce((sum, v) => sum + v, 0);
    },
    still = { strength: 100, inside: 0, stretch: 6, wanders: 0, soft: 0 },
    whole = light(aura, still, body());
  expect(Math.abs(light(aura, still, holed(4)) / whole - 1)).toBeLessThan(0.01);
  expect(light(aura, { ...still, holes: 'open' }, holed(4)) / whole).toBeGreaterThan(1.01);
  expect(light(aura, still, holed(12)) / whole).toBeGreaterThan(1.01);
  const crawling = { reach: 40, lit: 100, cell: 6, halo: 0 },
    over = light(arcs, crawling, body());
  expect(light(arcs, crawling, holed(4))).toBeCloseTo(over, 3);
  // Straight on the picture: round about an open hole there are more cells.
  expect(light(arcs, { ...crawling, holes: 'open', skin: 'flat' }, holed(4))).toBeLessThan(
    light(arcs, { ...crawling, skin: 'flat' }, body()),
  );
  // However it is laid, no light runs in a hole that is open, and some does in one that is closed.
  const inHole = (holes: string) => {
    const out = give(arcs, { ...crawling, holes }, { matte: holed(4), mount: standing(78, 62) }, { subjectPixels: 120 }).light!;
    return sum(out, (x, y) => x >= 76 && x < 80 && y >= 60 && y < 64);
  };
  expect(inHole('open')).toBe(0);
  expect(inHole('closed')).toBeGreaterThan(0.5);
});
describe('after-images', () => {
  const values = (stored: Record<string, StoredValue>) =>
      valuesAt(afterImages.params, { ...defaultsOf(afterImages.params), ...stored }, {}, 0, 1) as never,
    times = (stored: Record<string, StoredValue>, frame: number, cues: number[] = []) =>
      afterImages.times!(values(stored), frame, 1001, cues);
  test('trail by so many frames, never before their row; stay where they were stamped; or copy the pose of now', () => {
    expect(times({ kind: 'trailing', count: 3, every: 4 }, 1020)).toEqual([1008, 1012, 1016]);
    expect(times({ kind: 'trailing', count: 3, every: 4 }, 1006)).toEqual([1002]);
    expect(times({ kind: 'left standing', count: 3, every: 5, stands: 0 }, 1008)).toEqual([1001, 1006]);
    expect(times({ kind: 'left standing', count: 3, every: 5, stands: 4 }, 1008)).toEqual([1006]);
    expect(times({ kind: 'same pose', count: 3 }, 1008)).toEqual([1008]);
    // At cues: only those within the row that have come, the newest, for as long as they stay.
    const cues = [995, 1003, 1008, 1014, 1030];
    expect(times({ kind: 'at cues', count: 4, stands: 0 }, 1020, cues)).toEqual([1003, 1008, 1014]);
    expect(times({ kind: 'at cues', count: 2, stands: 0 }, 1020, cues)).toEqual([1008, 1014]);
    expect(times({ kind: 'at cues', count: 4, stands: 10 }, 1020, cues)).toEqual([1014]);
    expect(times({ kind: 'at cues', count: 4 }, 1020)).toEqual([]);
  });
  test('an untinted image is the plate within the matte; older ones are fainter; a shift moves them', () => {
    const read = { plates: [grey(0.4)], mattes: [body()], mount: nothing(WIDTH, HEIGHT) },
      one = { kind: 'same pose', count: 1, tint: 0, gain: 100, strength: 100, paint: 'paint', soft: 0 },
      layer = give(afterImages, { ...one, fade: 0 }, read).layer!;
    expect(at(layer, 80, 70)).toBeCloseTo(0.4, 5);
    expect(at(layer, 80, 70, 3)).toBeCloseTo(1, 5);
    expect(at(layer, 20, 70, 3)).toBe(0);
    const moved = give(afterImages, { ...one, fade: 0, shift: [30, 0] }, read).layer!;
    expect(at(moved, 120, 70)).toBeCloseTo(0.4, 3);
    expect(at(moved, 75, 70)).toBeCloseTo(0, 3);
    const three = give(afterImages, { ...one, count: 3, shift: [44, 0], fade: 1, paint: 'light' }, { ...read }).layer!;
    expect(at(three, 80 + 44, 70)).toBeGreaterThan(0.35);
    expect(at(three, 158, 70)).toBeLessThan(0.3);
    expect(at(three, 80 + 44, 70, 3)).toBe(0);
    expect(give(afterImages, one, { plates: [], mattes: [], mount: nothing(WIDTH, HEIGHT) })).toEqual({});
  });
  test('a turned image is drawn where it falls alone, and is there what it would be in the whole picture, blurred too', () => {
    const read = { plates: [grey(0.4)], mattes: [body()], mount: standing(80, 70) },
      // Of two images the older one is blurred; it reaches out of the picture.
      stored = { kind: 'same pose', tint: 0, gain: 100, strength: 100, fade: 0, shift: [27, -9] as [number, number], roll: 11, grow: 108 },
      drawn = (count: number, soft: number) => give(afterImages, { ...stored, count, soft }, read).layer!,
      [sharp, soft, newer] = [drawn(2, 0), drawn(2, 12), drawn(1, 0)],
      older = arena.takePicture(WIDTH, HEIGHT);
    for (let i = 0; i < older.data.length; i++) older.data[i] = sharp.data[i]! - newer.data[i]!;
    const whole = blur(older, 6, arena);
    expect(sum(soft, (x) => x > 150)).toBeGreaterThan(1);
    for (let i = 0; i < whole.data.length; i += 4) expect(Math.abs(soft.data[i]! - newer.data[i]! - whole.data[i]!)).toBeLessThan(0.004);
    // One that falls beside the picture is not drawn at all.
    expect(sum(give(afterImages, { ...stored, count: 1, shift: [400, 0] }, read).layer!)).toBe(0);
  });
  test('a turn about the upright makes it narrower about its pivot and leaves the pivot where it is', () => {
    const m = turnOf({ shift: [0, 0], grow: 1, roll: 0, yaw: 60, pitch: 0 } as never, 1, [80, 70], 1e9),
      source = (x: number, y: number) => {
        const w = m[6] * x + m[7] * y + m[8];
        return [(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w];
      };
    expect(source(80, 70)[0]).toBeCloseTo(80, 6);
    // Half as wide: 10 px of the result are 20 of the source.
    expect(source(90, 70)[0]).toBeCloseTo(100, 3);
    expect(source(90, 90)[1]).toBeCloseTo(90, 3);
    const rolled = turnOf({ shift: [5, 0], grow: 1, roll: 90, yaw: 0, pitch: 0 } as never, 2, [80, 70], 1e9);
    // Twice 90 degrees is half a turn, and twice the shift.
    expect(rolled[0] / rolled[8]).toBeCloseTo(-1, 6);
    expect(rolled[2] / rolled[8]).toBeCloseTo(80 + 80 + 10, 4);
  });
});

describe('flare', () => {
  test('is brightest at its source, has a streak along its angle and ghosts across the middle, and a gate', () => {
    const read = { mount: standing(40, 30) },
      parts = { rays: 0, streak: 0, ghosts: 0, flicker: 0, dirt: 0, reach: 30 },
      veil = give(flare, parts, read).light!;
    expect(at(veil, 40, 30)).toBeGreaterThan(at(veil, 50, 30) * 3);
    expect(sum(veil, (x, y) => Math.hypot(x + 0.5 - 40, y + 0.5 - 30) > 31)).toBe(0);
    const streak = give(flare, { ...parts, streak: 100 }, read).light!;
    expect(at(streak, 100, 30)).toBeGreaterThan(0.01);
    expect(at(streak, 100, 50)).toBe(0);
    const ghosts = give(flare, { ...parts, ghosts: 100 }, read).light!;
    // Through the middle of the picture, to the other side.
    expect(sum(ghosts, (x, y) => x > 85 && y > 62)).toBeGreaterThan(1);
    // Dirt lies on the lens: it stays where it is, and lights up near the source.
    const dirt = (x: number, more = {}) => {
        const light = give(flare, { ...parts, strength: 100, dirt: 400, reach: 12, ...more }, { mount: standing(x, 60) }).light!,
          clean = give(flare, { ...parts, strength: 100, reach: 12 }, { mount: standing(x, 60) }).light!;
        return (from: number, to: number) => sum(light, (px) => px >= from && px < to) - sum(clean, (px) => px >= from && px < to);
      },
      [left, right] = [dirt(30), dirt(130)];
    expect(left(0, 60)).toBeGreaterThan(5 * left(100, 160));
    expect(right(100, 160)).toBeGreaterThan(5 * right(0, 60));
    expect(left(0, 60)).toBeGreaterThan(0.5);
    const half = give(flare, { ...parts, gate: 50 }, read).light!;
    expect(at(half, 40, 30)).toBeCloseTo(at(veil, 40, 30) / 2, 5);
  });
});

describe('materialise', () => {
  const stored = { shape: 'direction', direction: -90, from: [0, 100], extent: 60, ragged: 0, motes: 0, zone: 20 } as Record<
      string,
      StoredValue
    >,
    read = () => ({ matte: body(), plate: grey(0.4), mount: nothing(WIDTH, HEIGHT, 'corner') }),
    run = (progress: number, more: Record<string, StoredValue> = {}, draws: Partial<Draw<Fact>> = {}) =>
      give(materialise, { ...stored, ...more, progress }, read(), draws);
  test('at the beginning nothing of the body is left and nothing stands there; at the end it is idle', () => {
    const { removal, front, light } = run(0);
    for (const y of [45, 70, 95]) expect(removal!.data[y * WIDTH + 80]).toBeCloseTo(1, 2);
    expect(sum(front!) + sum(light!)).toBeLessThan(0.01);
    expect((materialise as unknown as Effect).idle!({ progress: 1 } as never, 0, undefined as never)).toBe(true);
  });
  test('light comes first, then a blurred body, then the body, from where it begins', () => {
    const { removal, front, light } = run(50);
    const gone = (y: number) => removal!.data[y * WIDTH + 80]!;
    // Below it has come, above not yet.
    expect(gone(95)).toBeLessThan(0.05);
    expect(gone(45)).toBeGreaterThan(0.95);
    const rows = (p: Picture, factor: number) => {
      let n = 0,
        y = 0;
      for (let k = 0; k < p.height; k++)
        for (let x = 0; x < p.width; x++) {
          n += at(p, x, k);
          y += at(p, x, k) * k * factor;
        }
      return y / n;
    };
    // The light runs ahead of the blurred body.
    expect(rows(light!, 2)).toBeLessThan(rows(front!, 1) - 1);
  });
  test('motes fly in from afar, fewer are left when it is done, and any frame stands for itself', () => {
    const set = { motes: 30, orbit: 60, blurred: 0, light: 0 };
    const middle = run(45, set),
      twice = run(45, set);
    expect(sum(middle.front!)).toBeGreaterThan(1);
    expect([...middle.front!.data]).toEqual([...twice.front!.data]);
    expect(sum(middle.front!, (x) => x < 56 || x > 104)).toBeGreaterThan(0.2);
    expect(sum(middle.behind!)).toBeGreaterThan(0.1);
    expect(sum(run(99, set).front!)).toBeLessThan(sum(middle.front!) * 0.35);
  });
  test('traces come back with the body', () => {
    expect(run(0, {}, { traces: true }).fading!.data[0]).toBe(1);
    expect(run(97, {}, { traces: true }).fading!.data[0]).toBeCloseTo(0, 3);
    expect(run(50).fading).toBeUndefined();
  });
});
