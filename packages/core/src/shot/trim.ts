import { wayOf } from '../placing';
import type { Curve } from '../time/curve';
import { freshName } from './create';
import { edit, type Edit } from './edit';
import { applyEdit } from './edits';
import type { Clip, Shot } from './schema';
import { clipStart, placedRange } from './when';

/*
 * Edits of a clip's ends on the shot's time. What is left out is counted in frames of the clip, so that a trim stays what it is when the speed changes.
 */

type Trims = { trimStart: number; trimEnd: number };
const trimsOf = (clip: Clip): Trims => ({
  trimStart: Math.round((clip.placed.values.trimStart ?? 0) as number),
  trimEnd: Math.round((clip.placed.values.trimEnd ?? 0) as number),
});
/** Backwards, the end of the clip plays first. */
const firstKey = (clip: Clip): keyof Trims => (clip.placed.values.direction === 'backwards' ? 'trimEnd' : 'trimStart');
const otherKey = (key: keyof Trims): keyof Trims => (key === 'trimStart' ? 'trimEnd' : 'trimStart');
const later = (curve: Curve, by: number): Curve => ({ points: curve.points.map((p) => ({ ...p, frame: p.frame - by })) });
const wayTo = (shot: Shot, clip: Clip, frames: number): number => wayOf(clip.placed.values, clip.placed.curves, frames, clip, shot.rate);

/** Lets a clip begin at another shot frame, with the picture that stands there now; earlier ones come back as far as there are any. */
export function trimClipStart(shot: Shot, id: string, to: number): Edit {
  const clip = shot.clips[id]!,
    key = firstKey(clip),
    trims = trimsOf(clip),
    left = clip.frames - 1 - trims[otherKey(key)],
    by = Math.round(wayTo(shot, clip, to - clipStart(shot, clip))),
    trim = Math.min(left, Math.max(0, trims[key] + by)),
    // Where there are no more frames, it begins as early as it can.
    step = wayTo(shot, clip, 1) || 1,
    moved = trim === trims[key] + by ? to - clipStart(shot, clip) : Math.round((trim - trims[key]) / step);
  return edit('Trim clip', (s) => {
    const it = s.clips[id]!;
    it.placed.values[key] = trim;
    it.start = clip.start + moved;
    for (const [name, curve] of Object.entries(clip.placed.curves)) it.placed.curves[name] = later(curve, moved);
  });
}

/** Lets a clip end with what stands at a shot frame; later frames come back as far as there are any. */
export function trimClipEnd(shot: Shot, id: string, to: number): Edit {
  const clip = shot.clips[id]!,
    first = firstKey(clip),
    trims = trimsOf(clip),
    played = Math.max(1, Math.ceil(wayTo(shot, clip, to - clipStart(shot, clip) + 1) - 1e-9)),
    trim = Math.max(0, Math.min(clip.frames - 1 - trims[first], clip.frames - trims[first] - played));
  return edit('Trim clip', (s) => {
    s.clips[id]!.placed.values[otherKey(first)] = trim;
  });
}

/** Shows earlier (below 0) or later frames of a clip in the same place on the shot's time, as far as it was trimmed. */
export function slipClip(shot: Shot, id: string, by: number): Edit {
  const clip = shot.clips[id]!,
    { trimStart, trimEnd } = trimsOf(clip),
    moved = Math.min(trimEnd, Math.max(-trimStart, Math.round(by)));
  return edit('Slip clip', (s) => {
    const { values } = s.clips[id]!.placed;
    values.trimStart = trimStart + moved;
    values.trimEnd = trimEnd - moved;
  });
}

/** Why a clip cannot be split at a shot frame, for people; null where it can. */
export function whyNotSplit(shot: Shot, clip: Clip, frame: number): string | null {
  const [first, last] = placedRange(shot, clip);
  if (clip.frames === 1) return 'A still has no frames to split between.';
  if (last === null) return 'What goes round for ever has no end to split it from; choose another playback.';
  return frame <= first || frame > last ? `Go to a frame between ${first + 1} and ${last}, where it plays.` : null;
}

/**
 * Splits a clip before a shot frame: from there on a part of its own stands in its place, which can be moved, slipped, retimed and placed for itself.
 * What was measured and drawn on the clip stays on both.
 * @param part the id of the new part.
 */
export function splitClip(shot: Shot, id: string, frame: number, part: string): Edit {
  const clip = shot.clips[id]!,
    before = applyEdit(shot, trimClipEnd(shot, id, frame - 1)).shot.clips[id]!,
    after = applyEdit(shot, trimClipStart(shot, id, frame)).shot.clips[id]!,
    // There is one performance and one clean plate.
    role = clip.role === 'performance' || clip.role === 'clean' ? 'element' : clip.role;
  return edit('Split clip', (s) => {
    s.clips[id] = before;
    s.clips[part] = { ...after, id: part, role, name: freshName(s.clips, clip.name), continues: clip.continues ?? id };
  });
}
