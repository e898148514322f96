import { param, type StoredOf } from '../params/describe';
import { AffineFrame } from './frame';
import { lostWays } from './lost';
import type { FlatFrame } from './seen';

/** How a mount carries what hangs on it. */
export const carriageParams = {
  turn: param.angle({
    default: 0,
    title: 'Turned by',
    curve: false,
    help: 'Against its track, degrees clockwise.',
  }),
  takes: param.choice({
    default: 'all of it',
    of: ['all of it', 'place and turn', 'place and growth', 'place only'],
    title: 'Takes',
    help: 'Takes place, turn, growth and perspective of the motion, or a part of them.',
  }),
  trails: param.number({
    default: 0,
    title: 'Trails by',
    unit: 'frames',
    range: [0, 48],
    step: 0.5,
    curve: false,
    help: 'Follows behind by so many frames, as on a spring.',
  }),
  lost: param.choice({
    default: 'goes between',
    of: lostWays,
    title: 'While lost',
    help: 'Goes between where the track was seen before and after, stays where it was seen last, or goes on along its way.',
  }),
  fade: param.number({
    default: 0,
    title: 'Fades while lost',
    unit: 'frames',
    range: [0, 100],
    step: 1,
    curve: false,
    help: 'Frames over which what hangs on it goes out when the track is lost, and comes back when it is found. 0 keeps it.',
  }),
  time: param.choice({
    default: 'follows',
    of: ['follows', 'stays as at a frame'],
    title: 'In time',
    help: 'Follows its track, or stands where it was at one frame.',
  }),
  heldAt: param.number({
    default: 0,
    title: 'As at frame',
    unit: 'frame',
    range: [-100_000, 1_000_000],
    step: 1,
    curve: false,
    when: { param: 'time', is: ['stays as at a frame'] },
    help: 'Frame of the shot.',
  }),
};
export type Carriage = StoredOf<typeof carriageParams>;

/** A frame of which only a part of the motion is taken, turned against it. */
export function takenOf(frame: FlatFrame, { takes, turn }: Pick<Carriage, 'takes' | 'turn'>): FlatFrame {
  let out = frame;
  if (takes !== 'all of it') {
    const [x, y] = frame.toPicture([0, 0]),
      turned = takes === 'place and turn' ? frame.turnAt([0, 0]) : 0,
      scale = takes === 'place and growth' ? frame.scaleAt([0, 0]) : 1;
    out = AffineFrame.turned(x, y, turned, scale, frame);
  }
  return turn ? out.turnedBy(turn) : out;
}
