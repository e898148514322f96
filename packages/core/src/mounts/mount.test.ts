import { samples } from '../../test/samples';
import type { TrackSample } from '../motion';
import { mountPose, pairTurn } from './mount';

test('a mount stands beside its track by its offset, and says where it is not certain', () => {
  expect(mountPose(samples, 1, [3, -2])).toEqual({ x: 14, y: 20, rotation: 0, scale: 1, certain: true, lost: false });
  expect(mountPose(samples, 3, [0, 0])!.certain).toBe(false);
  expect(mountPose(samples, 5, [0, 0])!.certain).toBe(false);
});

const found = (frame: number, x: number, y: number): TrackSample => ({ frame, x, y, rotation: 0, scale: 1, confidence: 1, state: 'good' });
test('a pair turns and grows with the line between its tracks, and the offset with it', () => {
  const a = [found(0, 100, 100), found(1, 110, 100)],
    b = [found(0, 140, 100), found(1, 110, 160)],
    turned = pairTurn(a, b, 1, 0)!;
  expect(turned.rotation).toBeCloseTo(90, 6);
  expect(turned.scale).toBeCloseTo(1.5, 6);
  expect(mountPose(a, 1, [10, 0], turned)).toMatchObject({ x: expect.closeTo(110, 6), y: expect.closeTo(115, 6) });
  expect(mountPose(a, 1, [10, 0])).toMatchObject({ x: 120, y: 100, rotation: 0, scale: 1 });
  expect(pairTurn(a, a, 1, 0)).toBeNull();
});
