import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { backdrops, type Backdrop } from '../workers/protocol';

const MIB = 2 ** 20;
export const memoryChoices = [256, 512, 1024, 2048, 4096] as const;
export interface Preferences {
  /** Most MiB of pictures, steps and source frames that this page remembers. */
  memoryMiB: number;
  /** What stands behind the transparent parts of a picture. */
  backdrop: Backdrop;
}

/** What this person set on this machine. */
export const usePreferences = create<Preferences & { change(change: Partial<Preferences>): void }>()(
  persist((set) => ({ memoryMiB: 1024, backdrop: 'checker', change: (change) => set(change) }), {
    name: 'wraithos-preferences',
    merge: (kept, now) => {
      const { memoryMiB, backdrop } = (kept ?? {}) as Partial<Preferences>;
      return {
        ...now,
        ...(memoryChoices.some((m) => m === memoryMiB) ? { memoryMiB: memoryMiB! } : {}),
        ...(backdrops.some((b) => b === backdrop) ? { backdrop: backdrop! } : {}),
      };
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
