import { samples } from '../../../test/samples';
import type { TrackSample } from '..';
import { trackKinds } from '.';
import { pairTurn } from './pair';
import { pointFrame } from './point';

test('a mount stands beside its track by its offset, and says where it is not certain', () => {
  const { frame } = trackKinds.point,
    at = (clipFrame: number) => frame({ samples, other: null, reference: 0 }, clipFrame)!;
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
    measured = { samples: [frame(0, 10, 2), frame(1, 55, 3)], other: null, reference: 0 },
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
  const mount = trackKinds.pair.frame({ samples: a, other: b, reference: 0 }, 1)!.at([10, 0]);
  expect(mount.toPicture([0, 0])).toEqual([expect.closeTo(110, 6), expect.closeTo(115, 6)]);
  expect(mount.turnAt([0, 0])).toBeCloseTo(90, 6);
  // Without its other track, or with itself, it is a point.
  expect(trackKinds.pair.frame({ samples: a, other: null, reference: 0 }, 1)!.at([10, 0]).toPicture([0, 0])).toEqual([120, 100]);
  expect(pairTurn(a, a, 1, 0)).toBeNull();
});
