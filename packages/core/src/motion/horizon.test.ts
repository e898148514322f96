import { toCorners } from '../image/homography';
import { horizonOf, metresPerPixel } from './horizon';
import { trackKinds } from './kinds';
import { floorPixelsPerMetre } from './kinds/ground';

/** A camera 1.6 m above a floor, looking level, 800 pixels of focal length, its horizon at y = 300. */
const HIGH = 1.6,
  FOCAL = 800;
const seen = (x: number, z: number): [number, number] => [640 + (FOCAL * x) / z, 300 + (FOCAL * HIGH) / z];
const corners = [seen(-1, 8), seen(1, 8), seen(1, 4), seen(-1, 4)] as const,
  at: [number, number] = [640, 500],
  from = ([x, y]: readonly [number, number]): [number, number] => [x - at[0], y - at[1]],
  values = {
    ...{ topLeft: from(corners[0]), topRight: from(corners[1]), bottomRight: from(corners[2]), bottomLeft: from(corners[3]) },
    ...{ wide: 2, deep: 4 },
  },
  floor = trackKinds.ground.frame({ samples: [], others: [], reference: 0, at, values: values as never }, 0)!;

test('the horizon of a floor is where a level camera looks', () => {
  const horizon = horizonOf(toCorners(2, 4, corners)!, 1280)!;
  expect(horizon).toEqual([expect.closeTo(300, 6), expect.closeTo(300, 6)]);
  expect(
    horizonOf(
      toCorners(2, 4, [
        [0, 0],
        [20, 0],
        [20, 40],
        [0, 40],
      ])!,
      1280,
    ),
  ).toBeNull();
});
test('what lies on the floor is in metres: a step, a place, and the height of who stands there', () => {
  const per = floorPixelsPerMetre(values as never),
    // From the middle of the rectangle's near side, 1 m to the right and 1 m on.
    near = floor.toBody(seen(0, 4)),
    there = floor.toPicture([near[0] + per, near[1] - per]);
  expect(there).toEqual([expect.closeTo(seen(1, 5)[0], 6), expect.closeTo(seen(1, 5)[1], 6)]);
  for (const z of [3, 5, 12]) expect(metresPerPixel(floor, per, seen(0.3, z))).toBeCloseTo(z / FOCAL, 6);
});
