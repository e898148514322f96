import type { TrackSample } from '../src/motion';

/** A sample at a frame, with y twice its x. */
export const at = (frame: number, x: number | null, state: TrackSample['state'] = 'good'): TrackSample => ({
  frame,
  x,
  y: x === null ? null : 2 * x,
  rotation: 0,
  scale: 1,
  confidence: 0.9,
  state,
});
/** Keyed, good, two lost, good, weak. */
export const samples = [at(0, 10, 'keyed'), at(1, 11), at(2, null, 'lost'), at(3, null, 'lost'), at(4, 17), at(5, 18, 'weak')];
