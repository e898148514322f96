import { apply, BODY, FIRST, smallShot, smallSources } from '../../test/smallShot';
import * as s from '../shot';
import type { TrackSample } from '../motion';
import { checkShot } from './checks';
import { contrastOf, contrastProblem } from './contrast';
import { FrameRenderer } from './renderFrame';

const still = (x: number): TrackSample[] =>
  Array.from({ length: 12 }, (_, frame) => ({ frame, x, y: 24, rotation: 0, scale: 1, confidence: 1, state: 'good' }));
const tracks = { mid: still(32), near: still(32.2), far: still(10) };
const base = apply(
  smallShot(),
  ...(['mid', 'near', 'far'] as const).flatMap((name, i) => [
    s.addTrack({ id: `t${i + 1}`, name, clip: 'c1', at: [32, 24], frame: 0 }),
    s.storeSamples({ [`t${i + 1}`]: name }),
  ]),
);
const flash = (strength: number, lane: 'whole' | 'foreground' = 'whole') =>
  s.addRow({ id: 'r1', effect: 'flash', lane, subject: null, values: { strength, fall: 400, middle: 0, colour: '#ffffff' } });
const measure = (shot: s.Shot, row = 'r1') =>
  contrastOf(new FrameRenderer(smallSources(8, tracks), shot, 64 * 2 ** 20), shot, row, FIRST + 1);

test('measures how far a row moves the picture, and where', async () => {
  const strong = await measure(apply(base, flash(40)));
  expect(strong.change).toBeGreaterThan(0.2);
  expect(contrastProblem('Flash', true, strong)).toBeNull();
  const faint = await measure(apply(base, flash(0.5)));
  expect(faint.change).toBeGreaterThan(0);
  expect(contrastProblem('Flash', true, faint)!.text).toMatch(/can hardly be read|nothing that can be seen/);
  const none = await measure(apply(base, flash(0)));
  expect(none).toMatchObject({ change: 0, at: null });
  expect(contrastProblem('Flash', true, none)!.text).toMatch(/nothing that can be seen/);
  // A fill on the body only changes the body.
  const fill = await measure(
    apply(base, s.addRow({ id: 'r1', effect: 'fill', lane: 'on', subject: 's1', values: { amount: 100, colour: '#000000' } })),
  );
  expect(fill.at![0]).toBeGreaterThan(BODY.left - 6);
  expect(fill.at![0]).toBeLessThan(BODY.right + 6);
});

test('light on a bright ground does not read, paint does', async () => {
  const lit = apply(base, flash(1000, 'foreground')),
    plain = { strength: 100, reach: 20, surround: 0, around: 0 },
    ember = s.addRow({ id: 'r2', effect: 'ember', lane: 'whole', subject: null, track: 't1', values: plain });
  const problem = contrastProblem('Ember', true, await measure(apply(lit, ember), 'r2'))!;
  expect(problem.fix).toMatch(/ground/);
  const paint = s.addRow({
    id: 'r2',
    effect: 'fill',
    lane: 'whole',
    subject: null,
    values: { through: 'everything', amount: 100, colour: '#000000' },
  });
  expect(contrastProblem('Fill', false, await measure(apply(lit, paint), 'r2'))).toBeNull();
});

test('twins on top of each other are pointed at, those apart are not', () => {
  const shot = apply(base, s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1', track: 't1' }), s.addTwin('r1', 't3')),
    measured = new Map(Object.entries({ t1: tracks.mid, t2: tracks.near, t3: tracks.far })),
    near = (of: s.Shot) => checkShot(of, measured).filter((c) => c.id === 'twin-near');
  expect(near(shot)).toEqual([]);
  const both = apply(shot, s.addTwin('r1', 't2'));
  expect(near(both)).toHaveLength(1);
  expect(near(both)[0]!.text).toMatch(/on top of each other/);
  expect(near(apply(both, s.setTwinValue('r1', 'w2', 'place', [9, 0])))).toEqual([]);
});
