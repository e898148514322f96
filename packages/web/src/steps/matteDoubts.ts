import { create } from 'zustand';
import { doubtfulMattes, type MatteDoubt } from '@wraithos/core/matte';
import type { Matte } from '@wraithos/core/shot';
import { useShot } from '../state/shotStore';
import { Dropped, measurer } from '../workers/pool';

/** What was found of one matte, and how far the looking is. */
interface DoubtState {
  /** The matte that was looked at, as it was then. */
  matte: Matte | null;
  doubts: MatteDoubt[];
  running: { id: string; share: number } | null;
  error: string | null;
}
export const useMatteDoubts = create<DoubtState>(() => ({ matte: null, doubts: [], running: null, error: null }));
let control: AbortController | null = null;
export const stopDoubts = (): void => control?.abort();

/** Looks through all frames of the shot for those on which a matte is doubtful. A look that is under way ends. */
export async function lookForDoubts(id: string): Promise<void> {
  const { shot } = useShot.getState(),
    matte = shot?.mattes[id];
  if (!shot || !matte) return;
  control?.abort();
  const own = (control = new AbortController());
  useMatteDoubts.setState({ running: { id, share: 0 }, error: null });
  try {
    const answer = await measurer().ask({ kind: 'matte doubts', shot, matte: id }, 20, own.signal, undefined, (share) => {
      if (control === own) useMatteDoubts.setState({ running: { id, share } });
    });
    if (answer.kind === 'matte doubts' && control === own) useMatteDoubts.setState({ matte, doubts: doubtfulMattes(answer.measures) });
  } catch (error) {
    if (!(error instanceof Dropped) && control === own) useMatteDoubts.setState({ error: (error as Error).message });
  } finally {
    if (control === own) {
      control = null;
      useMatteDoubts.setState({ running: null });
    }
  }
}
