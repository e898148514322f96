import { apply, FIRST, smallShot, smallSources } from '../../test/smallShot';
import { newPlane } from '../image';
import * as s from '../shot';
import { frontLinesIn } from './frontLines';
import { FrameRenderer } from './renderFrame';

test('a line stands where its order is, within the body alone', () => {
  const order = newPlane(80, 60);
  for (let y = 0; y < 60; y++) for (let x = 0; x < 80; x++) order.data[y * 80 + x] = x < 20 || x >= 60 ? 1e9 : y / 60;
  const lines = frontLinesIn(order, 4, [
    { frame: 7, order: 0.5 },
    { frame: 9, order: 0.75 },
    { frame: 11, order: 1.5 },
  ]);
  expect(lines.map((l) => l.frame)).toEqual([7, 9]);
  for (const [i, at] of [
    [0, 0.5],
    [1, 0.75],
  ] as const)
    for (const [x, y] of lines[i]!.points) {
      expect(Math.abs(y / 4 - 0.5 - at * 60)).toBeLessThan(0.2);
      expect(x / 4).toBeGreaterThan(20);
      expect(x / 4).toBeLessThan(60);
    }
});
test('lines that were painted for two frames are those of the front on them', async () => {
  const across = (y: number): [number, number][] => [
      [18, y],
      [46, y],
    ],
    shot = apply(
      smallShot(),
      s.changeSubject('s1', { pixels: 30 }),
      s.addRow({ id: 'r1', effect: 'dissolve', lane: 'on', subject: 's1', values: { shape: 'strokes', ragged: 0, rim: 0, extent: 40 } }),
      s.setCurve('r1', 'progress', {
        points: [
          { frame: 0, value: 0, ease: 'linear' },
          { frame: 11, value: 100, ease: 'linear' },
        ],
      }),
      s.drawRowLine('r1', 2, across(14)),
      s.drawRowLine('r1', 9, across(34)),
    ),
    renderer = new FrameRenderer(smallSources(), shot, 64 * 2 ** 20, undefined, false),
    lines = await renderer.frontLines(shot, 'r1', FIRST + 4, [FIRST + 2, FIRST + 5, FIRST + 9, FIRST + 400]),
    heights = (frame: number) => lines.filter((l) => l.frame === FIRST + frame).flatMap((l) => l.points.map(([, y]) => y));
  for (const [frame, y] of [
    [2, 14],
    [9, 34],
  ] as const) {
    expect(heights(frame).length).toBeGreaterThan(2);
    for (const at of heights(frame)) expect(Math.abs(at - y)).toBeLessThan(4);
  }
  expect(Math.min(...heights(5))).toBeGreaterThan(14);
  expect(Math.max(...heights(5))).toBeLessThan(34);
  expect(lines.some((l) => l.frame === FIRST + 400)).toBe(false);
});
