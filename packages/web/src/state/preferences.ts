import { create } from 'zustand';
import { persist } from 'zustand/middleware';

const MIB = 2 ** 20;
export const memoryChoices = [256, 512, 1024, 2048, 4096] as const;
export interface Preferences {
  /** Most MiB of pictures, steps and source frames that this page remembers. */
  memoryMiB: number;
}

/** What this person set on this machine. */
export const usePreferences = create<Preferences & { change(change: Partial<Preferences>): void }>()(
  persist((set) => ({ memoryMiB: 1024, change: (change) => set(change) }), {
    name: 'wraithos-preferences',
    merge: (kept, now) => {
      const wished = (kept as Partial<Preferences> | undefined)?.memoryMiB;
      return { ...now, ...((memoryChoices as readonly number[]).includes(wished ?? 0) ? { memoryMiB: wished! } : {}) };
    },
  }),
);

/**
 * How the memory is shared out, in bytes: finished pictures make playing smooth, steps make nudges quick, source frames save the way to the
 * server.
 */
export function memoryShares(mebibytes = usePreferences.getState().memoryMiB): { pictures: number; steps: number; sources: number } {
  const all = mebibytes * MIB;
  return { pictures: 0.45 * all, steps: 0.35 * all, sources: 0.2 * all };
}
