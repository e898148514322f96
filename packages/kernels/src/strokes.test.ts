import { banded, testMemory } from './testMemory';

const { kernels, fresh, floats } = testMemory(77);
beforeEach(fresh);
const width = 61,
  height = 40,
  unit = (t: number) => Math.min(1, Math.max(0, t)),
  smooth = (t: number) => unit(t) * unit(t) * (3 - 2 * unit(t)),
  bell = (x: number) => Math.max(0, 1 - x / 16) ** 16;
interface Line {
  core: number;
  soft: number;
  halo: number;
  strength: number;
  taper: number;
  far: number;
  head: number;
  tail: number;
  begins: number[];
  breath: number[];
}
/** The brightest light of all pieces at the middle of a pixel, core and halo of their own colours, each piece whole. */
function twin(nodes: number[][], v: Line, x: number, y: number): [number, number] {
  const best: [number, number] = [0, 0],
    pieces = nodes.length - 1;
  for (let i = 0; i < pieces; i++) {
    const [ax, ay] = nodes[i] as [number, number],
      [bx, by] = nodes[i + 1] as [number, number],
      [dx, dy] = [bx - ax, by - ay],
      from = unit(v.tail * pieces - i),
      to = unit(v.head * pieces - i);
    if (to <= from) continue;
    const s = Math.min(to, Math.max(from, ((x + 0.5 - ax) * dx + (y + 0.5 - ay) * dy) / (dx * dx + dy * dy))),
      d = Math.hypot(x + 0.5 - ax - s * dx, y + 0.5 - ay - s * dy),
      along = (i + s) / pieces,
      at = Math.round(along * (v.begins.length - 1)),
      thick = (v.taper >= 0 ? 1 - v.taper * along : 1 + v.taper * (1 - along)) * v.begins[at]!,
      half = (v.core * thick) / 2,
      wide = Math.max(0.5, half),
      spread = v.halo * (0.35 + 0.65 * thick) * (1 + v.breath[at]!) * (0.3 + 0.7 * v.begins[at]!);
    if (d > v.far) continue;
    const core = 1.6 * (half / wide) * smooth((wide * (1 + v.soft) + 0.5 - d) / (2 * wide * v.soft + 1)),
      veil =
        v.strength *
        (1 + 0.6 * v.breath[at]!) *
        (0.75 * bell((d / spread) ** 2) + 0.25 * bell((d / spread / 0.4) ** 2)) *
        smooth((v.far - d) / (0.2 * v.far));
    best[0] = Math.max(best[0], core);
    best[1] = Math.max(best[1], veil);
  }
  return best;
}

test.each([
  ['whole', { head: 1, tail: 0, taper: 0.4 }],
  ['part of it, wider towards its end', { head: 0.8, tail: 0.3, taper: -0.5 }],
])('lightAlong: a line of pieces, %s', (_, given) => {
  const nodes = [
      [6.2, 30.1],
      [24.7, 12.4],
      [38.1, 21.9],
      [56.3, 9.2],
    ],
    v: Line = {
      ...{ core: 3.4, soft: 0.4, halo: 5, strength: 0.7, far: 12, ...given },
      begins: [0.2, 0.6, 0.9, 1, 1],
      breath: [0, -0.3, 0.1, -0.2, 0],
    },
    at = floats(nodes.length * 4, (i) => (i % 4 < 2 ? nodes[i >> 2]![i % 4]! : 0)),
    table = floats(10, (i) => (i < 5 ? v.begins[i]! : v.breath[i - 5]!)),
    params = floats(
      24,
      (i) =>
        [
          ...[v.core, v.soft, 0.5, v.halo, v.strength, v.taper, 1, v.far, 1, 1.6, v.tail, v.tail, v.head, v.head, 1e9, 0],
          // Core in red, halo in green.
          ...[1, 0, 0, 0, 0, 1, 0, 5],
        ][i]!,
    ),
    out = floats(width * height * 4, () => 0);
  banded(height - 2, (y0, y1) => kernels.lightAlong(at.at, 3, table.at, params.at, out.at, width, 2, y0, y1));
  let [worst, lit] = [0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [core, veil] = y < 2 ? [0, 0] : twin(nodes, v, x, y),
        o = 4 * (y * width + x);
      worst = Math.max(worst, Math.abs(out.data[o]! - core), Math.abs(out.data[o + 1]! - veil));
      lit += out.data[o]! > 0.5 ? 1 : 0;
    }
  expect(lit).toBeGreaterThan(60);
  expect(worst).toBeLessThan(2e-4);
});

test('lightAlong: a line that moves across itself gives as much light as one that stands, spread over its way; along itself it stays as it is', () => {
  const drawn = (move: readonly [number, number]) => {
      const at = floats(8, (i) => [5, 20, ...move, 55, 20, ...move][i]!),
        table = floats(4, (i) => [1, 1, 0, 0][i]!),
        params = floats(
          24,
          (i) => [3, 0.3, 0.5, 0, 0, 0, 0, 14, 1, 1, 0, 0, 1, 1, 1e9, move[0] || move[1] ? 1 : 0, 1, 1, 1, 0, 0, 0, 0, 2][i]!,
        ),
        out = floats(width * height * 4, () => 0);
      banded(height, (y0, y1) => kernels.lightAlong(at.at, 1, table.at, params.at, out.at, width, 0, y0, y1));
      return Array.from({ length: height }, (_, y) => out.data[4 * (y * width + 30)]!);
    },
    sum = (a: number[]) => a.reduce((n, v) => n + v, 0),
    [still, across, along] = [drawn([0, 0]), drawn([0, 10]), drawn([10, 0])];
  expect(sum(across) / sum(still)).toBeCloseTo(1, 2);
  expect(Math.max(...across)).toBeLessThan(0.45 * Math.max(...still));
  expect(Math.max(...along.map((v, i) => Math.abs(v - still[i]!)))).toBeLessThan(1e-2);
});

test('brighten: an even light on every pixel of its rows, and the alpha as it was', () => {
  const picture = floats(7 * 5 * 4, (i) => i / 100),
    before = [...picture.data];
  kernels.brighten(picture.at, 0.5, 0.25, 2, 7, 1, 5);
  picture.data.forEach((v, i) => expect(v).toBeCloseTo(before[i]! + (i < 28 ? 0 : [0.5, 0.25, 2, 0][i % 4]!), 5));
});
