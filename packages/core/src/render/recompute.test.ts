import { addRow, changeRow, setValue, type Edit, type Shot } from '../shot';
import { apply, FIRST, HEIGHT, smallShot, smallSources, WIDTH } from '../../test/smallShot';
import { FrameRenderer } from './renderFrame';

/** A dissolve, haze behind it, a glow and a grade over everything. */
function fullShot(): Shot {
  return apply(
    smallShot(),
    addRow({
      id: 'r1',
      effect: 'dissolve',
      lane: 'on',
      subject: 's1',
      values: { from: [0, 0], extent: 60, life: 20, density: 60 },
      curves: {
        progress: {
          points: [
            { frame: 0, value: 0, ease: 'linear' },
            { frame: 10, value: 100, ease: 'linear' },
          ],
        },
      },
    }),
    addRow({ id: 'r2', effect: 'displace', lane: 'behind', subject: 's1', values: { strength: 4, radius: 0 } }),
    addRow({ id: 'r3', effect: 'glow', lane: 'whole', subject: null, values: { from: 'all', reach: 20 } }),
    addRow({ id: 'r4', effect: 'grade', lane: 'whole', subject: null, values: { exposure: 0.5 } }),
  );
}
const newRenderer = (edits = true) => new FrameRenderer(smallSources(), { width: WIDTH, height: HEIGHT }, 64 * 2 ** 20, undefined, edits);
const draw = (renderer: FrameRenderer, shot: Shot, frame: number) =>
  renderer.renderFrame({ shot, frame }, (picture, report) => ({ ran: report.ran.length, data: picture.data.slice() }));

const edits: [string, Edit[], { from: number; most: number }][] = [
  ['nothing', [], { from: 1, most: 2 }],
  ['a value of the last row', [setValue('r4', 'exposure', 0.7)], { from: 2, most: 2 }],
  ['a value of the row before it', [setValue('r3', 'strength', 90)], { from: 4, most: 4 }],
  ['the look of the dissolve', [setValue('r1', 'paleness', 10)], { from: 6, most: 14 }],
  ['the wind of the dissolve: its past too', [setValue('r1', 'wind', 9)], { from: 15, most: 25 }],
  ['the name of a row', [changeRow('r1', { name: 'Moths' })], { from: 1, most: 2 }],
];
test.each(edits)('an edit of %s runs only the steps that depend on it', async (_, change, { from, most }) => {
  const shot = fullShot(),
    renderer = newRenderer(),
    frame = FIRST + 9,
    cold = await draw(renderer, shot, frame),
    warm = await draw(renderer, apply(shot, ...change), frame);
  expect(cold.ran).toBeGreaterThan(40);
  expect(warm.ran).toBeGreaterThanOrEqual(from);
  expect(warm.ran).toBeLessThanOrEqual(most);
  // What was remembered changes nothing: the same bits as from a renderer that remembers nothing of it.
  const fresh = await draw(newRenderer(), apply(shot, ...change), frame);
  expect(Buffer.from(warm.data.buffer).equals(Buffer.from(fresh.data.buffer))).toBe(true);
});

test('an edit leaves the keys of frames that it does not touch', async () => {
  const shot = apply(fullShot(), changeRow('r1', { start: FIRST + 6 })),
    renderer = newRenderer(),
    keys = async (s: Shot) => Promise.all([2, 4, 8].map(async (f) => (await renderer.plan({ shot: s, frame: FIRST + f })).key)),
    before = await keys(shot),
    after = await keys(apply(shot, setValue('r1', 'wind', 9)));
  expect(after.map((key, i) => key === before[i])).toEqual([true, true, false]);
});

test('in the steady state no frame asks for a picture of its own outside the arena, and the arena stays as it is', async () => {
  const shot = fullShot(),
    renderer = newRenderer(false),
    { arena, store } = renderer.evaluator;
  for (let f = 3; f < 7; f++) await draw(renderer, shot, FIRST + f);
  const peak = arena.peak,
    remembered = store.bytes,
    Own = globalThis.Float32Array;
  let made = 0;
  class Counted extends Own {
    constructor(...given: [number]) {
      super(...given);
      // A view of a buffer that is there already is no new picture.
      if (typeof given[0] === 'number' && this.length >= WIDTH * HEIGHT * 4) made++;
    }
  }
  globalThis.Float32Array = Counted as unknown as Float32ArrayConstructor;
  try {
    for (let f = 7; f < 11; f++) await renderer.renderFrame({ shot, frame: FIRST + f }, () => undefined);
  } finally {
    globalThis.Float32Array = Own;
  }
  expect(made).toBe(0);
  expect(arena.inUse).toBe(0);
  // Particles alone are remembered, in the arena and beside it, and they are few.
  expect(arena.peak - peak + store.bytes - remembered).toBeLessThan(100_000);
});

test('a render of many frames keeps to its limit of memory', async () => {
  const shot = fullShot(),
    limit = 3 * 2 ** 20,
    renderer = new FrameRenderer(smallSources(), { width: WIDTH, height: HEIGHT }, limit);
  for (let round = 0; round < 3; round++)
    for (let f = 0; f < 12; f++) {
      await draw(renderer, shot, FIRST + f);
      expect(renderer.evaluator.store.bytes).toBeLessThanOrEqual(limit);
    }
});
