import { samples } from '../../../test/samples';
import type { TrackSample } from '..';
import { trackKinds } from '.';
import { pairTurn } from './pair';
import { pointFrame } from './point';

/** What is known of a track of these samples, and of others that it names. */
const plain = (samples: readonly TrackSample[], ...others: (readonly TrackSample[])[]) => ({
  ...{ samples, others, reference: 0, at: [0, 0] as const, values: {} as never },
});

test('a mount stands beside its track by its offset, and says where it is not certain', () => {
  const { frame } = trackKinds.point,
    at = (clipFrame: number) => frame(plain(samples), clipFrame)!;
  expect(at(1).at([3, -2]).toPicture([0, 0])).toEqual([14, 20]);
  expect(at(1).at([3, -2])).toMatchObject({ certain: true, lost: false, hung: true });
  expect(at(3)).toMatchObject({ certain: false, lost: true });
  expect(at(5)).toMatchObject({ certain: false, lost: false });
  expect(pointFrame([], 1)).toBeNull();
});

test('an area carries its turn and growth since it was placed', () => {
  const frame = (n: number, rotation: number, scale: number): TrackSample => ({
      ...{ frame: n, x: 100 + n, y: 50, rotation, scale, confidence: 1, state: 'good' },
    }),
    measured = plain([frame(0, 10, 2), frame(1, 55, 3)]),
    mount = trackKinds.area.frame(measured, 1)!;
  expect([mount.turnAt([0, 0]), mount.scaleAt([0, 0])]).toEqual([expect.closeTo(45, 9), expect.closeTo(1.5, 9)]);
  expect(mount.toPicture([0, 0])).toEqual([101, 50]);
  expect(trackKinds.area.frame(measured, 0)!.turnAt([0, 0])).toBe(0);
  expect(trackKinds.area.fit!({ area: 12.4 } as never)).toEqual({ area: 31 });
});

const found = (frame: number, x: number, y: number): TrackSample => ({ frame, x, y, rotation: 0, scale: 1, confidence: 1, state: 'good' });
test('a pair turns and grows with the line between its tracks, and the offset with it', () => {
  const a = [found(0, 100, 100), found(1, 110, 100)],
    b = [found(0, 140, 100), found(1, 110, 160)],
    turned = pairTurn(a, b, 1, 0)!;
  expect(turned.rotation).toBeCloseTo(90, 6);
  expect(turned.scale).toBeCloseTo(1.5, 6);
  const mount = trackKinds.pair.frame(plain(a, b), 1)!.at([10, 0]);
  expect(mount.toPicture([0, 0])).toEqual([expect.closeTo(110, 6), expect.closeTo(115, 6)]);
  expect(mount.turnAt([0, 0])).toBeCloseTo(90, 6);
  // Without its other track, or with itself, it is a point.
  expect(trackKinds.pair.frame(plain(a), 1)!.at([10, 0]).toPicture([0, 0])).toEqual([120, 100]);
  expect(pairTurn(a, a, 1, 0)).toBeNull();
});

describe('a plane', () => {
  const corners = (dx: number, squeeze: number): [number, number][] => [
      [100 + dx, 100],
      [200 + dx, 100 + squeeze],
      [200 + dx, 160 - squeeze],
      [100 + dx, 160],
    ],
    on = (frame: number, dx: number, squeeze: number): TrackSample => ({
      ...{ frame, x: 150 + dx, y: 130, rotation: 0, scale: 1, confidence: 1, state: 'good', corners: corners(dx, squeeze) },
    }),
    drawn = {
      ...{ topLeft: [-50, -30], topRight: [50, -30], bottomRight: [50, 30], bottomLeft: [-50, 30] },
      ...{ lies: 'flat on it', proportion: 0 },
    },
    frameOf = (values: object, at: number) =>
      trackKinds.plane.frame({ ...plain([on(0, 0, 0), on(1, 30, 12)]), at: [150, 130], values: { ...drawn, ...values } as never }, at)!;
  test('carries what lies flat on it with its corners, in perspective', () => {
    const flat = frameOf({}, 1);
    // Its rectangle is 100 by 60 pixels: from its middle to its upper left corner it is (-50, -30).
    expect(flat.toPicture([-50, -30])).toEqual([expect.closeTo(130, 6), expect.closeTo(100, 6)]);
    expect(flat.toPicture([50, 30])).toEqual([expect.closeTo(230, 6), expect.closeTo(148, 6)]);
    expect(flat.scaleAt([40, 0])).toBeLessThan(flat.scaleAt([-40, 0]));
    expect(frameOf({}, 0).toPicture([10, 20])).toEqual([expect.closeTo(160, 6), expect.closeTo(150, 6)]);
    expect(flat.toBody(flat.toPicture([13, -7]))).toEqual([expect.closeTo(13, 6), expect.closeTo(-7, 6)]);
  });
  test('with a known proportion its rectangle is as the real thing', () => {
    expect(frameOf({ proportion: 2 }, 1).toPicture([-50, -25])).toEqual([expect.closeTo(130, 6), expect.closeTo(100, 6)]);
  });
  test('what stands as it was drawn takes the change alone', () => {
    const tilted = [on(0, 0, 12), on(1, 30, 12)],
      upright = trackKinds.plane.frame({ ...plain(tilted), at: [150, 130], values: { ...drawn, lies: 'as it was drawn' } as never }, 1)!;
    expect(upright.toPicture([10, 10])).toEqual([expect.closeTo(190, 6), expect.closeTo(140, 6)]);
    expect(upright.scaleAt([0, 0])).toBeCloseTo(1, 6);
  });
  test('before it is followed it stands as it was drawn, and where it is set by hand it keeps that shape', () => {
    const still = { ...plain([]), at: [150, 130] as const, values: drawn as never };
    expect(trackKinds.plane.frame(still, 5)!.toPicture([50, -30])).toEqual([expect.closeTo(200, 6), expect.closeTo(100, 6)]);
    const set = { ...still, samples: [found(0, 150, 130), { ...found(4, 170, 120), state: 'keyed' as const }] };
    expect(trackKinds.plane.frame(set, 4)!.toPicture([50, -30])).toEqual([expect.closeTo(220, 6), expect.closeTo(90, 6)]);
  });
});

test('several tracks carry their middle, with their turn and growth together; what is lost has no say', () => {
  const a = [found(0, 0, 0), found(1, 10, 0)],
    b = [found(0, 100, 0), found(1, 10, 200)],
    c = [found(0, 50, 0), { ...found(1, 0, 0), x: null, y: null, state: 'lost' as const }],
    both = trackKinds.several.frame(plain([], a, b), 1)!;
  expect(both.toPicture([0, 0])).toEqual([expect.closeTo(10, 6), expect.closeTo(100, 6)]);
  expect([both.turnAt([0, 0]), both.scaleAt([0, 0])]).toEqual([expect.closeTo(90, 6), expect.closeTo(2, 6)]);
  expect(both).toMatchObject({ certain: true, lost: false });
  // The middle of all three is carried by the two that are seen.
  expect(trackKinds.several.frame(plain([], a, b, c), 1)!.toPicture([0, 0])).toEqual([expect.closeTo(10, 6), expect.closeTo(100, 6)]);
  expect(trackKinds.several.frame(plain([], c), 1)).toMatchObject({ lost: true });
  expect(trackKinds.several.frame(plain([]), 1)).toBeNull();
});

test('hand keys carry with turn and growth, and without a key it stands where it was placed', () => {
  const key = (frame: number, x: number, rotation: number, scale: number): TrackSample => ({
      ...{ frame, x, y: 10, rotation, scale, confidence: 1, state: 'keyed' },
    }),
    carried = trackKinds.hand.frame(plain([key(0, 0, 0, 1), key(10, 40, 90, 2)]), 10)!;
  expect(carried.toPicture([5, 0])).toEqual([expect.closeTo(40, 6), expect.closeTo(20, 6)]);
  expect(trackKinds.hand.frame({ ...plain([]), at: [7, 8] }, 3)!.toPicture([0, 0])).toEqual([7, 8]);
});
