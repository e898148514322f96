import { give, drawOn, standing } from '../../test/effects';
import { Arena, type Picture, type Plane } from '../image';
import type { Frame } from '../motion';
import { materialise } from './materialise';
import { partAt, partsOf } from './partsOf';
import type { StoredValue } from './index';

const arena = new Arena(128 * 2 ** 20),
  [W, H] = [240, 200];
afterEach(() => arena.reset());

/** A trunk of 40 px from row 40 on, and below row 120 two legs of 12 px. */
const figure = (dx = 0): Plane => {
  const out = arena.takePlane(W, H);
  for (let y = 0, p = 0; y < H; y++)
    for (let x = 0; x < W; x++, p++) {
      const u = x - dx;
      out.data[p] = y < 40 || y >= 180 ? 0 : y < 120 ? +(u >= 100 && u < 140) : +((u >= 100 && u < 112) || (u >= 128 && u < 140));
    }
  return out;
};
const red = (): Picture => {
  const out = arena.takePicture(W, H);
  for (let i = 0; i < out.data.length; i += 4) out.data.set([0.5, 0.05, 0.02, 1], i);
  return out;
};
/** Motes alone, with the body half there. */
const motes = (more: Record<string, StoredValue> = {}, mount: Frame = standing(120, 110), dx = 0) => {
    const { front, behind } = give(
      materialise,
      {
        ...{
          progress: 40,
          shape: 'direction',
          direction: -90,
          from: [0, 80],
          extent: 150,
          ragged: 0,
          light: 0,
          blurred: 0,
          bright: 0,
          own: 100,
        },
        ...{ motes: 30, orbit: 40, streak: 0, rings: 0, moteStrength: 100 },
        ...more,
      },
      { matte: figure(dx), plate: red(), mount },
      drawOn(arena, W, H, { subjectPixels: 140 }),
    );
    return { front: front!, behind: behind! };
  },
  total = (p: Picture, c = 3, within: (x: number, y: number) => boolean = () => true) => {
    let sum = 0;
    for (let k = 0; k < W * H; k++) if (within(k % W, Math.floor(k / W))) sum += p.data[4 * k + c]!;
    return sum;
  };

test('the parts of a body are its runs: a trunk, and each leg for itself', () => {
  const parts = partsOf(figure(), 1);
  expect(partAt(parts, 120, 70)).toEqual([120, 20]);
  for (const [x, middle] of [
    [104, 106],
    [134, 134],
  ] as const) {
    const [at, half] = partAt(parts, x, 160)!;
    expect(Math.abs(at - middle)).toBeLessThan(2);
    expect(half).toBeGreaterThan(4);
    expect(half).toBeLessThan(9);
  }
  expect(partAt(parts, 120, 160)).toBeNull();
  expect(partAt(parts, 60, 70)).toBeNull();
});
test('motes of matter have the colours of the body and cover what is behind them; glowing ones only add', () => {
  const { front } = motes(),
    glowing = motes({ bright: 100, moteColour: '#80a0ff' }).front;
  expect(total(front)).toBeGreaterThan(30);
  expect(total(front, 0) / total(front)).toBeGreaterThan(0.4);
  expect(total(front, 0) / total(front)).toBeLessThan(0.6);
  expect(total(front, 1)).toBeCloseTo(0.1 * total(front, 0), 0);
  expect(total(glowing)).toBe(0);
  expect(total(glowing, 2)).toBeGreaterThan(total(glowing, 0));
});
test('in rings they go round the part that they come to, before it and behind it, and not far from it', () => {
  const { front, behind } = motes({ rings: 100, orbit: 0 }),
    beside = (p: Picture) => total(p, 3, (x) => x < 98 || x >= 142);
  expect(beside(front) + beside(behind)).toBeGreaterThan(0.25 * (total(front) + total(behind)));
  expect(total(behind)).toBeGreaterThan(0.3 * total(front));
  // A ring about a trunk of 40 px is at most 1.65 times as wide.
  for (const p of [front, behind]) expect(total(p, 3, (x) => x < 120 - 36 || x >= 120 + 36)).toBe(0);
  const spiral = motes({ orbit: 0 });
  expect(beside(spiral.front)).toBeLessThan(0.1 * total(spiral.front));
});
test('streaks make motes longer, not brighter in all', () => {
  const count = (p: Picture) => p.data.filter((v, i) => (i & 3) === 3 && v > 0.02).length,
    [plain, long] = [motes({ turns: 1.5 }).front, motes({ turns: 1.5, streak: 12 }).front];
  expect(count(long)).toBeGreaterThan(1.5 * count(plain));
  expect(total(long)).toBeGreaterThan(total(plain));
  expect(total(long)).toBeLessThan(3 * total(plain));
});
test('places go with the mount: what is moved whole is drawn moved, where they stand still it is not', () => {
  const moved = (places: string) => {
    const [a, b] = [motes({ places }).front, motes({ places }, standing(127, 110), 7).front];
    let [off, sum] = [0, 0];
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W - 7; x++) {
        off += Math.abs(a.data[4 * (y * W + x) + 3]! - b.data[4 * (y * W + x + 7) + 3]!);
        sum += a.data[4 * (y * W + x) + 3]!;
      }
    return off / sum;
  };
  expect(moved('with the mount')).toBeLessThan(0.02);
  expect(moved('not at all')).toBeGreaterThan(0.3);
});
test('light follows the dark and bright parts of the body as far as it is told to', () => {
  const striped = red();
  for (let k = 0; k < W * H; k++) if (k % W < 120) striped.data.set([0.02, 0.02, 0.02], 4 * k);
  const lit = (detail: number) => {
    const { light } = give(
        materialise,
        {
          progress: 45,
          shape: 'direction',
          direction: -90,
          from: [0, 80],
          extent: 150,
          ragged: 0,
          motes: 0,
          blurred: 0,
          zone: 60,
          bodyLight: detail,
        },
        { matte: figure(), plate: striped, mount: standing(120, 110) },
        drawOn(arena, W, H, { subjectPixels: 140 }),
      ),
      half = (from: number, to: number) => {
        let sum = 0;
        for (let k = 0; k < light!.data.length / 4; k++) if (k % (W / 2) >= from && k % (W / 2) < to) sum += light!.data[4 * k]!;
        return sum;
      };
    return half(60, W / 2) / half(0, 60);
  };
  expect(lit(0)).toBeCloseTo(1, 1);
  expect(lit(100)).toBeGreaterThan(2);
});
