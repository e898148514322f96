import { create } from 'zustand';

/** A box of the picture, whole-shot pixels: left, top, right, bottom. */
export type Box = readonly [number, number, number, number];
/** Where the pointer is on the picture, and the box that was dragged to be measured; apart from the shot's state, since it changes with every move. */
export const usePointer = create<{ at: readonly [number, number] | null; box: Box | null }>(() => ({ at: null, box: null }));

/** A box between two corners, whichever they are. */
export const boxOf = ([x, y]: readonly [number, number], [u, v]: readonly [number, number]): Box => [
  Math.min(x, u),
  Math.min(y, v),
  Math.max(x, u),
  Math.max(y, v),
];
