import { Arena, exactMath, newPicture, newPlane, normal, type Picture, type Plane } from '../image';
import { newRefinement, refined, refinementKinds, refinements, refinementsAt, type RefinementKind } from './refinements';

const arena = new Arena(64 * 2 ** 20),
  W = 120,
  H = 90;
afterEach(() => {
  expect(arena.inUse).toBe(0);
});
/** A disc of a radius in the middle, with an edge of one pixel. */
function disc(radius: number): Plane {
  const p = arena.takePlane(W, H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) p.data[y * W + x] = Math.min(1, Math.max(0, radius + 0.5 - exactMath.hypot(x + 0.5 - 60, y + 0.5 - 45)));
  return p;
}
const refine = (p: Plane, kind: RefinementKind, values: Record<string, unknown> = {}, plate: Picture | null = null): Plane =>
  refined(p, refinementsAt([newRefinement('f1', kind, values)], 1), arena, plate && { plate });
const row = (p: Plane) => Array.from(p.data.slice(45 * W + 60, 46 * W));
function use(p: Plane, look: (p: Plane) => void): void {
  look(p);
  arena.give(p);
}

test('each says itself in words, and changes a matte at other values than its idle ones, within 0 and 1', () => {
  for (const kind of refinementKinds) {
    const { title, summary, kind: own, params } = refinements[kind];
    expect(own).toBe(kind);
    expect(title).toMatch(/^[A-Z]/);
    expect(summary).toMatch(/\.$/);
    for (const p of Object.values(params)) expect(p.help).toMatch(/\.$/);
  }
});
test('levels clip what is nearly empty or full, and gamma bends between', () => {
  const p = arena.takePlane(W, H);
  for (let i = 0; i < W * H; i++) p.data[i] = (i % 11) / 10;
  use(refine(p, 'levels', { black: 20, white: 80 }), (q) => {
    for (const [i, v] of [0, 0, 0, 1 / 6, 2 / 6, 0.5, 4 / 6, 5 / 6, 1, 1, 1].entries()) expect(q.data[i]).toBeCloseTo(v, 5);
  });
  const one = arena.takePlane(W, H);
  one.data.fill(0.25);
  use(refine(one, 'levels', { gamma: 2 }), (q) => expect(q.data[7]).toBeCloseTo(0.5, 5));
});
test.each([
  ['inwards', 30, 22],
  ['outwards', 38, 30],
  ['both', 38, 22],
] as const)('a feather %s is a ramp on its side alone', (to, empty, full) => {
  use(refine(disc(30), 'feather', { to, width: 8 }), (p) => {
    const r = row(p);
    // Where it ends, and where it begins: a blur has tails of a few per cent.
    expect(r[empty + 1]).toBeLessThan(0.06);
    expect(r[full - 2]).toBeGreaterThan(0.94);
    const middle = (empty + full) / 2;
    expect(r[middle - 1]! + r[middle]!).toBeGreaterThan(0.7);
    expect(r[middle - 1]! + r[middle]!).toBeLessThan(1.3);
    for (let x = 1; x < r.length; x++) expect(r[x]!).toBeLessThan(r[x - 1]! + 1e-4);
  });
  use(refine(disc(30), 'feather', { to, width: 8 }), (p) => {
    const before = disc(30);
    for (let i = 0; i < W * H; i++) {
      if (to === 'inwards') expect(p.data[i]!).toBeLessThan(before.data[i]! + 1e-4);
      if (to === 'outwards') expect(p.data[i]!).toBeGreaterThan(before.data[i]! - 1e-4);
    }
    arena.give(before);
  });
});
test('smooth corners takes spikes and nicks away and leaves a straight edge where it is, as sharp', () => {
  const p = arena.takePlane(W, H);
  p.data.fill(0);
  for (let y = 0; y < H; y++) p.data.fill(1, y * W, y * W + 60);
  p.data.fill(1, 20 * W + 60, 20 * W + 70);
  p.data.fill(0, 60 * W + 50, 60 * W + 60);
  use(refine(p, 'smooth corners', { radius: 8 }), (q) => {
    expect(q.data[20 * W + 66]).toBe(0);
    expect(q.data[60 * W + 54]).toBe(1);
    const r = Array.from(q.data.slice(40 * W, 41 * W));
    expect(r[58]).toBeGreaterThan(0.95);
    expect(r[61]).toBeLessThan(0.05);
    // The edge stays between its two pixels.
    expect(r.reduce((a, b) => a + b, 0)).toBeCloseTo(60, 1);
  });
});
test("a rough matte is pulled onto the picture's edges: thin strands come out that it misses, and what is even stays", () => {
  const plate = newPicture(W, H),
    truth = newPlane(W, H),
    /** Strands of a pixel and a half that stand out from a body, before a wall with grain. */
    strand = (x: number, y: number) => {
      const base = Math.max(0, Math.min(1, 50.5 - x)),
        hair = x >= 50 && x < 62 ? Math.max(0, Math.min(1, 1.25 - Math.abs(((y + 100) % 9) - 4.5))) : 0;
      return Math.max(base, hair);
    };
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const m = strand(x + 0.5, y + 0.5),
        i = y * W + x;
      truth.data[i] = m;
      for (let c = 0; c < 3; c++) {
        const wall = [0.45, 0.5, 0.62][c]! + 0.008 * normal(3, i, c),
          body = [0.16, 0.1, 0.08][c]!,
          light = m * body * body + (1 - m) * wall * wall;
        plate.data[4 * i + c] = light;
      }
      plate.data[4 * i + 3] = 1;
    }
  // By hand one draws the line of the body, some pixels off.
  const rough = arena.takePlane(W, H);
  for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) rough.data[y * W + x] = x < 56 ? 1 : 0;
  const error = (p: Plane) => {
      let [sum, n] = [0, 0];
      for (let y = 4; y < H - 4; y++)
        for (let x = 42; x < 66; x++) {
          sum += Math.abs(p.data[y * W + x]! - truth.data[y * W + x]!);
          n++;
        }
      return sum / n;
    },
    before = error(rough);
  use(refine(rough, 'follow edges', { radius: 12, noise: 2 }, plate), (p) => {
    console.info(`error along the edge ${before.toFixed(3)} before, ${error(p).toFixed(3)} after`);
    expect(error(p)).toBeLessThan(0.15 * before);
    expect(p.data[45 * W + 10]).toBe(1);
    expect(p.data[45 * W + 110]).toBe(0);
  });
});
test('lengths and areas follow the size of the picture, and what changes nothing is left out', () => {
  const list = [
    newRefinement('f1', 'grow', { by: 3 }),
    newRefinement('f2', 'despeckle', { area: 400 }),
    newRefinement('f3', 'blur', { radius: 0 }),
  ];
  expect(refinementsAt(list, 0.5)).toEqual([
    { kind: 'grow', v: { by: 1.5 } },
    { kind: 'despeckle', v: { area: 100 } },
  ]);
});
