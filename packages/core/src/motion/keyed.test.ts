import { keyedPlace } from './keyed';

const key = (frame: number, x: number, rotation = 0, scale = 1) => ({ frame, x, y: 2 * x, rotation, scale });
test('hand keys are met exactly, held at both ends, and nothing swings over between them', () => {
  const keys = [key(0, 10), key(10, 50, 90, 2), key(20, 50, 90, 2), key(30, 20)];
  for (const k of keys) expect(keyedPlace(keys, k.frame)).toEqual({ x: k.x, y: k.y, rotation: k.rotation, scale: k.scale });
  expect(keyedPlace(keys, -5)).toMatchObject({ x: 10 });
  expect(keyedPlace(keys, 99)).toMatchObject({ x: 20 });
  for (let f = 10; f <= 20; f++) expect(keyedPlace(keys, f)).toMatchObject({ x: expect.closeTo(50, 9), rotation: expect.closeTo(90, 9) });
  let before = 0;
  for (let f = 0; f <= 10; f++) {
    const { x } = keyedPlace(keys, f)!;
    expect(x).toBeGreaterThan(before);
    before = x;
  }
  expect(keyedPlace([], 3)).toBeNull();
  expect(keyedPlace([key(4, 7)], 9)).toMatchObject({ x: 7 });
});
