import { drawFacade, FACADE } from '../../../test/facade';
import { trackKinds } from '.';
import type { TrackSample } from '..';

test('the camera is followed by the whole picture, whoever crosses it; what hangs on it stays in the scene', () => {
  const at = (f: number) => ({ x: 1.4 * f + 3 * Math.sin(f / 3), y: 2 * Math.sin(f / 4) }),
    options = { at, grain: 4 / 255, flicker: 0.05, post: (f: number) => 420 - 14 * f },
    middle = { x: FACADE.width / 2, y: FACADE.height / 2 },
    follower = trackKinds.camera.follow!({} as never, drawFacade(0, options), 0, middle, null as never),
    samples: TrackSample[] = [follower.start];
  for (let f = 1; f < 34; f++) samples.push(follower.step(drawFacade(f, options), f, null as never));
  const good = samples.filter((s) => s.state === 'good');
  expect(good.length).toBeGreaterThanOrEqual(31);
  for (const { frame } of good) {
    const mount = trackKinds.camera.frame({ samples, others: [], reference: 0, at: [middle.x, middle.y], values: {} }, frame)!,
      seen = mount.toPicture([0, 0]);
    expect(Math.hypot(seen[0] - middle.x - at(frame).x + at(0).x, seen[1] - middle.y - at(frame).y + at(0).y)).toBeLessThan(0.4);
    expect(mount.scaleAt([0, 0])).toBeCloseTo(1, 1);
  }
});
