import { create } from 'zustand';
import { builtPlate, cancelJob, getJob, startPlate } from '@wraithos/contract';
import { clipWithRole, freshId, keepBuiltPlate, newPlateSettings, type MadePlate } from '@wraithos/core/shot';
import { call, read } from '../api/client';
import { followJob } from '../api/events';
import { useShot } from '../state/shotStore';
import type { ImportState } from '../shots/useImport';

export type PlateSettings = Pick<MadePlate, 'camera' | 'flicker' | 'grain' | 'first' | 'last' | 'matte'>;
interface Building {
  /** How far the plate is that is being built; null where none is. */
  state: (ImportState & { clip: string }) | null;
  job: string | null;
  /** Builds the clean plate of a clip and takes it over into the shot, whichever step is looked at meanwhile. */
  build(clip: string, settings?: PlateSettings): Promise<void>;
  cancel(): void;
}

const percent = (share: number): string => `${Number((100 * share).toFixed(share < 0.1 ? 1 : 0))} %`;
/** What came of a built plate, for people. */
export function plateWords(made: MadePlate): string {
  const camera = made.drift > 0 ? `The camera drifts by up to ${made.drift} px` : 'The camera stands still',
    light = made.flickered > 0 ? `, the light changes by up to ${made.flickered} %` : '',
    unsure = made.unsure >= 0.0005 ? ` ${percent(made.unsure)} of the picture is unsure.` : ' No part of it is unsure.';
  return `Built from ${made.frames} frames. ${camera}${light}.${unsure}`;
}

export const useBuilding = create<Building>((set, get) => ({
  state: null,
  job: null,
  async build(clip, wanted) {
    const { shot, id, save, set: tell } = useShot.getState(),
      from = shot?.clips[clip];
    if (!shot || !id || !from || get().state) return;
    if (save === 'offline') {
      tell({ notice: 'The server does not answer, and a clean plate is built there. Try again when the shot is saved.' });
      return;
    }
    const settings = wanted ?? newPlateSettings(shot, from),
      label = `Clean plate of ${from.name}`,
      begun = { label, clip, done: 0, total: 100, message: 'waiting', secondsLeft: null };
    set({ state: begun });
    try {
      await useShot.getState().saved();
      const job = await call(startPlate, { body: { shot: id, clip, ...settings } });
      set({ job: job.id });
      const over = await followJob(
        job.id,
        () => call(getJob, { params: { id: job.id } }),
        (now) => set({ state: { ...begun, done: now.done, total: now.total, message: now.message, secondsLeft: now.secondsLeft } }),
      );
      const now = useShot.getState();
      if (over.state !== 'done') now.set({ notice: over.state === 'cancelled' ? 'Cancelled; no clean plate was kept.' : over.message });
      else if (now.id !== id || !now.shot?.clips[clip])
        now.set({ notice: `${label} was built, but that clip is not open here any more. Build it again there.` });
      else {
        const made = read(builtPlate, over.result),
          other = clipWithRole(now.shot, 'clean'),
          moved = other && other.made?.clip !== clip ? ` ${other.name} is a reference now.` : '',
          fresh = freshId(now.shot.clips, 'c');
        now.edit(keepBuiltPlate(fresh, clip, { hash: made.hash }, made.info, made.made));
        const plate = Object.values(useShot.getState().shot!.clips).find((c) => c.made?.clip === clip);
        now.set({
          notice: {
            text: plateWords(made.made) + moved,
            ...(plate
              ? { action: { label: 'Show', run: () => useShot.getState().set({ selection: { kind: 'clip', id: plate.id } }) } }
              : {}),
          },
        });
      }
    } catch (error) {
      useShot.getState().set({ notice: (error as Error).message });
    }
    set({ state: null, job: null });
  },
  cancel() {
    const { job } = get();
    if (job) void call(cancelJob, { params: { id: job } }).catch(() => undefined);
  },
}));
