import { testMemory } from './testMemory';

/** Grids that hold together: their passes, what they come to, and half of them. */
const { kernels, fresh, random, floats } = testMemory(51);
beforeEach(fresh);
type Grid = {
  width: number;
  height: number;
  stride: number;
  said: Plane;
  weight: Plane;
  right: Plane;
  below: Plane;
  v: Plane;
  part: Plane;
};
type Plane = ReturnType<typeof floats>;
const at = (g: Pick<Grid, 'stride'>, x: number, y: number) => (y + 1) * g.stride + 4 + x;

function gridOf(width: number, height: number): Grid {
  const stride = ((width + 3) & ~3) + 8,
    plane = () => floats(stride * (height + 2), () => 0),
    g: Grid = { width, height, stride, said: plane(), weight: plane(), right: plane(), below: plane(), v: plane(), part: plane() };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const p = at(g, x, y);
      g.weight.data[p] = random() < 0.3 ? random() : 0.01;
      g.said.data[p] = g.weight.data[p]! * random();
      g.right.data[p] = x + 1 < width ? 0.05 + random() : 0;
      g.below.data[p] = y + 1 < height ? 0.05 + random() : 0;
      g.v.data[p] = random();
    }
  return g;
}
/** What holds a cell to the values about it, and all of that together. */
function pullOf(g: Grid, p: number, v: ArrayLike<number>): [sum: number, all: number] {
  const [r, l, a, b] = [g.right.data[p]!, g.right.data[p - 1]!, g.below.data[p - g.stride]!, g.below.data[p]!];
  return [g.said.data[p]! + r * v[p + 1]! + l * v[p - 1]! + a * v[p - g.stride]! + b * v[p + g.stride]!, g.weight.data[p]! + r + l + a + b];
}
const parts = (g: Grid) => kernels.maskParts(g.weight.at, g.right.at, g.below.at, g.part.at, g.stride, g.width, g.height),
  relax = (g: Grid, passes: number) =>
    kernels.relaxMask(g.v.at, g.said.at, g.right.at, g.below.at, g.part.at, g.stride, g.width, g.height, 1.5, passes);

test.each([
  [5, 3],
  [14, 9],
  [16, 4],
])('relaxMask on a grid of %i x %i: both colours by turns, and in the end what all pulls agree on', (width, height) => {
  const g = gridOf(width, height);
  // A cell that nothing holds stays as it is.
  const [alone, own] = [at(g, 2, 1), 0.625];
  for (const [plane, p] of [
    [g.weight, alone],
    [g.said, alone],
    [g.right, alone],
    [g.right, alone - 1],
    [g.below, alone],
    [g.below, alone - g.stride],
  ] as const)
    plane.data[p] = 0;
  g.v.data[alone] = own;
  parts(g);
  const twin = [...g.v.data];
  for (let colour = 0; colour < 2; colour++)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const p = at(g, x, y),
          [sum, all] = pullOf(g, p, twin);
        expect(g.part.data[p]).toBeCloseTo(all > 0 ? 1 / all : 0, 4);
        if ((x + y + colour) % 2 === 0 && all > 0) twin[p]! += 1.5 * (sum / all - twin[p]!);
      }
  relax(g, 1);
  for (let p = 0; p < twin.length; p++) expect(g.v.data[p]).toBeCloseTo(twin[p]!, 5);
  // Turns that go down the grid together are as good as one after another.
  const before = [...g.v.data];
  for (let k = 0; k < 4; k++) relax(g, 1);
  const single = [...g.v.data];
  g.v.data.set(before);
  relax(g, 4);
  expect([...g.v.data]).toEqual(single);
  relax(g, 200);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const p = at(g, x, y),
        [sum, all] = pullOf(g, p, g.v.data);
      expect(g.v.data[p]).toBeCloseTo(all > 0 ? sum / all : own, 5);
    }
  // The border holds nothing, and is never written.
  for (let y = -1; y <= height; y++) for (const x of [-1, width]) expect(g.v.data[at(g, x, y)]).toBe(0);
});

test('halveMask sums what is said and how strongly, and halves ways that lead on side by side; doubleMask gives each value to four', () => {
  const g = gridOf(7, 5),
    h = gridOf(4, 3);
  kernels.halveMask(
    ...([g.said.at, g.weight.at, g.right.at, g.below.at, g.stride] as const),
    ...([h.said.at, h.weight.at, h.right.at, h.below.at, h.stride, 4, 3] as const),
  );
  const of = (plane: Plane, x: number, y: number) => (x < 7 && y < 5 ? plane.data[at(g, x, y)]! : 0);
  for (let y = 0; y < 3; y++)
    for (let x = 0; x < 4; x++) {
      const four = (plane: Plane) =>
          of(plane, 2 * x, 2 * y) + of(plane, 2 * x + 1, 2 * y) + of(plane, 2 * x, 2 * y + 1) + of(plane, 2 * x + 1, 2 * y + 1),
        p = at(h, x, y);
      expect(h.said.data[p]).toBeCloseTo(four(g.said), 5);
      expect(h.weight.data[p]).toBeCloseTo(four(g.weight), 5);
      expect(h.right.data[p]).toBeCloseTo((of(g.right, 2 * x + 1, 2 * y) + of(g.right, 2 * x + 1, 2 * y + 1)) / 2, 5);
      expect(h.below.data[p]).toBeCloseTo((of(g.below, 2 * x, 2 * y + 1) + of(g.below, 2 * x + 1, 2 * y + 1)) / 2, 5);
    }
  kernels.doubleMask(h.v.at, h.stride, g.v.at, g.stride, 7, 5);
  for (let y = 0; y < 5; y++) for (let x = 0; x < 7; x++) expect(g.v.data[at(g, x, y)]).toBe(h.v.data[at(h, x >> 1, y >> 1)]);
});
