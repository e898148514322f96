import { exactMath, newPlane, type Plane } from '../image';
import { doubtfulMattes, measureMatte } from './matteDoubts';

const W = 160,
  H = 90;
/** A walker whose legs swing, on a frame; `change` alters the matte of one frame. */
function walker(frame: number): Plane {
  const p = newPlane(W, H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const dx = x - (30 + 1.5 * frame),
        legs = y > 55 && y < 80 && Math.abs(Math.abs(dx) - 6 * Math.abs(exactMath.sin(frame / 3)) * ((y - 55) / 25)) < 3;
      if ((Math.abs(dx) < 8 && y > 20 && y <= 55) || legs) p.data[y * W + x] = 1;
    }
  return p;
}
const look = (change: (plane: Plane, frame: number) => void = () => undefined) => {
  const planes = Array.from({ length: 40 }, (_, frame) => {
    const plane = walker(frame);
    change(plane, frame);
    return plane;
  });
  return doubtfulMattes(planes.map((p, i) => measureMatte(i, p, planes[i - 1] ?? null, planes[i + 1] ?? null)));
};
const box = (p: Plane, x: number, y: number, side: number, value: number) => {
  for (let j = 0; j < side; j++) p.data.fill(value, (y + j) * W + x, (y + j) * W + x + side);
};

test('a walk with swinging legs is not doubted', () => {
  expect(look()).toEqual([]);
});
test('one who comes nearer, ever faster, is not doubted', () => {
  const planes = Array.from({ length: 40 }, (_, frame) => {
    const plane = newPlane(W, H),
      half = 4 + 0.0004 * frame * frame * frame;
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++)
        plane.data[y * W + x] =
          Math.min(1, Math.max(0, half + 0.5 - Math.abs(x - 80))) * Math.min(1, Math.max(0, 1.2 * half + 0.5 - Math.abs(y - 45)));
    return plane;
  });
  expect(doubtfulMattes(planes.map((p, i) => measureMatte(i, p, planes[i - 1] ?? null, planes[i + 1] ?? null)))).toEqual([]);
});
test.each([
  ['is empty', (p: Plane) => p.data.fill(0)],
  ['has a hole', (p: Plane, f: number) => box(p, Math.round(30 + 1.5 * f) - 3, 35, 6, 0)],
  ['jumps in size', (p: Plane) => box(p, 120, 10, 24, 1)],
  ['is half there', (p: Plane, f: number) => box(p, Math.round(30 + 1.5 * f) - 7, 24, 13, 0.6)],
] as const)('a frame on which it %s is told, and none else', (reason, change) => {
  const found = look((p, f) => void (f === 17 && change(p, f)));
  expect(found.find((d) => d.frame === 17)).toMatchObject({ reason });
  // Its neighbours differ from it too, but less.
  expect(found.filter((d) => d.frame !== 17)).toEqual([]);
});
test('an edge that jitters on some frames is told of these', () => {
  const found = look((p, f) => {
    if (f === 20 || f === 26) {
      const x = Math.round(30 + 1.5 * f);
      for (let y = 22; y < 54; y++) p.data.fill(1, y * W + x - 11, y * W + x - 7);
      for (let y = 22; y < 54; y++) p.data.fill(0, y * W + x + 6, y * W + x + 9);
    }
  });
  expect(found.map((d) => [d.frame, d.reason])).toEqual([
    [20, 'flickers'],
    [26, 'flickers'],
  ]);
});
test('a matte that is empty everywhere has no doubtful frame', () => {
  expect(look((p) => void p.data.fill(0))).toEqual([]);
});
test('a part that reaches outside of its subject is told of on those frames', () => {
  const whole = walker(10),
    arm = newPlane(W, H),
    off = newPlane(W, H);
  box(arm, 40, 30, 10, 1);
  box(off, 52, 30, 10, 1);
  const measures = [arm, arm, off, arm].map((p, i) => measureMatte(i, p, null, null, whole));
  expect(measures[0]!.outside).toBe(0);
  expect(doubtfulMattes(measures)).toMatchObject([{ frame: 2, reason: 'reaches outside its subject' }]);
});
