import type { TrackSample } from '../motion';
import { mountPose } from './mount';

const at = (frame: number, x: number | null, state: TrackSample['state'] = 'good'): TrackSample => ({
  frame,
  x,
  y: x === null ? null : 2 * x,
  rotation: 0,
  scale: 1,
  confidence: 0.9,
  state,
});
const samples = [at(0, 10, 'keyed'), at(1, 11), at(2, null, 'lost'), at(3, null, 'lost'), at(4, 17), at(5, 18, 'weak')];

test('a mount stands beside its track by its offset, and says where it is not certain', () => {
  expect(mountPose(samples, 1, [3, -2])).toEqual({ x: 14, y: 20, rotation: 0, scale: 1, certain: true });
  expect(mountPose(samples, 3, [0, 0])!.certain).toBe(false);
  expect(mountPose(samples, 5, [0, 0])!.certain).toBe(false);
});
