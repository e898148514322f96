import { fit, toPicture, toScreen, zoomAt } from './space';

test('a picture is fitted whole and in the middle', () => {
  const space = fit(700, 500, { width: 1280, height: 720 });
  const [left, top] = toScreen(space, 0, 0),
    [right, bottom] = toScreen(space, 1280, 720);
  expect([left, right]).toEqual([6, 694]);
  expect(top).toBeCloseTo(500 - bottom, 9);
  expect(top).toBeGreaterThanOrEqual(6);
});

test('zooming leaves the place under the pointer where it is, and stays within bounds', () => {
  let space = fit(700, 500, { width: 1280, height: 720 });
  const under = toPicture(space, 321, 222);
  for (let i = 0; i < 40; i++) {
    space = zoomAt(space, space.zoom * 1.2, 321, 222);
    const [x, y] = toPicture(space, 321, 222);
    expect(x).toBeCloseTo(under[0], 6);
    expect(y).toBeCloseTo(under[1], 6);
  }
  expect(space.zoom).toBe(32);
});
