import { hash, type Codes } from '../image';
import { addClip, addRow, applyEdit, changeMatch, newShot, type Edit, type NewClip, type Shot } from '../shot';
import type { Picture } from '../image/picture';
import { passOf } from './pass';
import { FrameRenderer } from './renderFrame';
import type { Sources } from './sources';

const WIDTH = 320,
  HEIGHT = 200,
  FRAME = 1005,
  PLATE_SOFT = 1.3;
const clip: NewClip = {
  ...{ name: 'plate', role: 'performance', media: { path: 'plate' }, width: WIDTH, height: HEIGHT, frames: 24, rate: { num: 24, den: 1 } },
  ...{ alpha: false, bits: 16, transfer: 'srgb', start: 1001 },
};
/** Bars of greys, 20 px wide, whose edges are spread by a Gaussian of deviation `soft`, under grain; black bars above and below. */
function plateOf(soft: number, grain: number, frame: number): Codes {
  const data = new Uint16Array(WIDTH * HEIGHT * 3),
    level = (bar: number) => 0.2 + 0.7 * (hash(bar, 2, 9) / 4294967296),
    // Close to the integral of a Gaussian.
    step = (d: number) => 1 / (1 + Math.exp(-(1.5976 * d + 0.070566 * d ** 3)));
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const at = x + 0.5,
        edge = Math.round(at / 20),
        value = level(edge - 1) + (level(edge) - level(edge - 1)) * step((at - edge * 20) / soft),
        bars = y < 20 || y >= HEIGHT - 20;
      for (let c = 0; c < 3; c++, i++) {
        const n = (hash(x, y, frame, c) + hash(x, y, frame, c + 3) + hash(x, y, frame, c + 6)) / 4294967296 - 1.5;
        data[i] = bars ? 0 : Math.round(65535 * Math.min(1, Math.max(0, value + grain * n)));
      }
    }
  return { width: WIDTH, height: HEIGHT, channels: 3, bits: 16, data };
}
function sources(soft: number, grain: number): Sources & { asked: number[] } {
  const asked: number[] = [];
  return {
    asked,
    frame(_, frame) {
      asked.push(frame);
      return Promise.resolve(plateOf(soft, grain, frame));
    },
    samples: () => Promise.resolve([]),
  };
}
/** Big discs of paint that cover what is behind them, drawn pixel by pixel and without grain. */
const discs: Edit = addRow({
  ...{ id: 'r1', effect: 'emitter', lane: 'foreground', subject: null, start: 1001, length: 24 },
  values: {
    ...{
      reach: 0,
      rate: 0,
      burst: 1,
      size: 60,
      sizeVariation: 0,
      grows: 100,
      flicker: 0,
      behind: 0,
      otherShare: 0,
      sprite: 'disc',
      paint: 'paint',
      strength: 1000,
      life: 200,
    },
    ...{
      lifeVariation: 0,
      speed: 0,
      spread: 0,
      wind: 0,
      turbulence: 0,
      settle: 0,
      shutter: 0,
      fadeIn: 0,
      fadeOut: 0,
      young: '#808080',
      old: '#808080',
    },
  } as never,
});
const off = changeMatch({ grain: 0, edges: 'as they are drawn' });
const shotWith = (...edits: Edit[]): Shot =>
  [addClip(clip, 'c1'), ...edits].reduce(
    (now, edit) => applyEdit(now, edit).shot,
    newShot({ code: 'filmed', width: WIDTH, height: HEIGHT, rate: { num: 24, den: 1 }, frames: 24 }),
  );
async function drawn(shot: Shot, soft = PLATE_SOFT, grain = 0.03, frame = FRAME): Promise<Picture> {
  const renderer = new FrameRenderer(sources(soft, grain), { width: WIDTH, height: HEIGHT }, 96 * 2 ** 20, undefined, false);
  return renderer.renderFrame({ shot, frame }, (p) => ({ ...p, data: Float32Array.from(p.data) }));
}
const rootOf = (p: Picture, i: number) =>
  Math.sqrt(Math.max(0, 0.2126 * p.data[4 * i]! + 0.7152 * p.data[4 * i + 1]! + 0.0722 * p.data[4 * i + 2]!));
const deviation = (values: readonly number[]) => {
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  return Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length);
};
/** Pixels that the discs cover, and those that are far from all of them. */
function places(painted: Picture, plate: Picture): { covered: number[]; far: number[] } {
  const other = (x: number, y: number) => painted.data[4 * (y * WIDTH + x)] !== plate.data[4 * (y * WIDTH + x)],
    all = (x: number, y: number, is: boolean) => [-6, 0, 6].every((j) => [-6, 0, 6].every((k) => other(x + k, y + j) === is)),
    covered: number[] = [],
    far: number[] = [];
  for (let y = 26; y < HEIGHT - 26; y++)
    for (let x = 6; x < WIDTH - 6; x++) {
      if (all(x, y, true)) covered.push(y * WIDTH + x);
      if (all(x, y, false)) far.push(y * WIDTH + x);
    }
  return { covered, far };
}

test('what an effect draws has the grain of the plate by default, and the plate keeps its own to the bit; black bars do not count', async () => {
  const [plate, bare, grained] = [await drawn(shotWith()), await drawn(shotWith(discs, off)), await drawn(shotWith(discs))] as const,
    { covered, far } = places(bare, plate),
    flat = Array.from({ length: 40 }, (_, y) => Array.from({ length: 8 }, (__, x) => rootOf(plate, (y + 60) * WIDTH + x + 6))).flat();
  expect(covered.length).toBeGreaterThan(1000);
  expect(far.length).toBeGreaterThan(10_000);
  expect(deviation(covered.map((i) => rootOf(bare, i)))).toBeLessThan(1e-3);
  expect(Math.abs(deviation(covered.map((i) => rootOf(grained, i))) / deviation(flat) - 1)).toBeLessThan(0.3);
  expect(far.filter((i) => grained.data[4 * i] !== plate.data[4 * i])).toEqual([]);
  // Another one on the next frame, and the same when it is drawn again.
  const [again, next] = [await drawn(shotWith(discs)), await drawn(shotWith(discs), PLATE_SOFT, 0.03, FRAME + 1)];
  expect(again.data).toEqual(grained.data);
  expect(covered.filter((i) => next.data[4 * i] === grained.data[4 * i]).length).toBeLessThan(0.01 * covered.length);
});

test('an amount is a part of the grain of the plate, and an effect Grain takes its place', async () => {
  const edges = { edges: 'as they are drawn' },
    plate = await drawn(shotWith()),
    bare = await drawn(shotWith(discs, off)),
    { covered } = places(bare, plate),
    strength = async (...edits: Edit[]) => {
      const picture = await drawn(shotWith(discs, changeMatch(edges), ...edits));
      return deviation(covered.map((i) => rootOf(picture, i)));
    },
    whole = await strength(),
    grain = (amount: number) => addRow({ id: 'r2', effect: 'grain', lane: 'whole', subject: null, values: { amount } });
  expect((await strength(changeMatch({ grain: 50 }))) / whole).toBeCloseTo(0.5, 1);
  expect(await strength(changeMatch({ grain: 0 }))).toBeLessThan(1e-3);
  expect((await strength(grain(200))) / whole).toBeGreaterThan(1.7);
  expect((await strength(grain(50), changeMatch({ grain: 400 }))) / whole).toBeLessThan(0.6);
});

test('what changes the whole picture comes after the grain: it grades that too', async () => {
  const darker = addRow({ id: 'r2', effect: 'grade', lane: 'whole', subject: null, values: { exposure: -2 } }),
    [before, after] = [await drawn(shotWith(discs)), await drawn(shotWith(discs, darker))];
  for (let i = 0; i < before.data.length; i += 37) if ((i & 3) < 3) expect(after.data[i]).toBeCloseTo(before.data[i]! / 4, 5);
});

test('drawn edges are as soft as those of the plate by default, and stay as they are before a sharp one', async () => {
  const slope = async (soft: number, ...edits: Edit[]) => {
      // Of their cover alone, which a pass without the base has.
      const { data } = await drawn(passOf(shotWith(discs, ...edits), 'effects').shot, soft, 0);
      let most = 0;
      for (let i = 3; i + 4 < data.length; i += 4) most = Math.max(most, Math.abs(data[i]! - data[i + 4]!));
      return most;
    },
    sharp = await slope(PLATE_SOFT, off),
    softened = await slope(PLATE_SOFT);
  // A step of 1 that is spread by a deviation s rises by 1 / (s sqrt(2 pi)) a pixel: 0.31 here. A drawn one rises within about a pixel.
  expect(softened / sharp).toBeGreaterThan(0.28);
  expect(softened / sharp).toBeLessThan(0.5);
  expect(await slope(0.05)).toBe(await slope(0.05, off));
});

test('one measure for all frames; passes without the base are soft, and have no grain', async () => {
  const from = sources(PLATE_SOFT, 0.03),
    renderer = new FrameRenderer(from, { width: WIDTH, height: HEIGHT }, 96 * 2 ** 20, undefined, false),
    shot = shotWith(discs);
  for (const frame of [1005, 1006, 1007]) await renderer.renderFrame({ shot, frame }, () => undefined);
  expect(from.asked.filter((frame) => frame === 0)).toHaveLength(1);
  const [on, sharp] = [await drawn(passOf(shot, 'effects').shot), await drawn(passOf(shotWith(discs, off), 'effects').shot)],
    middle = sharp.data.findIndex((v, i) => (i & 3) === 3 && v === 1);
  expect(middle).toBeGreaterThan(0);
  expect(on.data.filter((v, i) => (i & 3) === 3 && v > 0.02 && v < 0.98).length).toBeGreaterThan(
    1.6 * sharp.data.filter((v, i) => (i & 3) === 3 && v > 0.02 && v < 0.98).length,
  );
  const solid = new Set(Array.from(on.data).filter((_, i) => (i & 3) === 0 && on.data[i + 3] === 1));
  expect(solid.size).toBeLessThan(5);
});
