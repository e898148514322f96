import { reducedSize } from '../image/resize';

/** Draft sizes: 1 is the whole shot; 2 and 4 are the half and the quarter of each side. */
export type Factor = 1 | 2 | 4;
export interface FrameSize {
  width: number;
  height: number;
  factor: Factor;
}
export const sizeOf = (shot: { width: number; height: number }, factor: Factor): FrameSize => ({
  width: reducedSize(shot.width, factor),
  height: reducedSize(shot.height, factor),
  factor,
});
