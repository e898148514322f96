import { Arena } from '../image';
import { skinField } from './skinField';

test('every pixel knows its nearest place of a body, to less than two pixels, and nothing where there is none', () => {
  const arena = new Arena(4 * 2 ** 20),
    [W, H] = [90, 60],
    plane = arena.takePlane(W, H),
    inside = (x: number, y: number) => Math.hypot(x - 30, y - 30) < 9 || (x > 60 && x < 70 && y > 10 && y < 50),
    places: [number, number][] = [];
  for (let k = 0; k < W * H; k++) {
    plane.data[k] = inside(k % W, Math.floor(k / W)) ? 1 : 0;
    if (plane.data[k]) places.push([k % W, Math.floor(k / W)]);
  }
  const box = [4, 2, 86, 58] as const,
    field = skinField(plane, box, arena),
    [dx, dy] = [field.dx.data, field.dy.data];
  for (let y = box[1], p = 0; y < box[3]; y++)
    for (let x = box[0]; x < box[2]; x++, p++) {
      const truth = Math.min(...places.map(([px, py]) => Math.hypot(px - x, py - y)));
      expect(Math.abs(Math.hypot(dx[p]!, dy[p]!) - truth)).toBeLessThan(2);
      // Within a cell of it.
      expect(places.some(([px, py]) => Math.hypot(px - x + dx[p]!, py - y + dy[p]!) < 1.5)).toBe(true);
    }
  plane.data.fill(0);
  expect(Math.min(...skinField(plane, box, arena).dx.data)).toBeGreaterThan(1000);
});
