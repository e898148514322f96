import { apply, BODY, FIRST, smallShot, smallSources, WIDTH } from '../../test/smallShot';
import type { MatteMode } from '../matte';
import * as s from '../shot';
import { FrameRenderer } from './renderFrame';

/** A matte of the body, and the post at the left edge that goes in by a mode; places: in the body, in the post, in neither. */
const rows = (mode: MatteMode, ...more: s.Edit[]): s.Shot =>
  apply(
    smallShot(),
    s.addMatte({ id: 'k5', name: 'Both', source: 'matte', clip: 'c1' }),
    s.setSourceNamed('k5', 'k1'),
    s.refineMatte('k5', { blur: { radius: 0 } }),
    s.addSource('k5', 'matte', mode, 'k2'),
    ...more,
  );
async function worth(shot: s.Shot, id = 'k5'): Promise<number[]> {
  const renderer = new FrameRenderer(smallSources(), shot, 64 * 2 ** 20, undefined, false);
  return renderer.renderMatte(shot, id, FIRST + 3, 1, (p) => [BODY.left + 4, 4, 52].map((x) => Math.round(100 * p.data[20 * WIDTH + x]!)));
}

test.each([
  ['add', [100, 100, 0]],
  ['take away', [100, 0, 0]],
  ['keep inside', [0, 0, 0]],
  ['exclude', [100, 100, 0]],
] as const)('another matte that is to %s', async (mode, expected) => {
  expect(await worth(rows(mode))).toEqual(expected);
});
test('they count in order, outlines last; what is muted does not, and where one is solo only that one does', async () => {
  expect(await worth(rows('add', s.changeSource('k5', 's1', { muted: true })))).toEqual([0, 100, 0]);
  expect(await worth(rows('add', s.changeSource('k5', 's2', { solo: true })))).toEqual([0, 100, 0]);
  const box = s.addOutline(
    'k5',
    'take away',
    [
      [0, 0],
      [64, 0],
      [64, 48],
      [0, 48],
    ],
    0,
  );
  expect(await worth(rows('add', box))).toEqual([0, 0, 0]);
  expect(await worth(rows('add', box, s.changeOutline('k5', 'o1', { solo: true, mode: 'add' })))).toEqual([100, 100, 100]);
  // Taken away from nothing it changes nothing; after the body it takes the body away.
  expect(
    await worth(rows('take away', s.setSourceNamed('k5', 'k1', 's2'), s.setSourceNamed('k5', 'k2', 's1'), s.moveSource('k5', 's2', -1))),
  ).toEqual([0, 100, 0]);
});
test('what a source is made from may be missing: the others count', async () => {
  expect(await worth(rows('add', s.setSourceNamed('k5', null, 's1')))).toEqual([0, 100, 0]);
  const shot = apply(rows('add', s.setSourceKind('k5', 'difference', 's1')), s.remove('clip', 'c2'));
  expect(await worth(shot)).toEqual([0, 100, 0]);
});
test('a matte is not made of itself, also through others, and such ones are not offered', () => {
  const shot = rows('add');
  expect(s.mattesFor(shot, 'k1').map((m) => m.id)).toEqual(['k2']);
  expect(s.mattesFor(shot, 'k5').map((m) => m.id)).toEqual(['k1', 'k2']);
  const round = apply(shot, s.addSource('k2', 'clip'), s.setSourceKind('k1', 'matte'));
  expect(() => s.readShot(JSON.parse(JSON.stringify(apply(round, s.setSourceNamed('k1', 'k5')))))).toThrow(
    /made of itself, through other mattes or through an effect/,
  );
});
test('refinements are applied in their order, and can be muted, moved and removed', async () => {
  // Clipping first leaves a soft edge; last it leaves none.
  const soft = rows('add', s.refineMatte('k5', { blur: { radius: 8 } }), s.addRefinement('k5', 'levels')),
    levels = soft.mattes.k5!.refine.find((one) => one.kind === 'levels')!.id,
    hard = apply(soft, s.changeRefinement('k5', levels, { black: 50, white: 50.1 })),
    edge = async (shot: s.Shot) => {
      const renderer = new FrameRenderer(smallSources(), shot, 64 * 2 ** 20, undefined, false);
      return renderer.renderMatte(shot, 'k5', FIRST, 1, (p) => p.data.filter((v) => v > 0.1 && v < 0.9).length);
    };
  expect(await edge(soft)).toBeGreaterThan(100);
  expect(await edge(hard)).toBeLessThan(10);
  expect(await edge(apply(hard, s.moveRefinement('k5', levels, -1)))).toBeGreaterThan(100);
  expect(await edge(apply(hard, s.changeRefinement('k5', levels, { muted: true })))).toBe(await edge(soft));
  expect(await edge(apply(hard, s.removeRefinement('k5', 'f4')))).toBe(0);
});
test('painted strokes count on their frames of the clip, over what was refined, and can be removed', async () => {
  const stroke = { mode: 'add' as const, first: 3, last: 3, radius: 3, softness: 0, points: [[52, 20] as [number, number]] },
    painted = rows(
      'add',
      s.refineMatte('k5', { invert: {} }),
      s.paintMatte('k5', stroke),
      s.paintMatte('k5', { ...stroke, mode: 'take away', points: [[4, 20]] }),
    );
  expect(await worth(rows('add', s.refineMatte('k5', { invert: {} })))).toEqual([0, 0, 100]);
  expect(await worth(apply(painted, s.paintMatte('k5', { ...stroke, points: [[BODY.left + 4, 20]] })))).toEqual([100, 0, 100]);
  expect(await worth(apply(painted, s.paintMatte('k5', { ...stroke, mode: 'take away' })))).toEqual([0, 0, 0]);
  expect(await worth(apply(painted, s.paintMatte('k5', { ...stroke, mode: 'take away', first: 4, last: 9 })))).toEqual([0, 0, 100]);
  const ids = painted.mattes.k5!.painted.map((one) => one.id);
  expect(apply(painted, s.removePainted('k5', ids.slice(0, 1))).mattes.k5!.painted.map((one) => one.id)).toEqual(ids.slice(1));
});
test('a matte that flickers on one frame is steadied by those beside it, also at half the size; one frame alone is as it was', async () => {
  const blotted = rows('add', s.paintMatte('k1', { mode: 'take away', first: 3, last: 3, radius: 40, softness: 0, points: [[20, 20]] })),
    steadied = apply(blotted, s.addRefinement('k5', 'steady'));
  expect((await worth(blotted))[0]).toBe(0);
  expect((await worth(steadied))[0]).toBe(100);
  const renderer = new FrameRenderer(smallSources(), steadied, 64 * 2 ** 20, undefined, false),
    half = await renderer.renderMatte(steadied, 'k5', FIRST + 3, 2, (p) => p.data[10 * (WIDTH / 2) + (BODY.left + 4) / 2]!);
  expect(half).toBeGreaterThan(0.95);
  const still = apply(steadied, s.changeMatte('k5', { clip: 'c2' }));
  expect(await worth(still)).toEqual(await worth(apply(blotted, s.changeMatte('k5', { clip: 'c2' }))));
});
