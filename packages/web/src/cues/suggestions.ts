import { create } from 'zustand';
import type { FoundMoment } from '@wraithos/core/motion';
import { addCue, baseClip, freshId, pinCue, shotFrame, together } from '@wraithos/core/shot';
import { trackSamples } from '@wraithos/contract';
import { call } from '../api/client';
import { useShot } from '../state/shotStore';
import { Dropped, measurer } from '../workers/pool';
import type { WorkerAnswer } from '../workers/protocol';

export interface Suggestion extends FoundMoment {
  /** The clip that it was found in, and the shot frame at which that shows. */
  clip: string;
  at: number;
}
interface Suggestions {
  /** The shot that they are of. */
  shot: string | null;
  /** How far measuring is, 0..1; null where nothing is measured. */
  share: number | null;
  found: Suggestion[];
  /** The one that is being looked at. */
  open: Suggestion | null;
}
export const useSuggestions = create<Suggestions>(() => ({ shot: null, share: null, found: [], open: null }));
let control: AbortController | null = null;

/** Looks through the clip of the base, and its tracks, for moments that may want a cue. */
export async function suggestCues(): Promise<void> {
  const { shot, id, set } = useShot.getState(),
    clip = shot && baseClip(shot);
  if (!shot || !clip || clip.frames < 2) {
    set({ notice: 'There is no moving clip in the base to look through. Bring one in on Plates.' });
    return;
  }
  control?.abort();
  control = new AbortController();
  useSuggestions.setState({ shot: id, share: 0, found: [], open: null });
  try {
    const tracks = await Promise.all(
        Object.values(shot.tracks)
          .filter((t) => t.clip === clip.id && t.samples)
          .map(async (t) => ({
            name: t.name,
            pattern: 'pattern' in t ? (t.pattern as number) : 31,
            samples: await call(trackSamples, { params: { hash: t.samples! } }),
          })),
      ),
      answer = (await measurer().ask({ kind: 'moments', clip, tracks }, 20, control.signal, undefined, (share) =>
        useSuggestions.setState({ share }),
      )) as Extract<WorkerAnswer, { kind: 'moments' }>,
      now = useShot.getState();
    if (now.id !== id || !now.shot) return;
    const known = new Set(Object.values(now.shot.cues).map((cue) => `${cue.clip} ${cue.frame}`)),
      found = answer.found.flatMap((moment): Suggestion[] => {
        const at = shotFrame(now.shot!, clip, moment.frame);
        return at === null || known.has(`${clip.id} ${moment.frame}`) ? [] : [{ ...moment, clip: clip.id, at }];
      });
    useSuggestions.setState({ share: null, found });
    if (!found.length) set({ notice: `No cut, flash, change of light, landing, stop or blink was found in ${clip.name}.` });
  } catch (error) {
    useSuggestions.setState({ share: null });
    if (!(error instanceof Dropped)) set({ notice: (error as Error).message });
  }
}
export const stopSuggesting = (): void => control?.abort();

/** Leaves a suggestion out. */
export function dismissSuggestion(which: Suggestion): void {
  const { found } = useSuggestions.getState();
  useSuggestions.setState({ found: found.filter((s) => s !== which), open: null });
}
/** Makes a cue of a suggestion, pinned to what the clip shows there. */
export function acceptSuggestion(which: Suggestion): void {
  const { shot, edit, set } = useShot.getState();
  if (!shot) return;
  const id = freshId(shot.cues, 'q'),
    add = addCue(id, which.kind, which.at);
  edit(together('Add suggested cue', add, pinCue(id, which.clip)));
  set({ selection: { kind: 'cue', id }, frame: which.at });
  dismissSuggestion(which);
}
