import { exactMath, fractal2, newPicture, normal } from '../image';
import { edgeCosts, EdgePaths } from './edgePath';

/** A disc with texture and grain, hardly brighter than what is behind it. */
function scene() {
  const p = newPicture(240, 200);
  for (let y = 0, i = 0; y < 200; y++)
    for (let x = 0; x < 240; x++, i += 4) {
      const inside = exactMath.hypot(x + 0.5 - 120, y + 0.5 - 100) < 60,
        v = (inside ? 0.34 : 0.22) + 0.05 * (fractal2(x / 14, y / 14, 3, inside ? 3 : 8) - 0.5) + 0.004 * normal(x, y, 5);
      for (let c = 0; c < 3; c++) p.data[i + c] = v * (c === 0 && inside ? 1.1 : 1);
      p.data[i + 3] = 1;
    }
  return p;
}
const costs = edgeCosts(scene()),
  on = (turn: number): [number, number] => [120 + 60 * Math.cos(turn), 100 + 60 * Math.sin(turn)];

test('between points that a hand set near an edge the way keeps to that edge', () => {
  const offs: number[] = [];
  for (let k = 0; k < 6; k++) {
    const [a, b] = [on((k * Math.PI) / 3), on(((k + 1) * Math.PI) / 3)],
      way = new EdgePaths(costs, a, 120).to(b);
    expect(way[0]![0]).toBeCloseTo(Math.floor(a[0]) + 0.5, 6);
    expect(way.at(-1)![1]).toBeCloseTo(Math.floor(b[1]) + 0.5, 6);
    for (const [x, y] of way) offs.push(Math.abs(Math.hypot(x - 120, y - 100) - 60));
    // Straight it would cut 8 px into the disc.
    expect(way.length).toBeGreaterThan(30);
  }
  offs.sort((a, b) => a - b);
  expect(offs[Math.floor(offs.length * 0.5)]).toBeLessThan(0.8);
  expect(offs[Math.floor(offs.length * 0.95)]).toBeLessThan(2);
});
test('where nothing has an edge the way is straight, and beyond its reach as well', () => {
  const even = newPicture(100, 80);
  even.data.fill(0.4);
  const paths = new EdgePaths(edgeCosts(even), [10.5, 40.5], 40);
  for (const [, y] of paths.to([45, 40])) expect(y).toBe(40.5);
  expect(paths.reaches([80, 40])).toBe(false);
  expect(paths.to([80, 44])).toEqual([
    [10.5, 40.5],
    [80, 44],
  ]);
});
test('a point at the border of the picture has ways too', () => {
  expect(new EdgePaths(costs, [-4, 300], 50).to([20, 190]).length).toBeGreaterThan(10);
});
