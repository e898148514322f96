import { AffineFrame, type Frame } from '../motion/frame';
import { param, type Values } from '../params/describe';

/** How a placed picture goes with its mount. */
export const carryParams = {
  carried: param.choice({
    default: 'rides on the mount',
    of: ['rides on the mount', 'goes with its place only', 'stays where it began'],
    title: 'Carried',
    help: 'Moves, turns and grows with the mount; only moves with it; or begins there and then stays in the world.',
  }),
} as const;
export type Carried = Values<typeof carryParams>['carried'];

/** The frame that carries it: its mount, the place of it alone, or the mount as it stood at the row's first frame. */
export function carrierOf(carried: Carried, mount: Frame, begun: Frame): Frame {
  if (carried === 'stays where it began') return begun;
  if (carried === 'rides on the mount') return mount;
  const [x, y] = mount.toPicture([0, 0]);
  return new AffineFrame(x, y, undefined, mount);
}
