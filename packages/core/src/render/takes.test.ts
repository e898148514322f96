import { fractal2, hash, newPicture, type Codes, type Picture } from '../image';
import * as s from '../shot';
import type { Shot } from '../shot';
import { FrameRenderer } from './renderFrame';
import type { Sources } from './sources';
import { bestOffset, lightAgainst, placeAgainst } from './takes';

/*
 * Two takes of one wall, each with a body that walks its own way: the second is seen from a little beside, turned and larger, in another light, and begins
 * some frames later.
 */
const W = 320,
  H = 192,
  FIRST = 1001,
  LATER = 5,
  MOVED = { x: 5, y: -3, turn: 1.2, size: 1.015 },
  LIGHT = [1.3, 1.15, 0.9] as const;

function frameOf(name: string, frame: number): Codes {
  const data = new Uint8Array(W * H * 3),
    two = name === 'two',
    a = (MOVED.turn * Math.PI) / 180,
    k = 1 / MOVED.size,
    t = two ? frame + LATER : frame,
    // The same walk, taken at other times: what is alike in both.
    walker = [60 + 5 * t, 110 + 12 * Math.sin(t * 0.7)] as const;
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const px = x + 0.5 - W / 2 - (two ? MOVED.x : 0),
        py = y + 0.5 - H / 2 - (two ? MOVED.y : 0),
        u = two ? k * (px * Math.cos(a) + py * Math.sin(a)) : px,
        v = two ? k * (-px * Math.sin(a) + py * Math.cos(a)) : py,
        wall = 0.1 + 0.35 * fractal2(u / 21 + 40, v / 21 + 40, 4, 5),
        dx = u + W / 2 - walker[0],
        dy = v + H / 2 - walker[1],
        body = (dx * dx) / 220 + (dy * dy) / 900 < 1,
        light = body ? 0.04 + 0.06 * fractal2(dx / 6 + 9, dy / 6 + 9, 3, 8) : wall * wall;
      for (let c = 0; c < 3; c++) {
        const lit = light * (two ? LIGHT[c]! : 1),
          code = lit <= 0.0031308 ? 12.92 * lit : 1.055 * lit ** (1 / 2.4) - 0.055;
        data[(y * W + x) * 3 + c] = Math.round(255 * Math.min(1, code) + ((hash(x, y, frame, c) & 255) / 255 - 0.5) * 2);
      }
    }
  return { width: W, height: H, channels: 3, bits: 8, data };
}
const made = new Map<string, Codes>();
const codesOf = (name: string, frame: number): Codes => {
  const key = `${name} ${frame}`;
  if (!made.has(key)) made.set(key, frameOf(name, frame));
  return made.get(key)!;
};
const sources: Sources = { frame: (clip, frame) => Promise.resolve(codesOf(clip.name, frame)), samples: () => Promise.resolve([]) };
const apply = (shot: Shot, ...edits: s.Edit[]) => edits.reduce((now, edit) => s.applyEdit(now, edit).shot, shot);
const clip = (name: string, role: s.Clip['role']): s.NewClip => ({
  ...{ name, role, media: { path: name }, width: W, height: H, frames: 24, rate: { num: 24, den: 1 } },
  ...{ alpha: false, bits: 8, transfer: 'srgb', start: FIRST },
});
const two = () =>
    apply(
      s.newShot({ code: 'two', width: W, height: H, rate: { num: 24, den: 1 }, frames: 30 }),
      s.addClip(clip('one', 'performance'), 'c1'),
      s.addClip(clip('two', 'element'), 'c2'),
    ),
  renderer = () => new FrameRenderer(sources, { width: W, height: H }, 64 * 2 ** 20);

test('the best offset is the one at which what moves is the same', async () => {
  const shot = two(),
    found = await bestOffset(renderer(), shot, shot.clips.c2!, shot.clips.c1!);
  // Its first frame shows what the other shows five frames on.
  expect(found!.by).toBe(LATER);
  expect(found!.likeness).toBeGreaterThan(0.7);
  const moved = apply(shot, s.changeClip('c2', { start: FIRST + LATER }));
  expect((await bestOffset(renderer(), moved, moved.clips.c2!, moved.clips.c1!))!.by).toBe(0);
});

test('where nothing moves in a take, nothing is claimed', async () => {
  const shot = apply(two(), s.setPlaced({ kind: 'clip', id: 'c2' }, 'speed', 0));
  expect(await bestOffset(renderer(), shot, shot.clips.c2!, shot.clips.c1!)).toBeNull();
});

test('place, turn, size and light are brought to the other take, measured on what stands still', async () => {
  const shot = two(),
    it = renderer(),
    at = FIRST + 6,
    place = await placeAgainst(it, shot, shot.clips.c2!, shot.clips.c1!, at);
  expect(Math.hypot(place.shift[0] + MOVED.x, place.shift[1] + MOVED.y)).toBeLessThan(0.25);
  expect(place.turn).toBeCloseTo(-MOVED.turn, 1);
  expect(place.size).toBeCloseTo(1 / MOVED.size, 2);
  expect(place.agrees).toBeGreaterThan(0.6);
  const placed = apply(shot, s.matchPlace(shot, 'c2', place)),
    gains = await lightAgainst(it, placed, placed.clips.c2!, placed.clips.c1!, at);
  gains.forEach((gain, c) => expect(Math.abs(gain * LIGHT[c]! - 1)).toBeLessThan(0.03));
  const matched = apply(placed, s.matchLight(placed, 'c2', gains));
  // A second look finds nothing left to do.
  const again = await placeAgainst(it, matched, matched.clips.c2!, matched.clips.c1!, at);
  expect(Math.hypot(...again.shift)).toBeLessThan(0.2);
  (await lightAgainst(it, matched, matched.clips.c2!, matched.clips.c1!, at)).forEach((gain) => expect(gain).toBeCloseTo(1, 1));
  expect(it.evaluator.arena.inUse).toBe(0);
});

test('what stands in the way of a match is told', () => {
  const shot = two(),
    key = apply(shot, s.setPlacedPoint({ kind: 'clip', id: 'c2' }, 'size', { frame: 0, value: 90, ease: 'linear' }));
  expect(s.whyNotMatch(shot.clips.c2!, 'place')).toBeNull();
  expect(s.whyNotMatch(key.clips.c2!, 'place')).toMatch(/place changes over time/);
  expect(s.whyNotMatch(key.clips.c2!, 'light')).toBeNull();
});

test('onion skins: mixed, the difference, and two tints that are grey where both are alike', async () => {
  const shot = two(),
    it = renderer(),
    draw = (request: { plain: string; skin?: { clip: string; how: 'mixed' | 'difference' | 'two tints' } }): Promise<Picture> =>
      it.renderFrame({ shot, frame: FIRST, ...request }, (p) => ({ ...newPicture(p.width, p.height), data: Float32Array.from(p.data) })),
    [one, other] = [await draw({ plain: 'c1' }), await draw({ plain: 'c2' })],
    i = (90 * W + 40) * 4;
  const mixed = await draw({ plain: 'c1', skin: { clip: 'c2', how: 'mixed' } });
  expect(mixed.data[i]).toBeCloseTo((one.data[i]! + other.data[i]!) / 2, 6);
  const same = await draw({ plain: 'c1', skin: { clip: 'c1', how: 'difference' } });
  expect(same.data.every((v, k) => (k & 3) === 3 || v === 0)).toBe(true);
  const differs = await draw({ plain: 'c1', skin: { clip: 'c2', how: 'difference' } });
  expect(differs.data[i]).toBeCloseTo((2 * (Math.sqrt(one.data[i]!) - Math.sqrt(other.data[i]!))) ** 2, 5);
  const tints = await draw({ plain: 'c1', skin: { clip: 'c1', how: 'two tints' } });
  expect(tints.data[i]).toBeCloseTo(tints.data[i + 2]!, 6);
  const apart = await draw({ plain: 'c1', skin: { clip: 'c2', how: 'two tints' } });
  expect(apart.data[i]).not.toBeCloseTo(apart.data[i + 2]!, 2);
});
