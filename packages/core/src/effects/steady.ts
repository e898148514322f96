import { fieldOfMap, warp } from '../image/warp';
import { param } from '../params/describe';
import { quadToQuad, type Quad } from '../motion/fitHomography';
import { beyondEdge } from './beyondEdge';
import { effect } from './describe';
import { recipes } from './recipes/steady';

/**
 * Takes the motion of what it hangs on out of the picture below: on a track of the camera the shot stands still, with everything that was laid on it
 * before. What comes in from beyond the edges is a mirror image or the last pixels; an enlargement hides it.
 */
export const steady = effect({
  type: 'steady',
  version: 1,
  title: 'Steady',
  recipes,
  summary:
    'Holds what it hangs on still in the picture, with all that lies below: on a Camera track, a shot that was filmed by hand stands still.',
  // Where the lantern is on the frame that is shown.
  shown: { on: 'lantern', values: { place: [-221, -96] } },
  lanes: ['whole'],
  facts: [],
  origin: 'middle',
  params: {
    place: param.point({
      default: [0, 0],
      title: 'Stands at',
      help: 'Place at which the mount is held, px from the middle of the picture. A Camera track belongs in the middle.',
    }),
    enlarged: param.share({
      default: 104,
      title: 'Enlarged',
      range: [100, 200],
      help: 'Size of the picture about its middle, so that its edges stay outside.',
    }),
    edge: beyondEdge,
  },
  inputs: { below: { kind: 'below', title: 'Picture below' }, mount: { kind: 'mount', title: 'Mount' } },
  render({ pictures, width, height }, v, { below, mount }) {
    const corners: Quad = [
        [0, 0],
        [width, 0],
        [width, height],
        [0, height],
      ],
      by = 1 / v.enlarged,
      /** Where a pixel of the result is seen in the picture below. */
      seen = corners.map(([x, y]) =>
        mount.toPicture([(x - width / 2) * by - v.place[0], (y - height / 2) * by - v.place[1]]),
      ) as unknown as Quad,
      m = mount.hung ? quadToQuad(corners, seen) : null;
    if (!m) return {};
    const { dx, dy } = fieldOfMap(m, width, height, pictures);
    const changed = warp(below, dx, dy, v.edge, pictures, 'cubic');
    pictures.give(dx);
    pictures.give(dy);
    return { changed };
  },
  checks: [
    {
      id: 'steady-unhung',
      find: (facts) =>
        facts.mount
          ? null
          : {
              text: `${facts.name} hangs on nothing, and changes nothing.`,
              fix: 'Add a Camera on Motion, track it, and hang it on that.',
            },
    },
  ],
  handles: [{ shape: 'point', moves: 'place' }],
});
