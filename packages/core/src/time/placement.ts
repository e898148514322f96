/**
 * One use of a clip on the shot's time: the shot frame at which its frame 0 stands, and how many frames it has. Whatever else a placement comes to
 * say, only this file turns frames of the shot into frames of the clip and back.
 */
export interface Placement {
  start: number;
  frames: number;
}

/** Frame of a clip at a shot frame, held at both ends; stills are the same at all frames. */
export const clipFrame = (placed: Placement, shotFrame: number): number =>
  Math.min(placed.frames - 1, Math.max(0, shotFrame - placed.start));

/** Shot frame at which a frame of a clip stands. */
export const shotFrame = (placed: Placement, ofClip: number): number => ofClip + placed.start;

/** First and last shot frame at which a clip moves. */
export const placedRange = (placed: Placement): [number, number] => [shotFrame(placed, 0), shotFrame(placed, placed.frames - 1)];
