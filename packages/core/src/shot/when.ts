import { isDraft } from 'immer';
import { momentsOf, playedRange, wayOf } from '../placing';
import type { Moment } from '../time/moments';
import { shownWith } from './clips';
import type { Clip, Cue, Shot } from './schema';

/*
 * When things are: at which shot frame a clip begins, which of its frames show, and where cues stand. A clip may begin at a cue, and a cue may be pinned
 * to what a clip shows, so each asks the other; the schema refuses those that wait for themselves.
 */

const partsOf = new WeakMap<Shot['clips'], Map<string, Clip[]>>();
/** The later parts of a clip that was split; none where it was not. */
export function laterParts(shot: Pick<Shot, 'clips'>, clip: string): readonly Clip[] {
  let known = partsOf.get(shot.clips);
  if (!known) {
    known = new Map();
    for (const part of Object.values(shot.clips))
      if (part.continues !== null) known.set(part.continues, [...(known.get(part.continues) ?? []), part]);
    partsOf.set(shot.clips, known);
  }
  return known.get(clip) ?? NONE;
}
const NONE: readonly Clip[] = [];
/** The part of a clip that stands at a shot frame: the clip itself, or the latest of its later parts that has begun. */
export function partAt(shot: Shot, clip: Clip, frame: number): Clip {
  let found = clip,
    since = -Infinity;
  for (const part of laterParts(shot, clip.id)) {
    const start = clipStart(shot, part);
    if (start <= frame && start >= since) [found, since] = [part, start];
  }
  return found;
}

/** Shot frame at which the first of a clip's frames that play stands: its own, or so many after the cue that it hangs on. */
export const clipStart = (shot: Shot, clip: Clip): number => clip.start + (clip.cue === null ? 0 : cueFrame(shot, clip.cue));

/** Which frames of a clip show at a shot frame, where it stands in the base. */
export function clipMoments(shot: Shot, clip: Clip, frame: number): Moment[] {
  const part = partAt(shot, shownWith(shot, clip), frame),
    { values, curves } = part.placed;
  return momentsOf(values, curves, frame - clipStart(shot, part), clip, shot.rate);
}

/** The frame of a clip that shows at a shot frame, or would if it had begun or were not over. */
export function clipFrame(shot: Shot, clip: Clip, frame: number): number {
  const [most] = clipMoments(shot, clip, frame).sort((a, b) => b.share - a.share);
  if (most) return most.frame;
  const part = partAt(shot, shownWith(shot, clip), frame),
    { placed } = part,
    [first, last] = playedRange(placed.values, clip.frames),
    ahead = frame < clipStart(shot, part) === (placed.values.direction !== 'backwards');
  return ahead ? first : last;
}

/** Frames of a shot that a clip can be asked about: no clip moves for longer. */
const LONGEST = 100_000;
/** First and last shot frame at which a clip moves; it has no last one where it goes on for ever. */
export function placedRange(shot: Shot, of: Clip): [number, number | null] {
  const clip = shownWith(shot, of),
    start = clipStart(shot, clip),
    { values, curves } = clip.placed,
    plays = values.playback as string | undefined,
    [first, last] = playedRange(values, clip.frames),
    way = (frames: number) => wayOf(values, curves, frames, clip, shot.rate),
    steady = way(1);
  if (clip.frames === 1) return [start, start];
  if (plays === 'loops' || plays === 'there and back' || plays === 'loops, crossfaded' || (steady <= 0 && !curves.speed))
    return [start, null];
  if (!curves.speed) return [start, start + Math.max(0, Math.ceil((last - first + 1) / steady - 1e-9) - 1)];
  for (let f = 1; f < LONGEST; f++) if (way(f) >= last - first + 1) return [start, start + f - 1];
  return [start, null];
}

/** The first shot frame of these at which a frame of a clip shows; null where it never does. */
export function shotFrame(shot: Shot, clip: Clip, ofClip: number): number | null {
  for (let f = shot.first; f <= shot.last; f++) if (clipMoments(shot, clip, f).some((m) => m.frame === ofClip && m.share >= 0.5)) return f;
  return null;
}

const known = new WeakMap<object, Map<string, number>>();

/**
 * Shot frame of a cue: its own, or that at which the frame of a clip shows that it is pinned to. A frame that never shows stands where it would stand if
 * its clip played a frame a frame. A cue that is gone is at 0.
 */
/** Shot frames of all cues, earliest first. */
export const cueFrames = (shot: Shot): number[] =>
  Object.keys(shot.cues)
    .map((id) => cueFrame(shot, id))
    .sort((a, b) => a - b);
export function cueFrame(shot: Shot, id: string): number {
  const cue = shot.cues[id];
  if (!cue) return 0;
  const clip = cue.clip ? shot.clips[cue.clip] : undefined;
  if (!clip) return cue.frame;
  const find = () => shotFrame(shot, clip, cue.frame) ?? clipStart(shot, clip) + cue.frame;
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
