import { normal } from '../image';
import { paletteOf } from './palette';

test('the shades of which colours consist, with how far they stray; the same list gives the same', () => {
  const shades = [
      [0.2, 0.3, 0.8],
      [0.9, 0.5, 0.1],
      [0.4, 0.4, 0.4],
    ],
    colours = new Float32Array(3 * 900);
  for (let i = 0; i < 900; i++) for (let c = 0; c < 3; c++) colours[3 * i + c] = shades[i % 3]![c]! + 0.01 * normal(3, i, c);
  const found = paletteOf(colours, 3);
  expect(found).toEqual(paletteOf(colours, 3));
  for (const shade of shades) {
    const own = found.find(({ colour }) => shade.every((v, c) => Math.abs(v - colour[c]!) < 0.01));
    expect(own?.spread).toBeGreaterThan(0.005);
    expect(own?.spread).toBeLessThan(0.02);
  }
});
test('fewer shades than asked for where there are no more, and none of nothing', () => {
  expect(paletteOf(Float32Array.of(0, 0, 0, 1, 1, 1, 0, 0, 0), 8)).toHaveLength(2);
  expect(paletteOf(new Float32Array(0), 4)).toEqual([]);
});
