import { seenAt, toCorners } from '@wraithos/core/image';
import { crossingOf, floorPixelsPerMetre, horizonOf, metresPerPixel, trackKinds, type Quad } from '@wraithos/core/motion';
import { openMedium } from '@wraithos/runtime';
import { cornersOption, needed, numberOption, pairOption, pathOf, UsageError, type Verb } from '../command';

export const ground: Verb = {
  name: 'ground',
  usage: '<clip> --corners x1,y1,…,x4,y4 --wide M [--deep M] [--at X,Y]',
  about: 'The floor of a shot by a rectangle of known size on it: its map, its horizon, and metres for pixels at a place (JSON).',
  options: {
    corners: {
      type: 'string',
      value: 'x1,y1,…',
      about: 'Corners of the rectangle, px, clockwise from the far left one: eight numbers; needed.',
    },
    wide: { type: 'string', value: 'M', about: 'Length of its side from left to right, metres; needed.' },
    deep: { type: 'string', value: 'M', about: 'Length of its side away from the camera, metres.', usual: 'as wide' },
    at: { type: 'string', value: 'X,Y', about: 'A place of the floor, px.', usual: 'the middle of the rectangle' },
  },
  positionals: [1, 1],
  async run(given) {
    const corners = cornersOption(given) as unknown as Quad,
      above = (n: number) => n >= 0.01 && n <= 10_000;
    needed(given, 'wide');
    const wide = numberOption(given, 'wide', 1, above, 'metres from 0.01 to 10000'),
      deep = numberOption(given, 'deep', wide, above, 'metres from 0.01 to 10000'),
      middle = crossingOf(corners),
      at = typeof given.values.at === 'string' ? pairOption(given.values.at, 'at') : middle,
      map = toCorners(wide, deep, corners);
    if (!map) throw new UsageError('--corners: three of them lie on a line, and no floor is seen like that.');
    const { info } = await openMedium(pathOf(given.positionals[0]!)),
      from = ([x, y]: readonly [number, number]) => [x - middle[0], y - middle[1]],
      values = {
        ...{ topLeft: from(corners[0]), topRight: from(corners[1]), bottomRight: from(corners[2]), bottomLeft: from(corners[3]) },
        ...{ wide, deep },
      } as never,
      floor = trackKinds.ground.frame({ samples: [], others: [], reference: 0, at: middle, values }, 0)!,
      horizon = horizonOf(map, info.width);
    return {
      ...{ width: info.width, height: info.height, corners, wide, deep },
      /** From metres on the floor (from its far left corner, to the right and towards the camera) to pixels. */
      map: map.map((v) => v / map[8]),
      horizon: horizon && [
        [0, horizon[0]],
        [info.width, horizon[1]],
      ],
      at: { x: at[0], y: at[1], metresPerPixel: metresPerPixel(floor, floorPixelsPerMetre(values), at) },
      middle: seenAt(map, [wide / 2, deep / 2]).at,
    };
  },
};
