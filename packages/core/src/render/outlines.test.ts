import { apply, smallShot, smallSources, WIDTH } from '../../test/smallShot';
import { at } from '../../test/samples';
import type { TrackSample } from '../motion';
import * as s from '../shot';
import { framesOf } from './frames';
import { keysRiding, outlineAt, storedPlaces } from './outlineAt';
import { FrameRenderer } from './renderFrame';

const square = (x: number, y: number, side: number): [number, number][] => [
  [x, y],
  [x + side, y],
  [x + side, y + side],
  [x, y + side],
];
/** A matte of a square of 20 px, and a second one of 20 px that covers its right half and as much beside it. */
const two = (mode: s.OutlineMode, ...more: s.Edit[]): s.Shot =>
  apply(
    smallShot(),
    s.addMatte({ id: 'k5', name: 'Drawn', source: null, clip: 'c1' }),
    s.refineMatte('k5', { blur: { radius: 0 } }),
    s.addOutline('k5', 'add', square(10, 10, 20), 0),
    s.addOutline('k5', mode, square(20, 10, 20), 0),
    ...more,
  );
/** What the matte is worth in the square alone, in both, and in the second one alone. */
async function worth(shot: s.Shot, frame = 1003): Promise<number[]> {
  const renderer = new FrameRenderer(smallSources(), shot, 64 * 2 ** 20, undefined, false);
  return renderer.renderMatte(shot, 'k5', frame, 1, (p) => [15, 25, 35].map((x) => Math.round(100 * p.data[20 * WIDTH + x]!)));
}

test.each([
  ['add', [100, 100, 100]],
  ['take away', [100, 0, 0]],
  ['keep inside', [0, 100, 0]],
  ['exclude', [100, 0, 100]],
] as const)('an outline that is to %s', async (mode, most) => {
  expect(await worth(two(mode))).toEqual(most);
});
test.each([
  ['add', [100, 100, 25]],
  ['take away', [100, 75, 0]],
  ['keep inside', [75, 100, 0]],
  ['exclude', [100, 75, 25]],
] as const)('a quarter of an outline that is to %s', async (mode, most) => {
  expect(await worth(two(mode, s.setPlaced({ kind: 'outline', matte: 'k5', id: 'o2' }, 'opacity', 25)))).toEqual(most);
});
test('a muted one does not count; an opacity over time does as its curve says, in frames of the clip', async () => {
  expect(await worth(two('take away', s.changeOutline('k5', 'o2', { muted: true })))).toEqual([100, 100, 0]);
  const of = { kind: 'outline', matte: 'k5', id: 'o1' } as const,
    fading = two(
      'add',
      s.changeOutline('k5', 'o2', { muted: true }),
      s.setPlacedPoint(of, 'opacity', { frame: 0, value: 0, ease: 'linear' }),
      s.setPlacedPoint(of, 'opacity', { frame: 10, value: 100, ease: 'linear' }),
    );
  expect((await worth(fading, 1001))[0]).toBe(0);
  expect((await worth(fading, 1006))[0]).toBe(50);
});
test('an outline with keys goes from one to the next', async () => {
  const moved = two('add', s.changeOutline('k5', 'o2', { muted: true }));
  const to = outlineAt(moved.mattes.k5!.outlines[0]!, 0, framesOf(moved, new Map())).vertices.map((v) => ({ ...v, x: v.x + 20 })),
    keyed = apply(moved, s.setShape('k5', 'o1', 10, to));
  expect(await worth(keyed, 1001)).toEqual([100, 100, 0]);
  expect(await worth(keyed, 1006)).toEqual([0, 100, 100]);
  expect(await worth(keyed, 1011)).toEqual([0, 0, 100]);
});

describe('an outline with keys that is hung on a track', () => {
  /** The track goes 2 px to the right and 1 px down a frame, and turns by 3 degrees. */
  const samples: TrackSample[] = Array.from({ length: 12 }, (_, f) => ({
      ...at(f, 20 + 2 * f),
      y: 20 + f,
      rotation: 3 * f,
      scale: 1 + 0.02 * f,
    })),
    tracks = new Map([['t1', samples]]),
    made = apply(two('add'), s.addTrack({ id: 't1', name: 'Area', clip: 'c1', at: [20, 20], frame: 0, kind: 'area' })),
    drawn = () => made.mattes.k5!.outlines[0]!,
    vertices = (shot: s.Shot, frame: number) => outlineAt(shot.mattes.k5!.outlines[0]!, frame, framesOf(shot, tracks)).vertices,
    keyed = apply(
      made,
      s.setShape(
        'k5',
        'o1',
        8,
        drawn().keys[0]!.vertices.map((v) => ({ ...v!, x: v!.x + 9, y: v!.y - 4, out: [3, 1] as [number, number], outer: 5 })),
      ),
    );
  const near = (a: ReturnType<typeof vertices>, b: ReturnType<typeof vertices>) =>
    a.forEach((v, i) => {
      for (const [p, q] of [
        [v.x, b[i]!.x],
        [v.y, b[i]!.y],
        [v.out[0], b[i]!.out[0]],
        [v.outer, b[i]!.outer],
      ] as const)
        expect(p).toBeCloseTo(q, 6);
    });
  test('stands on each of its keys where it stood, and rides between; taken off, it still does', () => {
    const mounts = framesOf(keyed, tracks),
      riding = apply(keyed, s.rideOutline('k5', 'o1', 't1', 4, keysRiding(keyed.mattes.k5!.outlines[0]!, 't1', 4, mounts)));
    expect(riding.mattes.k5!.outlines[0]!.mount).not.toBeNull();
    for (const frame of [0, 8]) near(vertices(riding, frame), vertices(keyed, frame));
    // After the last key it goes on with the track, where it stood still before.
    expect(vertices(riding, 11)[0]!.x).not.toBeCloseTo(vertices(riding, 8)[0]!.x, 1);
    const off = apply(
      riding,
      s.rideOutline('k5', 'o1', null, 4, keysRiding(riding.mattes.k5!.outlines[0]!, null, 4, framesOf(riding, tracks))),
    );
    expect(off.mattes.k5!.outlines[0]!.mount).toBeNull();
    expect(Object.keys(off.mounts)).toEqual(Object.keys(keyed.mounts));
    for (const frame of [0, 8]) near(vertices(off, frame), vertices(keyed, frame));
  });
  test('a place that is seen is stored and found again', () => {
    const mounts = framesOf(keyed, tracks),
      riding = apply(keyed, s.rideOutline('k5', 'o1', 't1', 4, keysRiding(keyed.mattes.k5!.outlines[0]!, 't1', 4, mounts))),
      { store, place } = storedPlaces(riding.mattes.k5!.outlines[0]!, 9, framesOf(riding, tracks));
    expect(place(store([33, 17])).map((v) => Math.round(v * 1e6) / 1e6)).toEqual([33, 17]);
    expect(store([33, 17])[0]).not.toBeCloseTo(33, 1);
  });
});
