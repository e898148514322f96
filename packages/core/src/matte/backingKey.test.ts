import { Arena, exactMath, newPicture, newPlane, normal, type Picture, type Plane } from '../image';
import { cutOut } from '../image/planeMath';
import { keyBacking, type BackingKey } from './backingKey';
import { chromaMatte } from './keys';
import { backingBehind, ofLuminanceOne, takeOutSpill } from './spill';

const arena = new Arena(96 * 2 ** 20),
  W = 320,
  H = 200;
afterEach(() => {
  expect(arena.inUse).toBe(0);
});
type Colour = [number, number, number];
const { hypot } = exactMath,
  clamp = (v: number) => Math.min(1, Math.max(0, v)),
  GREEN: Colour = [0.03, 0.36, 0.07],
  SKIN: Colour = [0.52, 0.27, 0.19],
  HAIR: Colour = [0.035, 0.024, 0.02],
  CLOTH: Colour = [0.6, 0.58, 0.55];

/** Somebody before a green backing whose light falls from left to right: a head with hair that flies, cloth, and an arm that a move has blurred. */
interface Scene {
  plate: Picture;
  /** Coverage, and the subject's own light where it covers anything. */
  truth: Plane;
  own: Colour[];
}
function filmed(grain: number, backing = GREEN): Scene {
  const plate = newPicture(W, H),
    truth = newPlane(W, H),
    own: Colour[] = [];
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const k = y * W + x,
        lit = 1.25 - (0.6 * x) / W - 0.1 * (y / H),
        head = clamp(34.5 - hypot(x - 110, y - 70)),
        trunk = x > 80 && x < 150 ? clamp(Math.min(x - 80, 150 - x, y - 95) + 0.5) : 0,
        // Strands of 1 to 2 px that leave the head to the left.
        strand =
          x > 40 && x < 100 && y > 30 && y < 100 ? Math.max(0, clamp(0.9 - Math.abs(((y + 0.2 * x) % 8) - 4)) * clamp((x - 40) / 30)) : 0,
        // An arm of 16 px whose move of 24 px was exposed.
        arm = x > 140 && x < 260 ? clamp(Math.min((y - 104) / 24, (144 - y) / 24)) : 0,
        alpha = Math.max(head, trunk, strand, arm),
        colour = head >= alpha && y > 62 ? SKIN : arm >= alpha && arm > trunk ? SKIN : trunk >= alpha ? CLOTH : HAIR;
      truth.data[k] = alpha;
      own[k] = colour;
      for (let c = 0; c < 3; c++) {
        const v = alpha * colour[c]! + (1 - alpha) * backing[c]! * lit,
          coded = Math.sqrt(Math.max(0, v)) + (grain / 255) * normal(5, k, c);
        plate.data[4 * k + c] = Math.max(0, coded) * Math.max(0, coded);
      }
      plate.data[4 * k + 3] = 1;
    }
  return { plate, truth, own };
}
const coded = (light: Colour) => light.map((v) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055)) as Colour,
  usual: BackingKey = { outside: 0.06, core: 0.8, edge: 10, even: false };

/** The mean error of display colour along the edge, 0..255, laid over light of a colour. */
function edgeError({ plate, truth, own }: Scene, matte: Plane, over: Colour, backing = GREEN): number {
  const behind = backingBehind(plate, matte, backing, arena),
    cut = cutOut(plate, matte, behind, 1, arena);
  takeOutSpill(cut, backing, { share: 1, instead: null });
  let [sum, n] = [0, 0];
  for (let k = 0; k < W * H; k++) {
    const a = truth.data[k]!;
    if (a <= 0.02 || a >= 0.98) continue;
    for (let c = 0; c < 3; c++) {
      const is = cut.data[4 * k + c]! + (1 - cut.data[4 * k + 3]!) * over[c]!,
        right = a * own[k]![c]! + (1 - a) * over[c]!;
      sum += 255 * Math.abs(Math.sqrt(Math.max(0, is)) - Math.sqrt(right));
    }
    n += 3;
  }
  arena.give(behind);
  arena.give(cut);
  return sum / n;
}

/** The mean error of coverage where it is soft. */
function softError({ truth }: Scene, matte: Plane): number {
  let [sum, n] = [0, 0];
  for (let k = 0; k < W * H; k++)
    if (truth.data[k]! > 0.02 && truth.data[k]! < 0.98) {
      sum += Math.abs(matte.data[k]! - truth.data[k]!);
      n++;
    }
  return sum / n;
}

test.each([
  ['black', [0, 0, 0], 9, 1],
  ['white', [1, 1, 1], 6, 0.15],
  ['orange', [0.8, 0.3, 0.05], 4, 0.2],
] as [string, Colour, number, number][])('hair and blurred motion stand before %s without a fringe', (name, over, most, share) => {
  const scene = filmed(2),
    fine = keyBacking(scene.plate, coded(GREEN), usual, arena),
    coarse = chromaMatte(scene.plate, coded(GREEN), { tolerance: 30, softness: 45 }, arena),
    [now, before] = [edgeError(scene, fine, over), edgeError(scene, coarse, over)];
  console.info(
    `before ${name}: ${now.toFixed(1)} of 255 along the edge, by distance ${before.toFixed(1)}; coverage off by ${softError(scene, fine).toFixed(3)}`,
  );
  expect(now).toBeLessThan(most);
  expect(now).toBeLessThan(share * before);
  arena.give(fine);
  arena.give(coarse);
});
test('a blue backing and twice the grain: solid inside, nothing outside, soft where it is soft', () => {
  const blue: Colour = [0.03, 0.08, 0.42],
    scene = filmed(4, blue),
    matte = keyBacking(scene.plate, coded(blue), usual, arena);
  let [holes, beside] = [0, 0];
  for (let k = 0; k < W * H; k++) {
    if (scene.truth.data[k] === 1 && matte.data[k]! < 0.9) holes++;
    if (scene.truth.data[k] === 0 && matte.data[k]! > 0.1) beside++;
  }
  console.info(
    `blue: ${holes} holes, ${beside} beside, soft ${softError(scene, matte).toFixed(3)}, before white ${edgeError(scene, matte, [1, 1, 1], blue).toFixed(1)}`,
  );
  expect(holes / (W * H)).toBeLessThan(0.002);
  expect(beside / (W * H)).toBeLessThan(0.002);
  expect(softError(scene, matte)).toBeLessThan(0.06);
  arena.give(matte);
});
test('a backing that is followed where its light is uneven is keyed cleaner than one of one colour', () => {
  const scene = filmed(2),
    [followed, flat] = [false, true].map((even) => keyBacking(scene.plate, coded(GREEN), { ...usual, even }, arena)) as [Plane, Plane];
  expect(softError(scene, followed)).toBeLessThan(0.75 * softError(scene, flat));
  arena.give(followed);
  arena.give(flat);
});
test('spill goes, and its brightness comes back in grey or in a colour, by its share', () => {
  const lit = (share: number, instead: Colour | null) => {
      const p = newPicture(1, 1);
      p.data.set([0.3, 0.5, 0.2, 1]);
      takeOutSpill(p, GREEN, { share, instead });
      return [...p.data.slice(0, 3)].map((v) => Number(v.toFixed(4)));
    },
    luma = (c: number[]) => 0.2126 * c[0]! + 0.7152 * c[1]! + 0.0722 * c[2]!;
  expect(lit(1, null)).toEqual([0.3, 0.25, 0.2]);
  expect(lit(0.5, null)).toEqual([0.3, 0.375, 0.2]);
  const grey = lit(1, [1, 1, 1]),
    warm = lit(1, ofLuminanceOne([0.8, 0.4, 0.1]));
  expect(luma(grey)).toBeCloseTo(luma([0.3, 0.5, 0.2]), 3);
  expect(luma(warm)).toBeCloseTo(luma([0.3, 0.5, 0.2]), 3);
  expect(grey[0]! - 0.3).toBeCloseTo(grey[2]! - 0.2, 4);
  expect(warm[0]! - 0.3).toBeGreaterThan(warm[2]! - 0.2);
});
test('somebody who has no solid part is keyed by excess alone, and an empty backing is empty', () => {
  const plate = newPicture(W, H);
  for (let k = 0; k < W * H; k++) plate.data.set([...GREEN, 1], 4 * k);
  const empty = keyBacking(plate, coded(GREEN), usual, arena);
  expect(Math.max(...empty.data)).toBe(0);
  plate.data.set([0.3, 0.3, 0.3, 1], 4 * (50 * W + 50));
  const dot = keyBacking(plate, coded(GREEN), usual, arena);
  expect(dot.data[50 * W + 50]).toBe(1);
  arena.give(empty);
  arena.give(dot);
});
