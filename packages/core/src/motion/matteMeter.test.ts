import { newPlane, type Plane } from '../image';
import { MatteMeter } from './matteMeter';

/** Coverage of an ellipse with a soft edge, turned (degrees clockwise). */
function ellipse(x: number, y: number, long: number, short: number, turn = 0): Plane {
  const plane = newPlane(200, 160),
    c = Math.cos((turn * Math.PI) / 180),
    s = Math.sin((turn * Math.PI) / 180);
  for (let j = 0, p = 0; j < 160; j++)
    for (let i = 0; i < 200; i++, p++) {
      const u = c * (i + 0.5 - x) + s * (j + 0.5 - y),
        v = -s * (i + 0.5 - x) + c * (j + 0.5 - y),
        r = Math.hypot(u / long, v / short);
      plane.data[p] = Math.min(1, Math.max(0, 0.5 + (1 - r) * short));
    }
  return plane;
}

test('a matte gives its middle, its turn and its growth from frame to frame', () => {
  const meter = new MatteMeter('in its middle');
  for (let f = 0; f < 24; f++) {
    const grown = 1 + 0.02 * f,
      s = meter.at(ellipse(70 + 2.3 * f, 80 - 0.7 * f, 34 * grown, 16 * grown, 10 + 6 * f), f);
    expect(s.state).toBe('good');
    expect(Math.hypot(s.x! - 70 - 2.3 * f, s.y! - 80 + 0.7 * f)).toBeLessThan(0.05);
    // More than a quarter turn: an axis has no front, so it goes on the way it went.
    expect(Math.abs(s.rotation - 6 * f)).toBeLessThan(0.3);
    expect(Math.abs(s.scale / grown - 1)).toBeLessThan(0.01);
  }
});

test.each([
  ['at its top', 100, 50],
  ['at its bottom', 100, 110],
  ['at its left', 60, 80],
  ['at its right', 140, 80],
] as const)('%s stands near the edge, whatever a hair sticks out', (spot, x, y) => {
  const plane = ellipse(100, 80, 40, 30);
  // A hair of a pixel, upwards and to the right.
  for (let k = 0; k < 20; k++) {
    plane.data[(50 - k) * 200 + 100] = 1;
    plane.data[80 * 200 + 140 + k] = 1;
  }
  const s = new MatteMeter(spot).at(plane, 0);
  expect(Math.hypot(s.x! - x, s.y! - y)).toBeLessThan(3.5);
});

test('an empty matte is lost; one that suddenly covers far more is weak, and the next like it is good again', () => {
  const meter = new MatteMeter('in its middle', 2);
  expect(meter.at(newPlane(200, 160), 0)).toMatchObject({ x: null, y: null, state: 'lost' });
  expect(meter.at(ellipse(60, 80, 20, 15), 1)).toMatchObject({ x: expect.closeTo(120, 1), y: expect.closeTo(160, 1), state: 'good' });
  expect(meter.at(ellipse(60, 80, 40, 30), 2)).toMatchObject({ state: 'weak' });
  expect(meter.at(ellipse(60, 80, 40, 30), 3)).toMatchObject({ state: 'good', scale: expect.closeTo(2, 1) });
});
