import { isDraft } from 'immer';
import { clipFrame, shotFrame } from './appearance';
import type { Cue, Shot } from './schema';

const known = new WeakMap<object, Map<string, number>>();

/**
 * Shot frame of a cue: its own, or that at which the frame of a clip shows that it is pinned to. A frame that never shows stands where it would stand if
 * its clip played a frame a frame. A cue that is gone is at 0.
 */
export function cueFrame(shot: Shot, id: string): number {
  const cue = shot.cues[id];
  if (!cue) return 0;
  const clip = cue.clip ? shot.clips[cue.clip] : undefined;
  if (!clip) return cue.frame;
  const find = () => shotFrame(shot, clip, cue.frame) ?? clip.start + cue.frame;
  // A draft changes while it is asked.
  if (isDraft(shot)) return find();
  let frames = known.get(shot);
  if (!frames) known.set(shot, (frames = new Map()));
  let frame = frames.get(id);
  if (frame === undefined) frames.set(id, (frame = find()));
  return frame;
}
/** All cues with their shot frames, in order. */
export const cuesInOrder = (shot: Shot): { cue: Cue; frame: number }[] =>
  Object.values(shot.cues)
    .map((cue) => ({ cue, frame: cueFrame(shot, cue.id) }))
    .sort((a, b) => a.frame - b.frame || (a.cue.id < b.cue.id ? -1 : 1));

/** What a cue at a shot frame stores: the frame itself, or that of the clip that it is pinned to. */
export const storedCueFrame = (shot: Shot, clip: string | null, frame: number): number => {
  const of = clip ? shot.clips[clip] : undefined;
  return of ? clipFrame(shot, of, frame) : frame;
};
