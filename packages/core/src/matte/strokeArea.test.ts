import { Arena, exactMath, newPicture, normal, type Picture } from '../image';
import { areaOfStrokes, linesAround, type AreaStroke } from './strokeArea';

const arena = new Arena(64 * 2 ** 20);
afterEach(() => arena.reset());
const W = 240,
  H = 160;
const inBody = (x: number, y: number) => (x - 110) ** 2 / 40 ** 2 + (y - 85) ** 2 / 55 ** 2 < 1 || (y > 70 && y < 84 && x > 100 && x < 185);
/** A body with stripes before a wall with stripes, under grain; half of its edge has little contrast. */
function filmed(): Picture {
  const p = newPicture(W, H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const i = 4 * (y * W + x),
        body = inBody(x + 0.5, y + 0.5),
        stripe = 0.04 * exactMath.sin(body ? y / 3 : (x + y) / 5);
      for (let c = 0; c < 3; c++) {
        const base = body ? [0.5, 0.36, 0.3][c]! : x < 110 ? [0.45, 0.4, 0.36][c]! : [0.3, 0.4, 0.5][c]!,
          v = base + stripe + 0.012 * normal(9, y * W + x, c);
        p.data[i + c] = v * v;
      }
      p.data[i + 3] = 1;
    }
  return p;
}
const inside: AreaStroke = {
    inside: true,
    radius: 4,
    points: [
      [110, 45],
      [108, 90],
      [112, 125],
      [112, 90],
      [140, 77],
      [175, 77],
    ],
  },
  outside: AreaStroke = {
    inside: false,
    radius: 4,
    points: [
      [50, 20],
      [40, 90],
      [50, 150],
      [180, 150],
      [215, 80],
      [170, 25],
      [60, 15],
    ],
  };
function wrong(mask: Float32Array<ArrayBufferLike>): number {
  let off = 0;
  for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) if (mask[y * W + x]! > 0.5 !== inBody(x + 0.5, y + 0.5)) off++;
  return off;
}

test('a stroke inside and one outside find a body, also where its edge has little contrast', () => {
  let body = 0;
  for (let p = 0; p < W * H; p++) if (inBody((p % W) + 0.5, Math.floor(p / W) + 0.5)) body++;
  const off = wrong(areaOfStrokes(filmed(), [inside, outside], arena).data) / body;
  console.info(`${(100 * off).toFixed(2)} % of the body's area is wrong`);
  expect(off).toBeLessThan(0.04);
});
test('without a stroke outside the border of the picture is outside; without one inside there is nothing', () => {
  const mask = areaOfStrokes(filmed(), [inside], arena).data;
  expect(mask[85 * W + 110]).toBeGreaterThan(0.9);
  expect(mask[3 * W + 3]).toBeLessThan(0.5);
  expect(areaOfStrokes(filmed(), [outside], arena).data.every((v) => v === 0)).toBe(true);
});
test('the lines around an area are closed, lie on its edge to a tenth of a pixel, and say what is a hole', () => {
  const values = new Float32Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const d = exactMath.hypot(x + 0.5 - 100, y + 0.5 - 80);
      values[y * W + x] = Math.min(1, Math.max(0, 40 - d + 0.5)) * Math.min(1, Math.max(0, d - 15 + 0.5));
    }
  const lines = linesAround(values, W, H);
  expect(lines.map((l) => l.hole)).toEqual([false, true]);
  [40, 15].forEach((r, i) => expect(Math.abs(lines[i]!.area / (Math.PI * r * r) - 1)).toBeLessThan(0.01));
  lines.forEach(({ points }, i) => {
    for (const [x, y] of points) expect(Math.abs(exactMath.hypot(x - 100, y - 80) - [40, 15][i]!)).toBeLessThan(0.1);
    expect(points.length).toBeGreaterThan(80);
  });
  // What reaches the border is closed along it.
  values.fill(1);
  const [whole] = linesAround(values, W, H);
  expect(whole!.hole).toBe(false);
  expect(Math.min(...whole!.points.map(([x]) => x))).toBeLessThan(0.1);
  expect(Math.max(...whole!.points.map(([x]) => x))).toBeGreaterThan(W - 0.1);
});
