import { create } from 'zustand';
import { persist } from 'zustand/middleware';

/** Marks on the frames of shots, for whoever works at this browser: no document knows them. By shot, in order. */
export const useMarks = create<{ marks: Record<string, number[]> }>()(
  persist(() => ({ marks: {} as Record<string, number[]> }), {
    name: 'wraithos-marks',
    merge: (kept, now) => {
      const marks = (kept as { marks?: unknown } | undefined)?.marks;
      if (typeof marks !== 'object' || marks === null) return now;
      const good = Object.entries(marks).filter(([, list]) => Array.isArray(list) && list.every((f) => Number.isInteger(f)));
      return { marks: Object.fromEntries(good) as Record<string, number[]> };
    },
  }),
);
/** Puts a mark at a frame, or takes the one that is there away. */
export function toggleMark(shot: string, frame: number): void {
  const { marks } = useMarks.getState(),
    own = marks[shot] ?? [],
    next = own.includes(frame) ? own.filter((f) => f !== frame) : [...own, frame].sort((a, b) => a - b);
  useMarks.setState({ marks: { ...marks, [shot]: next } });
}
