import { samples } from '../../test/samples';
import type { TrackSample } from '../motion';
import { mountFrame, pairFrame, pairTurn, pointFrame } from './mount';

test('a mount stands beside its track by its offset, and says where it is not certain', () => {
  const mount = mountFrame(pointFrame(samples, 1), [3, -2])!;
  expect(mount.toPicture([0, 0])).toEqual([14, 20]);
  expect(mount).toMatchObject({ certain: true, lost: false, hung: true });
  expect(mountFrame(pointFrame(samples, 3), [0, 0])).toMatchObject({ certain: false, lost: true });
  expect(mountFrame(pointFrame(samples, 5), [0, 0])).toMatchObject({ certain: false, lost: false });
  expect(mountFrame(pointFrame([], 1), [0, 0])).toBeNull();
});

const found = (frame: number, x: number, y: number): TrackSample => ({ frame, x, y, rotation: 0, scale: 1, confidence: 1, state: 'good' });
test('a pair turns and grows with the line between its tracks, and the offset with it', () => {
  const a = [found(0, 100, 100), found(1, 110, 100)],
    b = [found(0, 140, 100), found(1, 110, 160)],
    turned = pairTurn(a, b, 1, 0)!;
  expect(turned.rotation).toBeCloseTo(90, 6);
  expect(turned.scale).toBeCloseTo(1.5, 6);
  const mount = mountFrame(pairFrame(a, b, 1, 0), [10, 0])!;
  expect(mount.toPicture([0, 0])).toEqual([expect.closeTo(110, 6), expect.closeTo(115, 6)]);
  expect(mount.turnAt()).toBeCloseTo(90, 6);
  expect(mountFrame(pointFrame(a, 1), [10, 0])!.toPicture([0, 0])).toEqual([120, 100]);
  expect(pairTurn(a, a, 1, 0)).toBeNull();
});
