import { samples } from '../../test/samples';
import { mountPose } from './mount';

test('a mount stands beside its track by its offset, and says where it is not certain', () => {
  expect(mountPose(samples, 1, [3, -2])).toEqual({ x: 14, y: 20, rotation: 0, scale: 1, certain: true, lost: false });
  expect(mountPose(samples, 3, [0, 0])!.certain).toBe(false);
  expect(mountPose(samples, 5, [0, 0])!.certain).toBe(false);
});
