import { newPlane, type Plane } from '../image';
import { BodyFollower, brighterThan, type FollowedBody } from './bodyFollower';
import { insideOf } from './inside';

const W = 320,
  H = 180,
  FACTOR = 2;
interface Walker {
  x: number;
  /** Pixels of the small matte a frame. */
  speed: number;
  y: number;
  tall: number;
}
/** A walker: a trunk with a head, and legs that swing. */
function covers(w: Walker, frame: number, x: number, y: number): boolean {
  const dx = x - (w.x + w.speed * frame),
    dy = y - w.y,
    k = w.tall / 60,
    swing = 9 * Math.sin(frame / 2) * k;
  if (Math.hypot(dx, dy + 25 * k) < 6 * k) return true;
  if (Math.abs(dx) < 7 * k && dy > -20 * k && dy < 8 * k) return true;
  const down = (dy - 8 * k) / (22 * k);
  return down >= 0 && down <= 1 && (Math.abs(dx - swing * down) < 3 * k || Math.abs(dx + swing * down) < 3 * k);
}
const matteOf = (walkers: readonly Walker[], frame: number): Plane => {
  const plane = newPlane(W, H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) if (walkers.some((w) => covers(w, frame, x + 0.5, y + 0.5))) plane.data[y * W + x] = 1;
  return plane;
};
const hers: Walker = { x: 60, speed: 3, y: 90, tall: 60 },
  his: Walker = { x: 250, speed: -3, y: 94, tall: 66 },
  far: Walker = { x: 40, speed: 0.6, y: 40, tall: 30 };
function follow(walkers: readonly Walker[], pressed: number, frames: number): FollowedBody[] {
  const begin = () => new BodyFollower(FACTOR, matteOf(walkers, pressed), [2 * (hers.x + hers.speed * pressed), 2 * hers.y]),
    [there, back] = [begin(), begin()],
    bodies = [there.at(matteOf(walkers, pressed), pressed)];
  back.at(matteOf(walkers, pressed), pressed);
  for (let f = pressed + 1; f < frames; f++) bodies.push(there.at(matteOf(walkers, f), f));
  for (let f = pressed - 1; f >= 0; f--) bodies.push(back.at(matteOf(walkers, f), f));
  return bodies.sort((a, b) => a.frame - b.frame);
}
/** The share of a walker that lies within the loose outline of a body. */
function within(body: FollowedBody, w: Walker): number {
  const inside = insideOf(body.around);
  let [all, held] = [0, 0];
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++)
      if (covers(w, body.frame, x + 0.5, y + 0.5)) {
        all++;
        if (inside([2 * x + 1, 2 * y + 1])) held++;
      }
  return held / all;
}

test('one of three is followed to both sides of the frame on which it was pressed, whole, and the others are left out', () => {
  const bodies = follow([hers, his, far], 12, 26);
  expect(bodies.map((b) => b.frame)).toEqual(Array.from({ length: 26 }, (_, f) => f));
  for (const body of bodies) {
    const x = 2 * (hers.x + hers.speed * body.frame);
    expect(Math.abs(body.middle[0] - x)).toBeLessThan(6);
    expect(within(body, hers)).toBeGreaterThan(0.985);
    expect(within(body, far)).toBeLessThan(0.2);
    expect(body.sure).toBeGreaterThan(0.7);
    expect(body.box![3] - body.box![1]).toBeGreaterThan(110);
  }
});

test('where another one crosses it goes on its way, says that it is less sure, and leaves the other one afterwards', () => {
  const bodies = follow([hers, his], 4, 60),
    crossing = bodies.filter((b) => Math.abs(hers.x + hers.speed * b.frame - (his.x + his.speed * b.frame)) < 14);
  expect(crossing.length).toBeGreaterThan(3);
  for (const body of crossing) expect(body.sure).toBeLessThan(0.5);
  for (const body of bodies) expect(Math.abs(body.middle[0] - 2 * (hers.x + hers.speed * body.frame))).toBeLessThan(24);
  const after = bodies.filter((b) => b.frame > 45);
  for (const body of after) {
    expect(within(body, hers)).toBeGreaterThan(0.97);
    expect(within(body, his)).toBeLessThan(0.1);
    expect(body.sure).toBeGreaterThan(0.7);
  }
});

test('one that leaves the picture is not there, and one that comes back is found', () => {
  const bodies = follow([{ ...hers, speed: 3 }], 60, 110);
  expect(bodies.at(-1)).toMatchObject({ area: 0, box: null, sure: 0 });
  expect(bodies[20]!.area).toBeGreaterThan(2000);
});

test('light on the ground that hangs on it makes every frame doubtful, and a picture that is full of what moves is no body', () => {
  const lit = matteOf([hers], 0),
    full = newPlane(W, H);
  for (let y = 108; y < H; y++) lit.data.fill(1, y * W, y * W + 200);
  const body = new BodyFollower(FACTOR, lit, [2 * hers.x, 2 * hers.y]).at(lit, 0);
  expect(body.spreads).toBe(true);
  expect(body.sure).toBeLessThan(0.35);
  full.data.fill(1, 0, W * 90);
  expect(() => new BodyFollower(FACTOR, full, [100, 100])).toThrow(/is 50 % of the picture, more than a body: .* carry it on\.$/);
});

test('what is lost without shadow are dark clothes, not the light that a lamp throws and not the feet', () => {
  const body = matteOf([hers], 0),
    // With shadow and light kept it is larger: a halo beside its head.
    kept = matteOf([hers], 0),
    halo = (x: number, y: number) => Math.hypot(x - 48, y - 62) < 14,
    frame = newPlane(2 * W, 2 * H),
    clean = newPlane(2 * W, 2 * H);
  clean.data.fill(0.3);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      if (halo(x, y)) kept.data[y * W + x] = 1;
      for (const [i, j] of [
        [0, 0],
        [1, 0],
        [0, 1],
        [1, 1],
      ] as const)
        frame.data[(2 * y + j) * 2 * W + 2 * x + i] = covers(hers, 0, x + 0.5, y + 0.5) ? 0.1 : halo(x, y) ? 0.4 : 0.3;
    }
  const follower = new BodyFollower(FACTOR, kept, [2 * hers.x, 2 * hers.y]),
    own = new BodyFollower(FACTOR, body, [2 * hers.x, 2 * hers.y]),
    lit = brighterThan(frame, clean, FACTOR);
  expect(lit.data.reduce((n, v) => n + v, 0)).toBeGreaterThan(300);
  expect(follower.lostWith(own, body, null)).toBeGreaterThan(0.1);
  expect(follower.lostWith(own, body, lit)).toBe(0);
  // Its trunk is as dark as a shadow, and its feet are in one.
  const eaten = matteOf([hers], 0),
    feetless = matteOf([hers], 0);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      if (y > 80 && y < 98) eaten.data[y * W + x] = 0;
      if (y > 117) feetless.data[y * W + x] = 0;
    }
  expect(follower.lostWith(own, eaten, lit)).toBeGreaterThan(0.2);
  expect(follower.lostWith(own, feetless, lit)).toBe(0);
});

test('where nothing stands before the clean plate it says so', () => {
  expect(() => new BodyFollower(FACTOR, matteOf([hers], 0), [600, 20])).toThrow(/^Nothing stands before the clean plate there\. .*\.$/);
});
