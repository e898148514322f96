import { create } from 'zustand';

/** What of the selected outline is in the hand. */
interface OutlinePoints {
  /** The selected points, by number. */
  points: readonly number[];
  /** What a change on a frame without a key sets there: the whole outline, or only the points that moved. */
  sets: 'the whole outline' | 'only moved points';
}
export const useOutlinePoints = create<OutlinePoints>(() => ({ points: [], sets: 'the whole outline' }));
/** Selects a point alone, or (with Shift) as well, or no longer. */
export const choosePoint = (i: number, more: boolean): void =>
  useOutlinePoints.setState(({ points }) => ({
    points: !more ? [i] : points.includes(i) ? points.filter((p) => p !== i) : [...points, i],
  }));
