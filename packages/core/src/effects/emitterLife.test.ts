import { defaultsOf, valuesAt } from '../params';
import { byMiddle, overLife } from './emitterLife';
import { emitterParams } from './emitterParams';

const at = (part: number, stored: object) =>
  overLife(valuesAt(emitterParams, { ...defaultsOf(emitterParams), ...stored }, {}, 0, 1) as never, part);
const way = { course: 'by way of a middle', midAt: 25, midSize: 300, midStrength: 200, endStrength: 10, grows: 50 };

test('straight, size and colour go from birth to end and the strength stays', () => {
  const half = at(0.5, { grows: 50, young: '#ffffff', old: '#000000' });
  expect(half.size).toBeCloseTo(0.75, 6);
  expect(half.strength).toBe(1);
  expect(half.colour).toEqual([0.5, 0.5, 0.5]);
});
test('by way of a middle each has its own value there, at its time, and those of birth and end at the ends', () => {
  expect(at(0, way)).toMatchObject({ size: 1, strength: 1 });
  expect(at(0.25, way).size).toBeCloseTo(3, 6);
  expect(at(0.25, way).strength).toBeCloseTo(2, 6);
  expect(at(1, way).size).toBeCloseTo(0.5, 6);
  expect(at(1, way).strength).toBeCloseTo(0.1, 6);
  const middle = at(0.25, { ...way, young: '#ff0000', midColour: '#00ff00', old: '#0000ff' }).colour;
  expect(middle.map((v) => Number(v.toFixed(4)))).toEqual([0, 1, 0]);
  expect(at(0.125, way).size).toBeCloseTo(2, 6);
});
test('the way is without leaps or overshoot, wherever the middle stands', () => {
  for (const middle of [0.01, 0.3, 0.99]) {
    let before = byMiddle(1, 3, 0.5, 0, middle);
    for (let k = 1; k <= 1000; k++) {
      const now = byMiddle(1, 3, 0.5, k / 1000, middle);
      expect(Math.abs(now - before)).toBeLessThan(middle > 0.02 && middle < 0.98 ? 0.02 : 0.4);
      expect(now).toBeGreaterThanOrEqual(0.5 - 1e-9);
      expect(now).toBeLessThanOrEqual(3 + 1e-9);
      before = now;
    }
  }
});
