import { AffineFrame } from '../frame';
import { isPlaced } from '../samples';
import { trackKind } from './describe';
import { keyedPlace } from '../keyed';

/** What cannot be followed, set by hand: its frames are keys, and it goes smoothly from one to the next. */
export const hand = trackKind({
  kind: 'hand',
  title: 'Hand keys',
  summary: 'Set by hand: drag it on a frame to make a key. It goes smoothly from key to key, with its turn and growth.',
  click: 'where it stands',
  params: {},
  boxes: [],
  keyed: true,
  frame({ samples, at }, clipFrame) {
    const keys = samples.filter(isPlaced),
      now = keyedPlace(keys, clipFrame);
    return now ? AffineFrame.turned(now.x, now.y, now.rotation, now.scale) : new AffineFrame(at[0], at[1]);
  },
});
