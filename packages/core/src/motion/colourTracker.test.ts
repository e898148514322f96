import type { Codes } from '../image';
import { ColourTracker } from './colourTracker';
import { followTrack } from './kinds/follow';

const WIDTH = 240,
  HEIGHT = 160;
/** An orange ellipse on a drawn ground, with soft edges, a dark line around it, and another one of its colour far away; each drawing stands for two frames. */
const pose = (frame: number) => {
  const k = Math.floor(frame / 2);
  return { x: 70.3 + 6.5 * k, y: 80.2 - 1.5 * k, turn: 9 * k, long: 20 * 1.02 ** k, wide: 9 * 1.02 ** k };
};
function drawing(frame: number, post = false): Codes {
  const data = new Uint8Array(WIDTH * HEIGHT * 3),
    { x, y, turn, long, wide } = pose(frame),
    a = (turn * Math.PI) / 180;
  for (let j = 0, p = 0; j < HEIGHT; j++)
    for (let i = 0; i < WIDTH; i++, p += 3) {
      let cover = 0;
      for (let s = 0; s < 16; s++) {
        const u = i + ((s & 3) + 0.5) / 4 - x,
          v = j + ((s >> 2) + 0.5) / 4 - y,
          along = u * Math.cos(a) + v * Math.sin(a),
          across = -u * Math.sin(a) + v * Math.cos(a);
        if ((along / long) ** 2 + (across / wide) ** 2 < 1) cover += 1 / 16;
      }
      const far = (i - 215) ** 2 + (j - 20) ** 2 < 100 ? 1 : cover,
        hidden = post && i > 60 && i < 190;
      [240, 150, 40].forEach((c, k) => (data[p + k] = hidden ? 30 : Math.round(c * far + [90, 110, 130][k]! * (1 - far))));
    }
  return { width: WIDTH, height: HEIGHT, channels: 3, bits: 8, data } as Codes;
}
const options = { search: 101, tolerance: 15 };

test('the middle, turn and growth of a drawn area, exact, and the same on both frames of a drawing', () => {
  const tracker = new ColourTracker(drawing(0), 0, [72, 80], options);
  expect(Math.hypot(tracker.start.x! - pose(0).x, tracker.start.y! - pose(0).y)).toBeLessThan(0.1);
  let before = tracker.start;
  for (let f = 1; f < 24; f++) {
    const s = tracker.step(drawing(f), f),
      truth = pose(f);
    expect([f, s.state]).toEqual([f, 'good']);
    expect(Math.hypot(s.x! - truth.x, s.y! - truth.y)).toBeLessThan(0.1);
    expect(Math.abs(s.rotation - truth.turn)).toBeLessThan(0.4);
    expect(s.scale).toBeCloseTo(truth.long / 20, 1);
    if (f % 2) expect([s.x, s.y, s.rotation, s.scale]).toEqual([before.x, before.y, before.rotation, before.scale]);
    before = s;
  }
});
test('where it is hidden it is lost, and never the other one of its colour; it is found again near where it was', () => {
  const tracker = new ColourTracker(drawing(0), 0, [72, 80], options);
  expect(tracker.step(drawing(1), 1).state).toBe('good');
  for (let f = 2; f < 5; f++) expect(tracker.step(drawing(f, true), f)).toMatchObject({ state: 'lost', x: null });
  const back = tracker.step(drawing(5), 5);
  expect(Math.hypot(back.x! - pose(5).x, back.y! - pose(5).y)).toBeLessThan(0.1);
});
test('as a kind of track it goes on from the turn and growth that are there', () => {
  const it = followTrack({ kind: 'colour', tolerance: 15, search: 101, smoothing: 0, reach: 0 }, drawing(4), 4, {
    ...{ x: 85, y: 78 },
    rotation: 18,
    scale: 1.04,
  })!;
  expect(it.start).toMatchObject({ rotation: 18, scale: 1.04 });
  expect(it.step(drawing(6), 6).rotation).toBeCloseTo(27, 0);
});
test('a place beside the picture is refused', () =>
  expect(() => new ColourTracker(drawing(0), 0, [300, 10], options)).toThrow('outside the picture'));
/** Discs of one colour on a grey ground. */
function discs(...places: readonly (readonly [x: number, y: number])[]): Codes {
  const data = new Uint8Array(400 * 200 * 3);
  for (let j = 0, p = 0; j < 200; j++)
    for (let i = 0; i < 400; i++, p += 3) {
      const inside = places.some(([x, y]) => (i + 0.5 - x) ** 2 + (j + 0.5 - y) ** 2 < 64);
      data.set(inside ? [217, 240, 106] : [60, 60, 70], p);
    }
  return { width: 400, height: 200, channels: 3, bits: 8, data } as Codes;
}
test('a leap further than the box, on twos, is followed: doubtful in the first drawing of it, sure in those that go on', () => {
  // Two frames for each drawing; from the third drawing on it leaps by 90 px, the box reaches 40.
  const x = (f: number) => 40 + (f < 4 ? 10 * (f >> 1) : 10 + 90 * ((f >> 1) - 1)),
    tracker = new ColourTracker(discs([x(0), 100]), 0, [x(0), 100], { search: 80, tolerance: 15 }),
    seen = Array.from({ length: 8 }, (_, i) => tracker.step(discs([x(i + 1), 100]), i + 1));
  seen.forEach((s, i) => expect(Math.abs(s.x! - x(i + 1))).toBeLessThan(0.1));
  expect(seen.map((s) => s.state)).toEqual(['good', 'good', 'good', 'weak', 'good', 'good', 'good', 'good']);
});
test('one of two that are alike and about as near is doubtful', () => {
  const tracker = new ColourTracker(discs([200, 100]), 0, [200, 100], { search: 160, tolerance: 15 });
  expect(tracker.step(discs([205, 100], [330, 100]), 1).state).toBe('good');
  expect(tracker.step(discs([190, 100], [222, 100]), 2).state).toBe('weak');
});
